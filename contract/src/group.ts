import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

/** As core/themes/group-themes has them. */
export const groupMethods = ['lead', 'pairs'] as const
export type GroupMethod = (typeof groupMethods)[number]
/** What themes are made by: shared results, shared words, or given with the keywords. */
export const groupBases = ['results', 'words', 'given'] as const
export type GroupBasis = (typeof groupBases)[number]
export const searchesFrom = ['known', 'file', 'none'] as const
const threshold = z.coerce.number().int().min(1).max(9)
const method = z.enum(groupMethods)
const name = z.string().trim().min(1, 'It needs a name').max(200)
/** More at a time than anybody groups, and as many as one answer can carry. */
export const mostGrouped = 200_000

const site = { siteId: id }
const inMarket = { ...site, marketId: id }
const one = { ...site, groupingId: id }
/** A choice that is looked at before it is made; without it the themes as they are kept. */
const choice = { threshold: threshold.optional(), method: method.optional() }

/** Which keywords are grouped. `plan` and `log` bring the themes along: pages of the plan, own pages of the query log. */
export const groupSource = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('kept') }),
  z.object({ kind: z.literal('list'), listId: id }),
  z.object({ kind: z.literal('gathering'), gatheringId: id }),
  z.object({
    kind: z.literal('rows'),
    keywordIds: z
      .array(id)
      .min(1)
      .max(mostGrouped, `At most ${mostGrouped.toLocaleString('en')} keywords at a time`),
  }),
  z.object({ kind: z.literal('pasted'), text: z.string().max(2_000_000) }),
  z.object({ kind: z.literal('plan') }),
  z.object({ kind: z.literal('log') }),
])
export type GroupSource = z.infer<typeof groupSource>

/**
 * A kept grouping. `alone`: keywords in no theme, those `withoutResults` (no result page was fetched for them) left out. `source`: where its
 * keywords came from, in words. `groupedAt` null: its themes are not made yet.
 */
export const grouping = z.object({
  id: z.number(),
  marketId: z.number(),
  name: z.string(),
  source: z.string(),
  basis: z.enum(groupBases),
  /** Shared pages of ten. */
  threshold: z.number(),
  method,
  /** How many of the first results are compared. */
  compared: z.number(),
  searchesFrom: z.enum(searchesFrom),
  oldestDays: z.number(),
  leftOut: z.array(z.string()),
  current: z.boolean(),
  createdAt: z.string(),
  groupedAt: z.string().nullable(),
  jobId: z.number().nullable(),
  jobState: z.string().nullable(),
  keywords: z.number(),
  themes: z.number(),
  grouped: z.number(),
  version: z.number(),
})
export type Grouping = z.infer<typeof grouping>

export const listGroupings = endpoint({
  summary: 'Groupings of keywords in a market',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings',
  input: z.object(inMarket),
  output: z.array(grouping),
  oldBy: ['themes', 'job'],
})
/** Of twenty, the noise of the engine's order weighs less than of ten. */
const compared = z.union([z.literal(10), z.literal(20)]).default(20)
const toGroup = {
  ...inMarket,
  from: groupSource,
  /** Results older than so many days are fetched again; 0: those that are known are taken as they are, and missing ones fetched. */
  oldestDays: z.number().int().min(0).max(3_650).default(30),
}
/** `requests`: result pages that would be fetched, one each; `withoutSearches`: keywords whose searches are not known. */
export const countToGroup = endpoint({
  summary: 'What grouping keywords would take',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/cost',
  input: z.object({ ...toGroup, compared }),
  output: z.object({
    keywords: z.number(),
    requests: z.number(),
    withoutSearches: z.number(),
    mostADay: z.number().nullable(),
  }),
})
export const createGrouping = endpoint({
  summary: 'Group keywords',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings',
  input: z.object({
    ...toGroup,
    name: name.optional(),
    basis: z.enum(groupBases).default('results'),
    compared,
    /** `ask`: searches that are not known are asked for first. `none`: the lead is then the keyword that shares most pages. */
    searches: z.enum(['known', 'ask', 'none']).default('known'),
  }),
  output: z.object({ groupingId: z.number(), jobId: z.number() }),
})
export const changeGrouping = endpoint({
  summary: 'Rename a grouping, make it current, or leave pages out',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/groupings/:groupingId',
  input: z.object({
    ...one,
    name: name.optional(),
    current: z.literal(true).optional(),
    leftOut: z.array(text(253)).max(200).optional(),
  }),
  output: acted,
})
export const removeGrouping = endpoint({
  summary: 'Remove a grouping',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/groupings/:groupingId',
  input: z.object(one),
  output: acted,
})
/** Fetches what results are missing, older than the days given, or failed, then makes the themes again. */
export const refreshGrouping = endpoint({
  summary: 'Fetch results of a grouping and group again',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/:groupingId/run',
  input: z.object({ ...one, oldestDays: z.number().int().min(0).max(3_650) }),
  output: z.object({ jobId: z.number() }),
})
/** Makes the themes by a threshold and method, or by shared words; what was done by hand is kept. */
export const chooseThemes = endpoint({
  summary: 'Group by a threshold and method',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/:groupingId/themes',
  input: z.object({ ...one, threshold, method, basis: z.enum(['results', 'words']).default('results') }),
  output: acted.extend({ themes: z.number() }),
})

const preview = z.object({
  threshold: z.number(),
  method,
  possible: z.boolean(),
  themes: z.number(),
  grouped: z.number(),
  searches: z.number().nullable(),
  largest: z.number(),
  steadiness: z.number().nullable(),
})
export type Preview = z.infer<typeof preview>
/**
 * `withoutResults`: keywords of which no result page is known; `failed`: those of them of which fetching failed in the last run.
 * `proposed`: threshold by method; null where nothing can be joined. `common`: sites whose pages many keywords show, with their share.
 */
export const readGrouping = endpoint({
  summary: 'A grouping, and what thresholds would make of it',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId',
  input: z.object(one),
  output: z.object({
    grouping,
    previews: z.array(preview),
    proposed: z.object({ lead: z.number().nullable(), pairs: z.number().nullable() }),
    withoutResults: z.number(),
    searches: z.number().nullable(),
    searchesUnknown: z.number(),
    searchesGrouped: z.number().nullable(),
    oldest: z.string().nullable(),
    newest: z.string().nullable(),
    common: z.array(z.object({ domain: z.string(), share: z.number() })),
    competing: z.number(),
  }),
  oldBy: ['themes', 'keywords', 'positions', 'job'],
})

/**
 * A theme, or (`id` below 0) one that a choice would make anew. Sums go over keywords whose figure is known, forms of one keyword once.
 * `together`: mean pages that its keywords share with the lead. `intents`: share of its searches (of its keywords where none are known) by
 * intent. `ownPage`: the own page that brings most of it today, `ownPosition` its best position, `competing` how many own pages fight for it.
 * `planned`: the page of the plan on which most of its keywords stand.
 */
export const themeRow = z.object({
  id: z.number(),
  leadId: z.number(),
  lead: z.string(),
  name: z.string().nullable(),
  keywords: z.number(),
  searches: z.number().nullable(),
  searchesUnknown: z.number(),
  together: z.number().nullable(),
  difficultyFrom: z.number().nullable(),
  difficultyTo: z.number().nullable(),
  chance: z.number().nullable(),
  cpc: z.number().nullable(),
  intents: z.array(z.number()),
  intent: z.string(),
  visits: z.number().nullable(),
  visitsUnknown: z.number(),
  ownPage: z.string().nullable(),
  ownPosition: z.number().nullable(),
  competing: z.number(),
  planned: z.string().nullable(),
  plannedId: z.number().nullable(),
  onPlan: z.number(),
  tracked: z.number(),
  byHand: z.number(),
  locked: z.boolean(),
})
export type ThemeRow = z.infer<typeof themeRow>
export const listThemes = endpoint({
  summary: 'Themes of a grouping, as kept or as a choice would make them',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/themes',
  input: z.object({ ...one, ...choice }),
  output: z.object({ rows: z.array(themeRow), kept: z.boolean() }),
  oldBy: ['themes', 'keywords', 'plan', 'positions', 'job'],
})

/** `strip`: for each of the lead's first results whether the keyword shows the same page. `shared`: pages of ten that both show; null: no result page is known of it. */
export const themeMember = z.object({
  id: z.number(),
  phrase: z.string(),
  strip: z.array(z.boolean()),
  shared: z.number().nullable(),
  searches: z.number().nullable(),
  /** Whether the searches are those that the query log shows at the least, since the ads data knows none. */
  hidden: z.boolean(),
  own: z.number().nullable(),
  ownPage: z.string().nullable(),
  byHand: z.boolean(),
  kept: z.boolean(),
  tracked: z.boolean(),
  planned: z.string().nullable(),
})
/**
 * `results`: the lead's first results, with `rival` where the site is one and `own` for the own site. `marked`: words that engines mark in
 * results of its keywords, with of how many keywords; `questions`: those shown on their first pages; both of weighed keywords only.
 */
export const readTheme = endpoint({
  summary: 'A theme with its keywords and the results of its lead',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/theme',
  input: z.object({ ...one, ...choice, lead: id }),
  output: z.object({
    members: z.array(themeMember),
    results: z.array(z.object({ url: z.string(), domain: z.string(), own: z.boolean(), rival: z.boolean() })),
    resultsDay: z.string().nullable(),
    marked: z.array(z.object({ word: z.string(), keywords: z.number() })),
    questions: z.array(z.object({ question: z.string(), keywords: z.number() })),
    proposal: z.object({
      kind: z.enum(['planned', 'own', 'new']),
      pageId: z.number().nullable(),
      title: z.string(),
      address: z.string().nullable(),
      why: z.string(),
    }),
  }),
  oldBy: ['themes', 'keywords', 'plan', 'positions', 'job'],
})

/** A keyword of a grouping. `nearest`: the theme besides its own whose lead shares most pages with it, `nearestShared` how many. */
export const groupedKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  themeId: z.number().nullable(),
  theme: z.string().nullable(),
  /** The keyword that leads its theme. */
  lead: z.string().nullable(),
  isLead: z.boolean(),
  shared: z.number().nullable(),
  searches: z.number().nullable(),
  /** Equal for forms of one keyword, for which the ads data may have one figure of searches: sums count it once. */
  family: z.number(),
  own: z.number().nullable(),
  ownPage: z.string().nullable(),
  nearestId: z.number().nullable(),
  nearest: z.string().nullable(),
  nearestShared: z.number(),
  hasResults: z.boolean(),
  byHand: z.boolean(),
  planned: z.string().nullable(),
  kept: z.boolean(),
  tracked: z.boolean(),
})
export type GroupedKeyword = z.infer<typeof groupedKeyword>
export const listGroupedKeywords = endpoint({
  summary: 'Keywords of a grouping with their themes',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/keywords',
  input: z.object({ ...one, ...choice }),
  output: z.object({ rows: z.array(groupedKeyword), kept: z.boolean() }),
  oldBy: ['themes', 'keywords', 'plan', 'positions', 'job'],
})

/** Puts keywords by hand into a theme, into a new one (`themeId` null, `alone` false), or into none (`alone` true). */
export const moveToTheme = endpoint({
  summary: 'Put keywords into a theme by hand',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/:groupingId/moves',
  input: z.object({
    ...one,
    keywordIds: z.array(id).min(1).max(mostGrouped),
    themeId: id.nullable(),
    alone: z.boolean().default(false),
    name: name.optional(),
  }),
  output: acted.extend({ moved: z.number(), themeId: z.number().nullable() }),
})
export const mergeThemes = endpoint({
  summary: 'Merge themes into one',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/:groupingId/merges',
  input: z.object({ ...one, themeId: id, themeIds: z.array(id).min(1).max(10_000) }),
  output: acted.extend({ moved: z.number() }),
})
export const changeTheme = endpoint({
  summary: 'Rename a theme, choose its lead, or lock it',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/groupings/:groupingId/themes/:themeId',
  input: z.object({
    ...one,
    themeId: id,
    /** Empty: it is called as its lead again. */
    name: z.string().trim().max(200).optional(),
    leadId: id.optional(),
    locked: z.boolean().optional(),
  }),
  output: acted,
})

/** Puts themes on pages: each on the page proposed for it (one that ranks, else a planned one, else a new one). */
export const planThemes = endpoint({
  summary: 'Put themes on pages of the plan',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/groupings/:groupingId/plan',
  input: z.object({ ...one, themeIds: z.array(id).min(1).max(2_000) }),
  output: acted.extend({ pages: z.number(), fresh: z.number(), keywords: z.number(), takenOff: z.number() }),
})

/** Two own pages that fight for a theme. `keep` should have it; visits a month over the theme, null = unknown. */
export const competingRow = z.object({
  id: z.number(),
  themeId: z.number(),
  theme: z.string(),
  keep: z.string(),
  give: z.string(),
  keepLeads: z.array(z.string()),
  giveLeads: z.array(z.string()),
  keepVisits: z.number().nullable(),
  giveVisits: z.number().nullable(),
  keepPosition: z.number(),
  givePosition: z.number(),
  /** Where it was seen: on result pages, in the query log of the last 28 days it has, or both. */
  seen: z.enum(['results', 'log', 'both']),
})
export type CompetingRow = z.infer<typeof competingRow>
export const listCompeting = endpoint({
  summary: 'Own pages that compete for a theme',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/competing',
  input: z.object(one),
  output: z.object({ rows: z.array(competingRow), logged: z.string().nullable() }),
  oldBy: ['themes', 'keywords', 'positions', 'job'],
})

/**
 * What results say of the themes: `cohesion` the share of the pairs within that share enough pages; keywords that belong elsewhere (`better`)
 * or nowhere; themes that compete; `agreement` with what the program would make of it (adjusted Rand index).
 */
export const checkGrouping = endpoint({
  summary: 'Check the themes of a grouping against results',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/check',
  input: z.object({ ...one, threshold: threshold.optional() }),
  output: z.object({
    threshold: z.number(),
    agreement: z.number(),
    themes: z.array(
      z.object({ id: z.number(), theme: z.string(), keywords: z.number(), cohesion: z.number().nullable() }),
    ),
    misfits: z.array(
      z.object({
        id: z.number(),
        phrase: z.string(),
        theme: z.string(),
        inside: z.number(),
        betterId: z.number().nullable(),
        better: z.string().nullable(),
        there: z.number(),
      }),
    ),
    overlaps: z.array(
      z.object({
        aId: z.number(),
        a: z.string(),
        bId: z.number(),
        b: z.string(),
        pairs: z.number(),
        of: z.number(),
        pages: z.array(z.string()),
      }),
    ),
    withoutResults: z.number(),
  }),
  oldBy: ['themes', 'positions', 'job'],
})

/** What became of the themes of a grouping in another: `moved` keywords stand with others there; splits and merges with the counts. */
export const compareGroupings = endpoint({
  summary: 'Two groupings side by side',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/groupings/:groupingId/beside/:besideId',
  input: z.object({ ...one, besideId: id }),
  output: z.object({
    agreement: z.number(),
    both: z.number(),
    onlyHere: z.number(),
    onlyThere: z.number(),
    same: z.number(),
    split: z.array(
      z.object({ theme: z.string(), into: z.array(z.object({ theme: z.string(), keywords: z.number() })) }),
    ),
    merged: z.array(
      z.object({ theme: z.string(), from: z.array(z.object({ theme: z.string(), keywords: z.number() })) }),
    ),
    moved: z.array(z.object({ phrase: z.string(), here: z.string().nullable(), there: z.string().nullable() })),
    movedTotal: z.number(),
  }),
  oldBy: ['themes', 'job'],
})
