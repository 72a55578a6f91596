import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { acted } from './acts.ts'
import { day, id, text } from './common.ts'
import { rhythm } from './schedules.ts'
import { changedKeywords, domain, market } from './sites.ts'

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
export const positionValue = z.number().int()
/** Lists of them by the thousand: one look at each, since a schema a value took a tenth of a second for ten thousand rows. */
const positionValues = z
  .custom<number[]>(value => Array.isArray(value) && value.every(Number.isInteger), 'is no list of whole numbers')
  .meta({ type: 'array', items: { type: 'integer' } })
export const trackedRow = z.object({
  id: z.number(),
  phrase: z.string(),
  /** Equal for forms of one keyword, for which the ads data may have one figure of searches: sums count it once. */
  family: z.number(),
  searches: z.number().nullable(),
  /** Whether the searches are those that the query log shows at the least, since the ads data knows none. */
  hidden: z.boolean(),
  /** The last known position and its day; 0 and null where it was never checked. */
  now: positionValue,
  nowDay: z.string().nullable(),
  /** What it was so many days before that day, by the last check up to then. */
  before: positionValue,
  beforeDay: z.string().nullable(),
  best: z.number().nullable(),
  recent: positionValues,
  visits: z.number().nullable(),
  page: z.string().nullable(),
  pageBefore: z.string().nullable(),
  /** In the current grouping of the market. */
  theme: z.string().nullable(),
  /** What the result page held besides results, and where in it the site stood: bits of core/positions/page-features; null = not told. */
  shown: z.number().nullable(),
  held: z.number().nullable(),
  /** From which day it is tracked. */
  trackedSince: z.string(),
  /** Names with "|" between them; null where it has none. */
  labels: z.string().nullable(),
  /** The page that the plan has for it, where another one is found. */
  planned: z.string().nullable(),
})
export type TrackedRow = z.infer<typeof trackedRow>

export const listPositions = endpoint({
  summary: 'Positions of tracked keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/positions',
  input: z.object({
    ...site,
    marketId: id,
    compareDays: z.coerce.number().int().min(1).max(400).default(7),
    /** Only so many rows, those at the best positions, so that a screen is full while the others come; all else is of all rows. */
    most: z.coerce.number().int().min(1).max(10_000).optional(),
  }),
  output: z.object({
    /** How many rows there are, with those that are not among them. */
    total: z.number(),
    lastDay: z.string().nullable(),
    beforeDay: z.string().nullable(),
    checkedAt: z.string().nullable(),
    /** How many of the rows were checked on the last day. */
    checked: z.number(),
    /** By the last known positions of `keywords`; `change` of those of them that were known before too, so like is compared with like. */
    visibility: z.object({ now: z.number().nullable(), change: z.number().nullable(), keywords: z.number() }),
    rows: z.array(trackedRow),
    /** Other markets of the language, each with the last known positions of the rows in their order and those so many days before. */
    others: z.array(z.object({ marketId: z.number(), now: positionValues, before: positionValues })),
    /** Rivals, read off the latest results of this market and those before. */
    rivals: z.array(z.object({ domain: z.string(), now: positionValues, before: positionValues })),
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
    markets: z.array(z.object({ marketId: z.number(), positions: z.array(positionValue) })),
    pages: z.array(z.object({ marketId: z.number(), day: z.string(), url: z.string().nullable() })),
  }),
  oldBy: ['positions'],
})
export type KeywordHistory = z.infer<(typeof keywordHistory)['output']>

/**
 * What an own page stood for day by day from `from` on: keywords for which it was found, and their visits a month at today's searches; null
 * where nothing was checked within eight days, or no searches are known.
 */
export const pageHistory = endpoint({
  summary: 'What an own page stood for by day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/markets/:marketId/page-history',
  input: z.object({
    siteId: id,
    marketId: id,
    page: z.string().min(1).max(2_000),
    days: z.coerce.number().int().min(7).max(800).default(180),
  }),
  output: z.object({
    from: z.string().nullable(),
    keywords: z.array(z.number().nullable()),
    visits: z.array(z.number().nullable()),
  }),
  oldBy: ['positions'],
})

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
/** Of the keywords of a theme or label: visits that all sites get, the own share of them, and who leads with what share. */
const voicePart = z.object({
  name: z.string(),
  keywords: z.number(),
  visits: z.number(),
  own: z.number(),
  leader: z.string(),
  leaderShare: z.number(),
})
export type VoicePart = z.infer<typeof voicePart>
/**
 * Who gets the visits of tracked keywords, by their latest results: the own site and those that get most beside it, and by theme and by
 * label the own share and who leads. `keywords`: with results and known searches; `left`: tracked ones without. `from`, `to`: days of the results.
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
    themes: z.array(voicePart),
    labels: z.array(voicePart),
  }),
  oldBy: ['positions', 'themes', 'keywords', 'job'],
})
/** Sites that somebody adds to those with most, with commas between them. */
export const mostAddedVoices = 5
const addedVoices = z
  .string()
  .max(1_500)
  .default('')
  .transform(text => text.split(',').filter(Boolean))
  .pipe(z.array(domain).max(mostAddedVoices))
/**
 * Shares of voice by day, as they were told after the checks of each or read off the pages kept: of the own site first, then of those with most
 * on the newest day, then of the added ones. `shares` are in the order of `days`; null where none is known. `kept`: from when result pages are
 * kept; null where none are.
 */
export const listVoiceDays = endpoint({
  summary: 'Share of voice by day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/voice-days',
  input: z.object({
    ...site,
    marketId: id,
    days: z.coerce.number().int().min(7).max(2_000).default(365),
    sites: addedVoices,
  }),
  output: z.object({
    kept: z.string().nullable(),
    days: z.array(z.string()),
    sites: z.array(z.object({ domain: z.string(), own: z.boolean(), shares: z.array(z.number().nullable()) })),
  }),
  oldBy: ['positions'],
})

/** Begins to read shares of voice of days gone by off the result pages that are kept: of the sites with most, and of those named. */
export const readKeptVoices = endpoint({
  summary: 'Read past shares of voice off kept pages',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/voice-days',
  input: z.object({ ...site, marketId: id, sites: z.array(domain).max(mostAddedVoices) }),
  output: z.object({ jobId: z.number() }),
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

/** Where keywords to track come from. `log`: those with clicks or impressions first. `rival`: those for which a site stands within 20. */
export const candidateSources = ['log', 'plan', 'themes', 'kept', 'rival'] as const
export type CandidateSource = (typeof candidateSources)[number]
/** Keywords that could be tracked, the most telling first, at most two thousand; `all` of how many. */
export const listCandidates = endpoint({
  summary: 'Keywords that could be tracked',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/track-candidates',
  input: z.object({ ...site, marketId: id, from: z.enum(candidateSources), of: text(253).optional() }),
  output: z.object({
    all: z.number(),
    keywords: z.array(
      z.object({
        phrase: z.string(),
        searches: z.number().nullable(),
        clicks: z.number().nullable(),
        position: z.number().nullable(),
        tracked: z.boolean(),
      }),
    ),
  }),
})
export type Candidate = z.infer<(typeof listCandidates)['output']>['keywords'][number]
/**
 * Tracks keywords by their phrases in chosen markets of one language, those that are not there yet are found thereby; gives them a label
 * where one is named, and checks the markets by a rhythm where one is given. `tracked`: how many are tracked otherwise than before.
 */
export const startTracking = endpoint({
  summary: 'Track keywords in chosen markets',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/tracking',
  input: z.object({
    ...site,
    marketIds: z.array(id).min(1, 'Choose a market').max(200),
    phrases: z.array(text(200).min(1)).min(1, 'Name a keyword').max(20_000, 'At most 20,000 at a time'),
    label: text(80)
      .regex(/^[^|]*$/, 'A name has no "|"')
      .optional(),
    rhythm: rhythm.optional(),
  }),
  output: acted.extend({ tracked: z.number(), made: z.number() }),
})

/**
 * What the kept result pages of a keyword tell by day: positions of rivals (accepted ones, else those within ten most often; at most
 * five), a value a day from `from` on as in a day vector, and the days that are kept, newest first.
 */
export const resultHistory = endpoint({
  summary: 'Rivals of a keyword by day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/keywords/:keywordId/result-history',
  input: z.object({
    ...site,
    keywordId: id,
    marketId: id,
    from: day,
    days: z.coerce.number().int().min(1).max(4_000),
  }),
  output: z.object({
    rivals: z.array(z.object({ domain: z.string(), positions: z.array(positionValue) })),
    kept: z.array(z.string()),
  }),
  oldBy: ['positions', 'rivals'],
})
/** The result page of a keyword as it was kept on a day, `depth` results deep. */
export const readKeptResults = endpoint({
  summary: 'Results of a keyword on a kept day',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/keywords/:keywordId/kept-results',
  input: z.object({ ...site, keywordId: id, marketId: id, day }),
  output: z.object({
    day: z.string(),
    depth: z.number(),
    results: z.array(
      z.object({ position: z.number(), domain: z.string().nullable(), url: z.string().nullable(), own: z.boolean() }),
    ),
  }),
})
