import { mostSites } from '@dew-trail/core/rivals/regions'
import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { conditionTexts, sortText } from './tables.ts'
import { targetText as target } from './target.ts'

const inMarket = { siteId: id, marketId: id }
const onOne = z.object({ ...inMarket, target })
/** Rows of one target that are listed at most; a screen asks for few first and for all of these then. */
export const mostListed = 50_000
const most = z.coerce.number().int().min(1).max(mostListed).default(mostListed)

/** Of how many keywords results are known in a market, from which days, and how deep they go at most. */
export const coverage = z.object({
  keywords: z.number(),
  /** How many more the rankings feed covers, where it was loaded for one of the sites that are looked at; 0 where not. */
  fed: z.number(),
  /** Sites that are looked at for which the feed was not loaded: their figures are of fetched results alone. */
  notFed: z.array(z.string()),
  from: z.string().nullable(),
  to: z.string().nullable(),
  depth: z.number(),
  /** By who brought them: "engines" is what was fetched, "weekly" and "full" are editions of the rankings feed. */
  sources: z.array(z.object({ source: z.string(), keywords: z.number(), to: z.string() })),
})
export type Coverage = z.infer<typeof coverage>

/**
 * A site's search profile from known results. Keywords are counted by its best position. `visits`, `worth`: a month, over keywords whose
 * searches (and CPC) are known; `visitsUnknown` says how many are not. `brandShare`: of the visits, those by keywords that name it.
 */
export const rivalProfile = z.object({
  target: z.string(),
  kind: z.enum(['site', 'host', 'folder', 'page']),
  domain: z.string(),
  own: z.boolean(),
  within: z.object({ 1: z.number(), 3: z.number(), 10: z.number(), 30: z.number(), 100: z.number() }),
  visits: z.number().nullable(),
  visitsUnknown: z.number(),
  worth: z.number().nullable(),
  worthUnknown: z.number(),
  brandShare: z.number().nullable(),
  /** Words in the keywords that bring it most, by searches; `searches`: of those keywords, summed. */
  subjects: z.array(z.object({ word: z.string(), searches: z.number() })),
  pages: z.number(),
  /** Over keywords whose results before the latest are known; null where there are none. */
  entered: z.number().nullable(),
  left: z.number().nullable(),
  standing: z.number().nullable(),
  linkingSites: z.number().nullable(),
  /** What its site advertises on in the newest month that the ads data was asked for; null where nobody asked. */
  paid: z
    .object({
      month: z.string(),
      keywords: z.number(),
      spend: z.number(),
      most: z.array(z.object({ phrase: z.string(), spend: z.number() })),
    })
    .nullable(),
})
export type RivalProfile = z.infer<typeof rivalProfile>

export const readRivalProfiles = endpoint({
  summary: 'Search profiles of sites, hosts, folders or pages',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/profiles',
  input: z.object({ ...inMarket, targets: z.array(target).min(1).max(mostSites) }),
  output: z.object({ profiles: z.array(rivalProfile), coverage }),
  oldBy: ['positions', 'keywords', 'job'],
})

/** What a first page shows besides results. */
export const pageFeatures = ['answer', 'questions', 'images', 'shopping', 'map', 'ads'] as const
export type PageFeature = (typeof pageFeatures)[number]
/** A keyword for which a target stands, or stood before (`now` null). `visitsShare`, `worthShare`: of the target's sums. */
export const rankedKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  now: z.number().nullable(),
  before: z.number().nullable(),
  /** Equal for forms of one keyword, for which the ads data may have one figure of searches: sums count it once. */
  family: z.number(),
  /** It did not stand in the results before these, which are known. */
  entered: z.boolean(),
  page: z.string(),
  /** How many of its pages stand within twenty. */
  pages: z.number(),
  searches: z.number().nullable(),
  cpc: z.number().nullable(),
  visits: z.number().nullable(),
  visitsShare: z.number().nullable(),
  worth: z.number().nullable(),
  worthShare: z.number().nullable(),
  own: z.number().nullable(),
  difficulty: z.number().nullable(),
  chance: z.number().nullable(),
  brand: z.boolean(),
  /** How many results the engine reports for it, roughly; null where its page was not weighed. */
  results: z.number().nullable(),
  /** What its first page shows besides results, and in which of these the target's site is shown; null where its page was not weighed. */
  features: z.array(z.enum(pageFeatures)).nullable(),
  held: z.array(z.enum(pageFeatures)).nullable(),
  /** The own site stands for it, yet its query log does not name it; null for other sites, and where no log is loaded. */
  withheld: z.boolean().nullable(),
  kept: z.boolean(),
  tracked: z.boolean(),
  /** Told by the rankings feed alone. A negative id is of a keyword that nobody gathered yet. */
  fed: z.boolean(),
})
export type RankedKeyword = z.infer<typeof rankedKeyword>
export const listRankedKeywords = endpoint({
  summary: 'Keywords for which a target stands',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/rivals/keywords',
  input: onOne.extend({
    most,
    /** Conditions and order of the columns of `rankedTable`; without an order those that bring most come first. */
    where: conditionTexts,
    sort: sortText,
  }),
  output: z.object({
    /** The first `most` of those that meet the conditions; `met`: how many do, `total`: how many there are. The sums go over all. */
    rows: z.array(rankedKeyword),
    target: z.string(),
    met: z.number(),
    total: z.number(),
    visits: z.number().nullable(),
    worth: z.number().nullable(),
    coverage,
  }),
  oldBy: ['positions', 'keywords', 'job'],
})

/**
 * A keyword that a target's site pays for: `position` of its advertisement, `spend` on it in the month, where the site `stands` among the
 * results and where the `own` one does. A negative id is of a keyword that nobody gathered yet.
 */
export const paidKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  position: z.number(),
  spend: z.number(),
  spendShare: z.number().nullable(),
  searches: z.number().nullable(),
  cpc: z.number().nullable(),
  bidLow: z.number().nullable(),
  bidHigh: z.number().nullable(),
  stands: z.number().nullable(),
  own: z.number().nullable(),
  kept: z.boolean(),
  tracked: z.boolean(),
})
export type PaidKeyword = z.infer<typeof paidKeyword>
export const listPaidKeywords = endpoint({
  summary: 'Keywords that a site pays for',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/rivals/paid',
  input: onOne,
  output: z.object({
    /** The 50,000 it spends most on; `total`: of how many. `month` null: nobody asked the ads data about the site. */
    rows: z.array(paidKeyword),
    total: z.number(),
    spend: z.number(),
    month: z.string().nullable(),
    domain: z.string(),
  }),
  oldBy: ['positions', 'keywords', 'rivals', 'job'],
})

/** A page that stands for keywords. `next`: what to do about an own page, with the reason; null for others and where nothing is wanted. */
export const landingPage = z.object({
  id: z.number(),
  url: z.string(),
  keywords: z.number(),
  within10: z.number(),
  visits: z.number().nullable(),
  visitsUnknown: z.number(),
  worth: z.number().nullable(),
  top: z.string(),
  topPosition: z.number(),
  linkingSites: z.number().nullable(),
  /** Of the page as the crawler read it last: words of its text, and when; null where it was not read. */
  words: z.number().nullable(),
  readOn: z.string().nullable(),
  planned: z.string().nullable(),
  next: z.string().nullable(),
  why: z.string().nullable(),
})
export type LandingPage = z.infer<typeof landingPage>
export const listLandingPages = endpoint({
  summary: 'Pages of a target that stand for keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/rivals/pages',
  input: onOne.extend({ most }),
  /** The first `most` in order: own ones that want something, then by visits. `total`: of how many. */
  output: z.object({ rows: z.array(landingPage), total: z.number(), coverage }),
  oldBy: ['positions', 'keywords', 'plan', 'job'],
})

export const rivalStates = ['proposed', 'accepted', 'aside'] as const
/**
 * A site that stands for the keywords that are kept (all that are known where none is). `above`: on how many of them it stands above the
 * own site. `score`: visits of these keywords that it takes above the own site, as a share of those that all results of them take. `shared`:
 * what both get from the same keywords (of each the smaller), as a share of all the site gets from these keywords.
 */
export const rivalSite = z.object({
  domain: z.string(),
  keywords: z.number(),
  above: z.number(),
  within10: z.number(),
  visits: z.number(),
  score: z.number(),
  shared: z.number(),
  kind: z.string(),
  reasons: z.array(z.string()),
  standing: z.number().nullable(),
  state: z.enum(rivalStates),
})
export type RivalSite = z.infer<typeof rivalSite>
export const listRivals = endpoint({
  summary: 'Sites that stand beside a site most often',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/rivals',
  input: z.object({ ...inMarket, of: target.optional() }),
  output: z.object({ rivals: z.array(rivalSite), keywords: z.number(), kept: z.boolean(), coverage }),
  oldBy: ['positions', 'keywords', 'rivals', 'job'],
})
export const judgeRival = endpoint({
  summary: 'Accept a rival or set it aside',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/rivals/:domain',
  input: z.object({ siteId: id, domain: text(300), state: z.enum(rivalStates) }),
  output: acted,
})

/** Whether keywords count for which sites stand among the results, or those that they pay for. */
const overlapOf = z.enum(['organic', 'paid']).default('organic')
/** How the keywords of several sites lie over each other; the own site is the first where it is among them. */
export const readOverlap = endpoint({
  summary: 'Overlap of the keywords of two to ten sites',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/overlap',
  input: z.object({
    ...inMarket,
    targets: z.array(target).min(2).max(mostSites),
    /** A site counts as standing for a keyword within this position. */
    within: z.number().int().min(1).max(100).default(100),
    of: overlapOf,
  }),
  output: z.object({
    regions: z.array(z.object({ mask: z.number(), keywords: z.number(), searches: z.number(), unknown: z.number() })),
    /** Keywords where the first target stands below the first page, or not at all, and another of them on it. */
    belowFirst: z.object({ keywords: z.number(), searches: z.number(), unknown: z.number() }),
    coverage,
  }),
  oldBy: ['positions', 'keywords', 'job'],
})
/** A keyword of regions. `could`: visits a month that a new, fitting page of the own site could bring; `positions`: of each target. */
export const overlapKeyword = z.object({
  id: z.number(),
  phrase: z.string(),
  family: z.number(),
  searches: z.number().nullable(),
  cpc: z.number().nullable(),
  difficulty: z.number().nullable(),
  chance: z.number().nullable(),
  could: z.number().nullable(),
  worth: z.number().nullable(),
  /** What a new page for it may be worth with all it is found by (`core/rivals/page-visits`); the list is in this order. */
  pageWorth: z.number().nullable(),
  positions: z.array(z.number().nullable()),
  /** Of what they pay for: what they spend on it together; null for what they stand for. */
  spend: z.number().nullable(),
  bestPage: z.string(),
  bidLow: z.number().nullable(),
  bidHigh: z.number().nullable(),
  kept: z.boolean(),
  tracked: z.boolean(),
})
export type OverlapKeyword = z.infer<typeof overlapKeyword>
export const listOverlap = endpoint({
  summary: 'Keywords of regions of an overlap',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/overlap/keywords',
  input: z.object({
    ...inMarket,
    targets: z.array(target).min(2).max(mostSites),
    within: z.number().int().min(1).max(100).default(100),
    of: overlapOf,
    /** Regions by their masks; null: those where the first target stands below the first page and another on it. */
    masks: z.array(z.number().int().min(1).max(1_023)).max(1_023).nullable(),
  }),
  /** The 50,000 that could bring most, in that order; `total`: of how many. */
  output: z.object({ rows: z.array(overlapKeyword), total: z.number() }),
  oldBy: ['positions', 'keywords', 'job'],
})

/** Asks the rankings feed for which keywords sites stand, now and in the months before (`months`, this one being the first). */
export const loadRankings = endpoint({
  summary: 'Load the rankings feed for sites',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/rankings',
  input: z.object({
    ...inMarket,
    targets: z.array(target).min(1).max(mostSites),
    months: z.number().int().min(0).max(24).default(0),
  }),
  output: z.object({ jobId: z.number() }),
})
/** Takes keywords over that only the feed knows: they become keywords of the site. Gives their ids in the order of `knownIds`. */
export const takeOverKeywords = endpoint({
  summary: 'Take keywords of the rankings feed over',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/taken-over',
  input: z.object({ ...inMarket, known: z.array(id).min(1).max(20_000) }),
  output: z.object({ keywordIds: z.array(z.number()) }),
})
export const rivalMonth = z.object({
  domain: z.string(),
  month: z.string(),
  within3: z.number().nullable(),
  within10: z.number().nullable(),
  within30: z.number().nullable(),
  keywords: z.number().nullable(),
  visits: z.number().nullable(),
  worth: z.number().nullable(),
  /** What it advertised on and spent in the month; null where nobody asked. */
  paid: z.number().nullable(),
  spend: z.number().nullable(),
})
export type RivalMonth = z.infer<typeof rivalMonth>
export const listRivalMonths = endpoint({
  summary: 'Keywords and visits of sites by month',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/months',
  input: z.object({ ...inMarket, targets: z.array(target).min(1).max(mostSites) }),
  /** `domains`: the sites of the targets, in their order, each once. */
  output: z.object({ domains: z.array(z.string()), months: z.array(rivalMonth) }),
  oldBy: ['rivals', 'job'],
})

/** A keyword whose position a site changed between two months; null = it did not stand for it. `visits`: how many more a month. */
export const monthChange = z.object({
  phrase: z.string(),
  before: z.number().nullable(),
  now: z.number().nullable(),
  page: z.string(),
  searches: z.number().nullable(),
  visits: z.number().nullable(),
})
export type MonthChange = z.infer<typeof monthChange>
const month = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'A month looks like 2026-11')
/** Asks the rankings feed about both months; the 500 keywords and 60 pages that changed most. `pages`: by how many keywords they stand for. */
export const readMonthChanges = endpoint({
  summary: 'What a site won and lost between two months',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/month-changes',
  input: z.object({ ...inMarket, target, before: month, month }),
  output: z.object({
    entered: z.number(),
    left: z.number(),
    rose: z.number(),
    fell: z.number(),
    rows: z.array(monthChange),
    pages: z.array(z.object({ url: z.string(), before: z.number(), now: z.number() })),
  }),
})
