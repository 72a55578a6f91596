import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './sites.ts'

export const gatherWays = ['completions', 'related', 'ads'] as const
/** Other ways by which keywords come: `log` the own query log. */
export const allWays = [...gatherWays, 'log'] as const
export type GatherWay = (typeof gatherWays)[number]

export const startGathering = endpoint({
  method: 'POST',
  path: '/api/sites/:siteId/gatherings',
  input: z.object({
    siteId: id,
    marketId: id,
    parentId: id.optional(),
    seeds: z
      .array(z.string().trim().min(1, 'A seed is empty').max(200, 'A seed may have 200 characters'))
      .min(1, 'Type a seed')
      .max(50, 'At most 50 seeds at a time'),
    ways: z
      .array(z.enum(gatherWays))
      .min(1, 'Choose a way to gather')
      .default([...gatherWays]),
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
  trouble: z.array(z.object({ what: z.string(), times: z.number() })),
})
export type Gathering = z.infer<typeof gathering>
export const listGatherings = endpoint({
  method: 'GET',
  path: '/api/sites/:siteId/gatherings',
  input: z.object({ siteId: id }),
  output: z.array(gathering),
})

export const keepKeywords = endpoint({
  method: 'POST',
  path: '/api/sites/:siteId/keep',
  input: z.object({ siteId: id, keywordIds: z.array(id).min(1).max(600_000), kept: z.boolean() }),
  output: z.object({ changed: z.number() }),
})

/**
 * `family` is a number that all members of a family share. `brand`: own, rival or none. `hidden`: the ads data knows nothing while
 * the own log shows searches. `lists`: ids of shortlists. `pruned`: found only by gatherings that were taken off the path.
 * Rows of the site's keywords changed since a revision, as lines of JSON: batches column by column (`null` = unknown), then one line
 * with the revision reached. The shape is `core`'s Batch; both sides name its columns here.
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
  { key: 'demandState', kind: 'code' },
  { key: 'demandDate', kind: 'code' },
  { key: 'demandSource', kind: 'code' },
  { key: 'gatherings', kind: 'code' },
  { key: 'cameFrom', kind: 'code' },
  { key: 'kept', kind: 'flag' },
  { key: 'difficulty', kind: 'number' },
  { key: 'chance', kind: 'number' },
  { key: 'likelyFrom', kind: 'number' },
  { key: 'likelyTo', kind: 'number' },
  { key: 'terrain', kind: 'series', length: 10 },
  { key: 'ownLevel', kind: 'number' },
  { key: 'visits', kind: 'number' },
  { key: 'worth', kind: 'number' },
  { key: 'weighState', kind: 'code' },
  { key: 'weighedOn', kind: 'code' },
  { key: 'position', kind: 'number' },
  { key: 'positionState', kind: 'code' },
  { key: 'page', kind: 'code' },
  { key: 'tracked', kind: 'flag' },
  { key: 'family', kind: 'number' },
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
  { key: 'lists', kind: 'code' },
] as const
export const keywordRowsPath = (siteId: number, marketId: number, since: number): string =>
  `/api/sites/${siteId}/keywords?marketId=${marketId}&since=${since}`
export const keywordRowsQuery = z.object({ siteId: id, marketId: id, since: z.coerce.number().int().min(0).default(0) })

/** Up to eight phrases of the site that contain a text, most searched first. */
export const findPhrases = endpoint({
  method: 'GET',
  path: '/api/sites/:siteId/phrases',
  input: z.object({ siteId: id, marketId: id, text: z.string().min(1).max(200) }),
  output: z.array(z.string()),
})

/** Asks the ads data for figures of the given keywords, even those it had nothing about before. */
export const askFigures = endpoint({
  method: 'POST',
  path: '/api/sites/:siteId/figures',
  input: z.object({ siteId: id, marketId: id, keywordIds: z.array(id).min(1).max(50_000) }),
  output: z.object({ jobId: z.number() }),
})
