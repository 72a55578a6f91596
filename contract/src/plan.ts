import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { day, id } from './common.ts'

export const pageStates = ['idea', 'writing', 'published'] as const
export type PageState = (typeof pageStates)[number]
const title = z.string().trim().min(1, 'A page needs a name').max(200)
const address = z
  .string()
  .trim()
  .max(2_000)
  .regex(/^(\/|https?:\/\/)/, 'An address starts with / or http')
  .nullable()
const deadline = day.nullable()

export const planKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  searches: z.number().nullable(),
  difficulty: z.number().nullable(),
  chance: z.number().nullable(),
  visits: z.number().nullable(),
  tracked: z.boolean(),
})
/** A planned page. Sums go over keywords whose figure is known; `unknown…` says how many are not. */
export const plannedPage = z.object({
  id: z.number(),
  title: z.string(),
  address: z.string().nullable(),
  existing: z.boolean(),
  deadline: z.string().nullable(),
  state: z.enum(pageStates),
  remarks: z.string(),
  /** To be given with a change: one of an older version is refused. */
  version: z.number(),
  late: z.boolean(),
  searches: z.number().nullable(),
  searchesUnknown: z.number(),
  visits: z.number().nullable(),
  visitsUnknown: z.number(),
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
const placed = acted.extend({ takenOff: z.number() })
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
    existing: z.boolean().default(false),
    deadline: deadline.default(null),
    keywordIds: z.array(id).max(5_000).default([]),
  }),
  output: placed.extend({ id: z.number() }),
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
    existing: z.boolean().optional(),
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
  input: z.object({ ...site, pageId: id.nullable(), keywordIds: z.array(id).min(1).max(5_000) }),
  output: placed,
})
