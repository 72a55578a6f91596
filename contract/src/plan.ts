import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { day, id } from './common.ts'

export const pageStates = ['idea', 'writing', 'published'] as const
export type PageState = (typeof pageStates)[number]
/**
 * What is to be done with a page: make it, leave it as it is (it only stands in the plan for what it answers), rework it, put it into
 * another, take it away.
 */
export const workKinds = ['new', 'keep', 'rework', 'merge', 'remove'] as const
export type WorkKind = (typeof workKinds)[number]
/** Where in a page a keyword should stand. */
export const keywordSpots = ['title', 'heading', 'text'] as const
export type KeywordSpot = (typeof keywordSpots)[number]
const title = z.string().trim().min(1, 'A page needs a name').max(200)
const address = z
  .string()
  .trim()
  .max(2_000)
  .regex(/^(\/|https?:\/\/)/, 'An address starts with / or http')
  .nullable()
const deadline = day.nullable()
/** Days of work, in halves. */
const effort = z
  .number()
  .min(0.5, 'At least half a day')
  .max(200, 'At most 200 days')
  .multipleOf(0.5, 'In half days')
  .nullable()
const owner = z.string().trim().max(100)
/** Where in the page the keywords should stand; left out, those that stand there already keep their place. */
const spot = z.enum(keywordSpots).nullable().optional()

export const planKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  searches: z.number().nullable(),
  /** Whether the searches are those that the query log shows at the least, since the ads data knows none. */
  hidden: z.boolean(),
  /** Searches by match: of exactly this wording, of phrases that hold it in its order, of phrases with its words in any; null = not told. */
  match: z.object({ exact: z.number().nullable(), inOrder: z.number().nullable(), anyOrder: z.number() }).nullable(),
  cpc: z.number().nullable(),
  difficulty: z.number().nullable(),
  chance: z.number().nullable(),
  visits: z.number().nullable(),
  tracked: z.boolean(),
  /** Where the site stands for it now, by the latest results, else the log; null = not within what is known. */
  position: z.number().nullable(),
  /** The own page that stands there. */
  standing: z.string().nullable(),
  visitsNow: z.number().nullable(),
  spot: z.enum(keywordSpots).nullable(),
  theme: z.string().nullable(),
})
/** A planning rule and whether a page meets it; null = not known. */
export const pageRule = z.object({
  rule: z.enum(['oneTheme', 'leadAndEasier', 'onePageOnly', 'rightPage']),
  met: z.boolean().nullable(),
  text: z.string(),
})
export type PageRule = z.infer<typeof pageRule>
/**
 * A planned page. Sums go over keywords whose figure is known, forms of one keyword once; `unknown…` says how many are not. `visitsNow`:
 * what the site gets from them now; `visits`: with the plan, never less than now but for a page that goes; `low` to `high` holds them in
 * eight of ten cases. `beside`: of these, what a new page can expect from other keywords than its own, as own pages get them. `gain`:
 * what the plan adds; `worth`: what that is worth a month. `byMonth`: visits with the plan by calendar month. `lead`: the first of its
 * keywords.
 */
export const plannedPage = z.object({
  id: z.number(),
  title: z.string(),
  address: z.string().nullable(),
  existing: z.boolean(),
  kind: z.enum(workKinds),
  /** The planned page into which it goes. */
  mergeInto: z.number().nullable(),
  effort: z.number().nullable(),
  owner: z.string(),
  notBefore: z.string().nullable(),
  mustBeIn: z.boolean(),
  deadline: z.string().nullable(),
  state: z.enum(pageStates),
  remarks: z.string(),
  publishedOn: z.string().nullable(),
  /** The day on which its work was last called published. */
  doneOn: z.string().nullable(),
  /** To be given with a change: one of an older version is refused. */
  version: z.number(),
  late: z.boolean(),
  searches: z.number().nullable(),
  searchesUnknown: z.number(),
  visits: z.number().nullable(),
  visitsUnknown: z.number(),
  visitsNow: z.number().nullable(),
  beside: z.number(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  gain: z.number().nullable(),
  worth: z.number().nullable(),
  byMonth: z.array(z.number()).nullable(),
  /** Calendar month (0–11) of its peak where one stands out, and the day by which it should be out for the next. */
  peak: z.number().nullable(),
  outBy: z.string().nullable(),
  position: z.number().nullable(),
  rules: z.array(pageRule),
  difficultyFrom: z.number().nullable(),
  difficultyTo: z.number().nullable(),
  cpc: z.number().nullable(),
  /** Of its keywords, by the current grouping of the market, those with most keywords on it first. */
  themes: z.array(z.string()),
  keywords: z.array(planKeyword),
})
export type PlannedPage = z.infer<typeof plannedPage>

const site = { siteId: id }
export const listPages = endpoint({
  summary: 'Planned pages',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/pages',
  input: z.object({ ...site, marketId: id, today: day }),
  output: z.array(plannedPage),
  oldBy: ['keywords', 'plan', 'themes'],
})
/** `takenOff`: how many of the keywords stood on another page before. */
const keywordsPut = acted.extend({ takenOff: z.number() })
export const createPage = endpoint({
  summary: 'Plan a page',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/pages',
  input: z.object({
    ...site,
    title,
    address: address.default(null),
    kind: z.enum(workKinds).default('new'),
    deadline: deadline.default(null),
    keywordIds: z.array(id).max(5_000).default([]),
    spot,
  }),
  output: keywordsPut.extend({ id: z.number() }),
})
export const changePage = endpoint({
  summary: 'Change a planned page',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/pages/:pageId',
  input: z.object({
    ...site,
    pageId: id,
    title: title.optional(),
    address: address.optional(),
    kind: z.enum(workKinds).optional(),
    mergeInto: id.nullable().optional(),
    effort: effort.optional(),
    owner: owner.optional(),
    notBefore: deadline.optional(),
    mustBeIn: z.boolean().optional(),
    deadline: deadline.optional(),
    state: z.enum(pageStates).optional(),
    remarks: z.string().max(10_000).optional(),
    /** The version that was seen when the change began; without one it counts in any case. */
    version: z.int().min(1).optional(),
  }),
  output: acted.extend({ id: z.number(), version: z.number() }),
})
export const removePage = endpoint({
  summary: 'Take a page off the plan',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/pages/:pageId',
  input: z.object({ ...site, pageId: id }),
  output: acted,
})
/** Puts keywords on a page; a keyword stands on one page, so it leaves the page it was on. `pageId` null takes them off. */
export const assignKeywords = endpoint({
  summary: 'Put keywords on a page',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/page-keywords',
  input: z.object({ ...site, pageId: id.nullable(), keywordIds: z.array(id).min(1).max(5_000), spot }),
  output: keywordsPut,
})
/** The order of a page's keywords: the first is the one that it is made for. Keywords that are not among those given come after them. */
export const orderKeywords = endpoint({
  summary: 'Order the keywords of a planned page',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/pages/:pageId/order',
  input: z.object({ ...site, pageId: id, keywordIds: z.array(id).min(1).max(5_000) }),
  output: acted,
})
/** Says where in their page keywords should stand; null = nowhere in particular. */
export const setKeywordSpot = endpoint({
  summary: 'Say where in a page keywords go',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/pages/:pageId/spots',
  input: z.object({
    ...site,
    pageId: id,
    keywordIds: z.array(id).min(1).max(5_000),
    spot: z.enum(keywordSpots).nullable(),
  }),
  output: acted,
})
