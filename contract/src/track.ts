import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'
import { changedKeywords, market } from './sites.ts'

const site = { siteId: id }
export const trackKeywords = endpoint({
  summary: 'Track keywords or stop it',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/tracked',
  input: z.object({ ...site, keywordIds: z.array(id).min(1).max(100_000), tracked: z.boolean() }),
  output: changedKeywords,
})
export const checkNow = endpoint({
  summary: 'Check positions now',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/checks',
  input: z.object({ ...site, keywordIds: z.array(id).max(100_000).optional() }),
  output: z.object({ jobId: z.number(), requests: z.number() }),
})

/** A day-vector value: above 0 the place, 0 not checked, below 0 not found within that depth. */
export const placeValue = z.number().int()
export const trackedRow = z.object({
  id: z.number(),
  phrase: z.string(),
  /** Equal for forms of one keyword, for which the ads data may have one figure of searches: sums count it once. */
  family: z.number(),
  searches: z.number().nullable(),
  /** The last known position and its day; 0 and null where it was never checked. */
  now: placeValue,
  nowDay: z.string().nullable(),
  /** What it was so many days before that day, by the last check up to then. */
  before: placeValue,
  beforeDay: z.string().nullable(),
  best: z.number().nullable(),
  recent: z.array(placeValue),
  other: z.record(z.string(), placeValue),
  visits: z.number().nullable(),
  page: z.string().nullable(),
  pageBefore: z.string().nullable(),
  /** In the current grouping of the market. */
  theme: z.string().nullable(),
})
export type TrackedRow = z.infer<typeof trackedRow>

export const listPositions = endpoint({
  summary: 'Positions of tracked keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/positions',
  input: z.object({ ...site, marketId: id, compareDays: z.coerce.number().int().min(1).max(400).default(7) }),
  output: z.object({
    lastDay: z.string().nullable(),
    beforeDay: z.string().nullable(),
    checkedAt: z.string().nullable(),
    /** How many of the rows were checked on the last day. */
    checked: z.number(),
    /** By the last known positions of `keywords`; `change` of those of them that were known before too, so like is compared with like. */
    visibility: z.object({ now: z.number().nullable(), change: z.number().nullable(), keywords: z.number() }),
    rows: z.array(trackedRow),
  }),
  oldBy: ['themes', 'positions'],
})
export const listVisibility = endpoint({
  summary: 'Visibility by day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/visibility',
  input: z.object({ ...site, marketId: id, days: z.coerce.number().int().min(7).max(2_000).default(90) }),
  output: z.array(
    z.object({
      day: z.string(),
      visibility: z.number().nullable(),
      top3: z.number(),
      top10: z.number(),
      top30: z.number(),
      beyond: z.number(),
      notFound: z.number(),
    }),
  ),
  oldBy: ['positions'],
})
export const keywordHistory = endpoint({
  summary: 'Positions of a keyword by day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/keywords/:keywordId/history',
  input: z.object({ ...site, keywordId: id, days: z.coerce.number().int().min(7).max(4_000).default(400) }),
  output: z.object({
    keywordId: z.number(),
    phrase: z.string(),
    from: z.string().nullable(),
    to: z.string().nullable(),
    markets: z.array(z.object({ marketId: z.number(), places: z.array(placeValue) })),
    pages: z.array(z.object({ marketId: z.number(), day: z.string(), url: z.string().nullable() })),
  }),
  oldBy: ['positions'],
})
export type KeywordHistory = z.infer<(typeof keywordHistory)['output']>

/**
 * Visits a month that a site gets from the latest results of tracked keywords, and what part of all that their first twenty give that is.
 */
const voice = z.object({
  domain: z.string(),
  own: z.boolean(),
  visits: z.number(),
  share: z.number(),
  /** Change of the share since the results before, over the keywords of which those are known; null where none are. */
  change: z.number().nullable(),
  within3: z.number(),
  within10: z.number(),
  within20: z.number(),
})
export type Voice = z.infer<typeof voice>
/**
 * Who gets the visits of tracked keywords, by their latest results: the own site and those that get most beside it, and by theme the own
 * share and who leads. `keywords`: with results and known searches; `left`: tracked ones without. `from`, `to`: days of the results.
 */
export const readVoices = endpoint({
  summary: 'Share of voice over tracked keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/voices',
  input: z.object({ ...site, marketId: id }),
  output: z.object({
    keywords: z.number(),
    left: z.number(),
    compared: z.number(),
    from: z.string().nullable(),
    to: z.string().nullable(),
    sites: z.array(voice),
    themes: z.array(
      z.object({
        theme: z.string(),
        keywords: z.number(),
        visits: z.number(),
        own: z.number(),
        leader: z.string(),
        leaderShare: z.number(),
      }),
    ),
  }),
  oldBy: ['positions', 'themes', 'keywords', 'job'],
})

/**
 * A market of a site at a glance, by the last known positions and those of the same keywords seven days before. `entered`, `left`:
 * keywords that came into the first ten, or left them, of those known both times. `look`: what needs a look.
 */
const glance = z.object({
  siteId: z.number(),
  name: z.string(),
  domain: z.string(),
  market,
  tracked: z.number(),
  day: z.string().nullable(),
  visibility: z.number().nullable(),
  change: z.number().nullable(),
  entered: z.number().nullable(),
  left: z.number().nullable(),
  look: z.array(z.string()),
})
export type Glance = z.infer<typeof glance>
export const listGlances = endpoint({
  summary: 'All sites at a glance',
  role: 'reader',
  errors: [],
  method: 'GET',
  path: '/api/glances',
  input: z.object({}),
  output: z.array(glance),
  oldBy: ['positions', 'sites', 'schedules', 'plan', 'job'],
})
