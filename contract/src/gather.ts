import { lackKinds } from '@dew-trail/core/results/what-lacks'
import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'
import { changedKeywords } from './sites.ts'

/** Ways from a phrase: completions, related. From a site or page: `page` its words, `rival` what it is found for and advertises on. From both: ads. */
export const phraseWays = ['completions', 'related'] as const
export const addressWays = ['page', 'rival'] as const
export const gatherWays = [...phraseWays, ...addressWays, 'ads'] as const
/** Other ways by which keywords come: `log` the own query log. */
export const allWays = [...gatherWays, 'log'] as const
export type GatherWay = (typeof gatherWays)[number]

/** What is typed into completions around a seed, group by group. */
export const completionGroups = ['plain', 'letters', 'questions', 'prepositions', 'comparisons'] as const
export type CompletionGroup = (typeof completionGroups)[number]

/** What a keyword must meet before it is stored. Unknown figures meet every threshold: unknown is not zero. */
export const gatherConditions = z.object({
  must: z.array(z.string().trim().min(1)).max(40).default([]),
  leaveOut: z.array(z.string().trim().min(1)).max(200).default([]),
  searches: z.number().min(0).nullable().default(null),
  cpc: z.number().min(0).nullable().default(null),
  wordsFrom: z.number().int().min(1).nullable().default(null),
  wordsTo: z.number().int().min(1).nullable().default(null),
})
export type GatherConditions = z.infer<typeof gatherConditions>

/**
 * A seed is a phrase, a site (clay.example) or a page (https://clay.example/wheels). It may carry words of its own: "pottery wheel +beginner
 * -used" must have "beginner" and leaves "used" out. Ways that do not fit a seed are passed over for it.
 */
export const startGathering = endpoint({
  summary: 'Gather keywords from seeds',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/gatherings',
  input: z.object({
    siteId: id,
    marketId: id,
    parentId: id.optional(),
    seeds: z
      .array(z.string().trim().min(1, 'A seed is empty').max(2_000, 'A seed may have 2,000 characters'))
      .min(1, 'Type a seed')
      .max(50, 'At most 50 seeds at a time'),
    ways: z
      .array(z.enum(gatherWays))
      .min(1, 'Choose a way to gather')
      .default([...gatherWays]),
    completions: z
      .array(z.enum(completionGroups))
      .min(1, 'Choose what is typed into completions')
      .default([...completionGroups]),
    conditions: gatherConditions.prefault({}),
    mostIdeas: z.number().int().min(10).max(50_000).default(5_000),
  }),
  output: z.object({ jobs: z.array(z.object({ gatheringId: z.number(), jobId: z.number() })) }),
})

export const gathering = z.object({
  id: z.number(),
  parentId: z.number().nullable(),
  seed: z.string(),
  marketId: z.number(),
  ways: z.array(z.enum(allWays)),
  found: z.number(),
  startedAt: z.string(),
  jobId: z.number().nullable(),
  state: z.string(),
  conditions: gatherConditions,
  /** Sources that had fewer results than were asked for: what was asked of whom, how many came, how many were wanted. */
  short: z.array(z.object({ what: z.string(), given: z.number(), requested: z.number() })),
  /** Keywords that were found but not stored, by the condition they did not meet. */
  dropped: z.record(z.string(), z.number()),
  pruned: z.boolean(),
  warnings: z.array(z.object({ what: z.string(), times: z.number() })),
})
export type Gathering = z.infer<typeof gathering>
export const listGatherings = endpoint({
  summary: 'Gatherings of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/gatherings',
  input: z.object({ siteId: id }),
  output: z.array(gathering),
  oldBy: ['gatherings', 'job'],
})

/** Takes a gathering and all that was gathered from it off the path, or puts it back. Its keywords that nothing else found are no longer shown. */
export const pruneGathering = endpoint({
  summary: 'Prune a gathering or put it back',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/gatherings/:gatheringId/prune',
  input: z.object({ siteId: id, gatheringId: id, pruned: z.boolean() }),
  output: acted.extend({ gatherings: z.number() }),
})

/** What searchers type after some words, while a seed is typed. `problem`: a source that failed; searches are then unknown, or phrases missing. */
export const suggestSeeds = endpoint({
  summary: 'Phrases that a seed may be completed to',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/seed-suggestions',
  input: z.object({ siteId: id, marketId: id, typed: z.string().trim().min(2).max(80) }),
  output: z.object({
    phrases: z.array(z.object({ phrase: z.string(), searches: z.number().nullable() })),
    problem: z.string().nullable(),
  }),
  oldBy: [],
})

const nameEnding = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^\.?[a-z0-9-]+(\.[a-z0-9-]+)*$/, 'An ending looks like .example')

/** Asks an engine how many pages have keywords in their text and in their titles, in a job: two requests a keyword. */
export const askCounts = endpoint({
  summary: 'Ask an engine how many pages have keywords',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/result-counts',
  input: z.object({ siteId: id, marketId: id, keywordIds: z.array(id).min(1).max(50_000) }),
  output: z.object({ jobId: z.number() }),
})

/**
 * Starts a job that asks the registry whether the exact-match domain names of keywords are free; names answered within a month are left
 * out.
 */
export const askNames = endpoint({
  summary: 'Ask the registry about domain names',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/domain-names',
  input: z.object({
    siteId: id,
    keywordIds: z.array(id).min(1).max(50_000),
    endings: z.array(nameEnding).min(1, 'Name an ending').max(10),
  }),
  output: z.object({ jobId: z.number() }),
})
/**
 * Exact-match domain names of keywords under some endings, with what the registry said of them; `free` null: it was not asked or did not
 * answer. Keywords that make no name are left out.
 */
export const listNames = endpoint({
  summary: 'Domain names of keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/domain-names/known',
  input: z.object({
    siteId: id,
    keywordIds: z.array(id).min(1).max(20),
    endings: z.array(nameEnding).min(1, 'Name an ending').max(10),
  }),
  output: z.array(z.object({ keywordId: z.number(), name: z.string(), free: z.boolean().nullable() })),
  oldBy: ['keywords'],
})

export const keepKeywords = endpoint({
  summary: 'Keep keywords or let them go',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/keep',
  input: z.object({ siteId: id, keywordIds: z.array(id).min(1).max(600_000), kept: z.boolean() }),
  output: changedKeywords,
})
/** Keeps phrases, those that the site does not have yet as new keywords, whose figures are then asked for. */
export const keepPhrases = endpoint({
  summary: 'Keep phrases as keywords',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/keep-phrases',
  input: z.object({
    siteId: id,
    marketId: id,
    phrases: z.array(z.string().trim().min(1).max(200)).min(1).max(2_000),
  }),
  output: changedKeywords,
})

/**
 * `family` is a number that all members of a family share, `figures` one that those share for which the ads data may have one figure. `brand`: own, rival or none. `hidden`: the ads data knows nothing while
 * the own log shows searches. `lists`: ids of shortlists. `labels`: names of labels. `theme`: in the market's current grouping. `resultsOn`: day of the latest results, by which positions of what is not tracked are told. `pruned`: found only by gatherings that were taken off the path.
 * Rows of the site's keywords changed since a revision, as lines of JSON: batches column by column (`null` = unknown), then one line
 * with the revision reached. A keyword may come twice: the later line counts. The shape is `core`'s Batch; both sides name its columns here.
 */
export const keywordColumns = [
  { key: 'phrase', kind: 'text' },
  { key: 'kind', kind: 'code' },
  { key: 'intent', kind: 'code' },
  { key: 'intentShare', kind: 'number' },
  { key: 'words', kind: 'number' },
  { key: 'searches', kind: 'number' },
  { key: 'months', kind: 'series', length: 12 },
  { key: 'monthsEnd', kind: 'code' },
  { key: 'cpc', kind: 'number' },
  { key: 'bidLow', kind: 'number' },
  { key: 'bidHigh', kind: 'number' },
  { key: 'competition', kind: 'number' },
  { key: 'mobileShare', kind: 'number' },
  { key: 'worldwide', kind: 'number' },
  /** Searches by match; `matchFrom`: ads, or body where they are summed over the site's keywords, so at least. */
  { key: 'matchExact', kind: 'number' },
  { key: 'matchOrder', kind: 'number' },
  { key: 'matchAny', kind: 'number' },
  { key: 'orderShare', kind: 'number' },
  { key: 'matchFrom', kind: 'code' },
  { key: 'demandState', kind: 'code' },
  { key: 'demandDate', kind: 'code' },
  { key: 'demandSource', kind: 'code' },
  /** "source|date" of a figure where it is not that of the searches. */
  { key: 'cpcFrom', kind: 'code' },
  { key: 'competitionFrom', kind: 'code' },
  { key: 'gatherings', kind: 'code' },
  { key: 'cameFrom', kind: 'code' },
  { key: 'kept', kind: 'flag' },
  { key: 'difficulty', kind: 'number' },
  { key: 'chance', kind: 'number' },
  /** Where a page of the site stands, chance, visits and worth are its own; those of a new page that fits are `new…`. */
  { key: 'pagePosition', kind: 'number' },
  { key: 'pageHigher', kind: 'number' },
  /** How many results the engine says it has. */
  { key: 'reported', kind: 'number' },
  /** How many pages it says have the keyword in their text, and in their titles. */
  { key: 'countText', kind: 'number' },
  { key: 'countTitle', kind: 'number' },
  { key: 'newChance', kind: 'number' },
  { key: 'newVisits', kind: 'number' },
  { key: 'newWorth', kind: 'number' },
  ...lackKinds.map(kind => ({ key: `lack_${kind}`, kind: 'number' as const })),
  { key: 'likelyFrom', kind: 'number' },
  { key: 'likelyTo', kind: 'number' },
  { key: 'terrain', kind: 'series', length: 10 },
  { key: 'ownLevel', kind: 'number' },
  { key: 'visits', kind: 'number' },
  { key: 'worth', kind: 'number' },
  /** Where it stood first; of hidden demand from the log's searches, so at least. */
  { key: 'visitsFirst', kind: 'number' },
  { key: 'worthFirst', kind: 'number' },
  /** Shares of searches with a click on a result, on an advertisement, and without either: estimates. */
  { key: 'organicShare', kind: 'number' },
  { key: 'paidShare', kind: 'number' },
  { key: 'noClickShare', kind: 'number' },
  /** The best rival on the weighed result page. */
  { key: 'rivalPosition', kind: 'number' },
  { key: 'rival', kind: 'code' },
  { key: 'weighState', kind: 'code' },
  { key: 'weighedOn', kind: 'code' },
  { key: 'position', kind: 'number' },
  { key: 'positionState', kind: 'code' },
  { key: 'page', kind: 'code' },
  { key: 'tracked', kind: 'flag' },
  { key: 'family', kind: 'number' },
  { key: 'figures', kind: 'number' },
  { key: 'trend', kind: 'code' },
  { key: 'yearly', kind: 'number' },
  { key: 'season', kind: 'number' },
  { key: 'peaks', kind: 'code' },
  { key: 'rounded', kind: 'code' },
  { key: 'searchesLow', kind: 'number' },
  { key: 'searchesHigh', kind: 'number' },
  { key: 'brand', kind: 'code' },
  { key: 'hidden', kind: 'flag' },
  { key: 'logSearches', kind: 'number' },
  { key: 'logImpressions', kind: 'number' },
  { key: 'logClicks', kind: 'number' },
  { key: 'logPosition', kind: 'number' },
  { key: 'pruned', kind: 'flag' },
  /** The click curve of its visits: default, fitted (from the query log) or set (by the owner). */
  { key: 'clickCurve', kind: 'code' },
  /** Exact-match domain names that the registry has no entry for, and how many; null where it was not asked. */
  { key: 'freeNames', kind: 'number' },
  { key: 'names', kind: 'code' },
  { key: 'lists', kind: 'code' },
  { key: 'labels', kind: 'code' },
  { key: 'theme', kind: 'code' },
  { key: 'resultsOn', kind: 'code' },
] as const
export const keywordRowsPath = (siteId: number, marketId: number, since: number): string =>
  `/api/sites/${siteId}/keywords?marketId=${marketId}&since=${since}`
export const keywordRowsQuery = z.object({ siteId: id, marketId: id, since: z.coerce.number().int().min(0).default(0) })

/** Up to eight phrases of the site that contain a text, most searched first. */
export const findPhrases = endpoint({
  summary: 'Keywords that contain a text',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/phrases',
  input: z.object({ siteId: id, marketId: id, text: z.string().min(1).max(200) }),
  output: z.array(z.string()),
})

/** Asks the ads data for figures of the given keywords, even those it had nothing about before. */
export const askFigures = endpoint({
  summary: 'Ask the ads data for figures',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/figures',
  input: z.object({ siteId: id, marketId: id, keywordIds: z.array(id).min(1).max(50_000) }),
  output: z.object({ jobId: z.number() }),
})
