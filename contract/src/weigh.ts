import { siteKinds } from '@dew-trail/core/links/site-kind'
import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { day, id } from './common.ts'

/** A weighing younger than this many days is fresh: not done again unless asked for. Older ones are shown faded. */
export const freshDays = 14

export const startWeighing = endpoint({
  summary: 'Weigh keywords',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/weighings',
  input: z.object({
    siteId: id,
    marketId: id,
    keywordIds: z.array(id).max(50_000).optional(),
    again: z.boolean().default(false),
  }),
  output: z.object({ jobId: z.number().nullable(), count: z.number(), fresh: z.number() }),
})

const match = z.enum(['phrase', 'near', 'all', 'some', 'none'])
/**
 * Keywords of the market in whose fetched results a site or page stands, and the visits a month it gets from those whose searches are
 * known, by the site's click curve; of `unknown` keywords they are not.
 */
const reach = z.object({ keywords: z.number(), visits: z.number().nullable(), unknown: z.number() })
export const weighedResult = z.object({
  position: z.number(),
  url: z.string(),
  domain: z.string(),
  title: z.string(),
  snippet: z.string(),
  /** Words that the engine marked in the snippet. */
  marked: z.array(z.string()),
  own: z.boolean(),
  /** Visits a month that it gets from this keyword at its place; `null` where the searches are not known. */
  visits: z.number().nullable(),
  level: z.number(),
  strength: z.number(),
  /** Level of the site on the market's scale. */
  siteLevel: z.number().nullable(),
  siteLinkingSites: z.number().nullable(),
  siteLinks: z.number().nullable(),
  /** From the link graph, where it knows the site; `network`: whether it is one of a suspected link network. */
  siteTrust: z.number().nullable(),
  /** Of this very page, where the graph knows it. */
  pageStanding: z.number().nullable(),
  pageTrust: z.number().nullable(),
  /** The day on which our crawler last read it; headings and text are matched only then. */
  readOn: z.string().nullable(),
  network: z.boolean(),
  /** Vetted schools and public bodies, and vetted directories, that link to the site; `null` where the graph knows no links to it. */
  institutions: z.array(z.string()).nullable(),
  directories: z.array(z.string()).nullable(),
  /** Of the site and of this very page; `null` where pages were weighed before sites were kept with them. */
  siteReach: reach.nullable(),
  pageReach: reach.nullable(),
  linkingSites: z.number().nullable(),
  links: z.number().nullable(),
  /** Followed links to this page that the link graph knows to be there; null where it does not know the page. */
  followedLinks: z.number().nullable(),
  /** What the site is by what was read of it; null where nothing was. */
  siteKind: z.enum(siteKinds).nullable(),
  ageYears: z.number().nullable(),
  fit: z.number().nullable(),
  matches: z.object({
    title: match.optional(),
    headings: match.optional(),
    text: match.optional(),
    address: match.optional(),
    description: match.optional(),
  }),
  opening: z.boolean(),
  precedent: z.boolean(),
  parts: z.array(z.object({ feature: z.string(), value: z.number().nullable(), adds: z.number() })),
})
export type WeighedResult = z.infer<typeof weighedResult>

export const firstPage = z.object({
  keywordId: z.number(),
  phrase: z.string(),
  marketId: z.number(),
  fetchedOn: z.string(),
  /** All days of which a result page is kept, newest first. */
  dates: z.array(z.string()),
  difficulty: z.number().nullable(),
  chances: z.record(z.string(), z.number()).nullable(),
  likelyFrom: z.number().nullable(),
  likelyTo: z.number().nullable(),
  /**
   * The page of the site that stands highest: its chances of the first page and of standing higher (null at the top), and what explains that others
   * stand above it, most first; empty: nothing that is known does.
   */
  standing: z
    .object({
      position: z.number(),
      first: z.number(),
      higher: z.number().nullable(),
      gap: z.array(z.object({ feature: z.string(), adds: z.number() })),
    })
    .nullable(),
  ownLevel: z.number().nullable(),
  ownLinkingSites: z.number().nullable(),
  /** The day of the last answer from a link source about the own site; null: none yet, so its chances are those of a site without links, a lower bound. */
  ownLinksAskedOn: z.string().nullable(),
  /** How many sites the market's scale was taken from, and when; null: the shipped one stands in. */
  scale: z.object({ takenOn: z.string().nullable(), sites: z.number().nullable(), deep: z.boolean() }),
  lockedTop: z.number(),
  openings: z.array(z.number()),
  precedents: z.array(z.number()),
  sentence: z.string(),
  model: z.string(),
  features: z.object({
    answer: z.boolean(),
    questions: z.array(z.string()),
    images: z.boolean(),
    shopping: z.number(),
    map: z.number(),
    ads: z.number(),
  }),
  related: z.array(z.string()),
  /** Weighed keywords of the market whose results are known. */
  weighedKeywords: z.number(),
  results: z.array(weighedResult),
  /** The site's own best result, also below the first page; without a place where only tracking found it, deeper or on another day. */
  ownPage: z.object({ url: z.string(), position: z.number().nullable() }).nullable(),
  unknown: z.array(z.string()),
})
export type FirstPage = z.infer<typeof firstPage>

/** The latest weighed first page of a keyword in a market, or that of a day; `null` when there is none. Judged by what is known today. */
export const getFirstPage = endpoint({
  summary: 'The first page of a keyword',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/keywords/:keywordId/first-page',
  input: z.object({ siteId: id, keywordId: id, marketId: id, date: day.optional() }),
  output: firstPage.nullable(),
  oldBy: ['learn', 'keywords'],
})

/** The same for several keywords at once; those that have not been weighed are left out. */
export const readFirstPages = endpoint({
  summary: 'First pages of several keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/first-pages',
  input: z.object({ siteId: id, marketId: id, keywordIds: z.array(id).min(1).max(200) }),
  output: z.array(firstPage),
})

/** What is known of how an engine and device put pages in order. Shares 0–1; a curve tells what a value of a feature adds to strength; with `log` x is ln(1 + value). */
export const strengths = z.object({
  engine: z.string(),
  device: z.string(),
  marketId: z.number(),
  /** Whether the weights were learnt; else they are the documented default. */
  learnt: z.boolean(),
  fittedAt: z.string().nullable(),
  /** Deep result pages the last learning had; `needed` of them make one possible, up to `sample` are fetched. */
  pages: z.number(),
  needed: z.number(),
  sample: z.number(),
  keywords: z.number(),
  weighedSince: z.number(),
  curves: z.record(z.string(), z.object({ log: z.boolean(), x: z.array(z.number()), y: z.array(z.number()) })),
  /** What results of sites have shown beyond the features, on the scale of strength: the own site's, and the highest and lowest of `sites`. */
  siteEffects: z.object({
    sites: z.number(),
    own: z.number().nullable(),
    highest: z.array(z.object({ domain: z.string(), adds: z.number() })),
    lowest: z.array(z.object({ domain: z.string(), adds: z.number() })),
  }),
  thresholds: z.array(z.object({ position: z.number(), slope: z.number(), offset: z.number() })),
  report: z
    .object({
      pages: z.number(),
      pairs: z.number(),
      pairAccuracy: z.number(),
      defaultAccuracy: z.number(),
      standingAccuracy: z.number(),
      reliability: z.array(
        z.object({
          from: z.number(),
          to: z.number(),
          count: z.number(),
          predicted: z.number(),
          happened: z.number(),
        }),
      ),
      calibrationError: z.number(),
    })
    .nullable(),
})
export type Strengths = z.infer<typeof strengths>
export const getStrengths = endpoint({
  summary: 'What ranks, by engine and device',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/strengths',
  input: z.object({ siteId: id }),
  output: z.array(strengths),
  oldBy: ['learn'],
})
/** Over the weighed keywords of a market: medians of difficulty and of the chance of a first page, visits a month. Null = of none known. */
export const marketFigures = z.object({
  keywords: z.number(),
  difficulty: z.number().nullable(),
  chance: z.number().nullable(),
  visits: z.number().nullable(),
})
export type MarketFigures = z.infer<typeof marketFigures>
/** In the result of a job (`moved`) that changed figures of all keywords of a market. */
export const movedFigures = z.object({ marketId: z.number(), before: marketFigures, after: marketFigures })
export type MovedFigures = z.infer<typeof movedFigures>

/** Has strengths learnt anew for the engine and device of a market. */
export const learnStrengths = endpoint({
  summary: 'Learn strengths anew',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/strengths',
  input: z.object({ siteId: id, marketId: id }),
  output: z.object({ jobId: z.number() }),
})

/** Has the scale of difficulty and levels of a market taken anew from its sites as they are known now, and its keywords judged by it. */
export const takeMarketScale = endpoint({
  summary: 'Take the scale of a market anew',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/markets/:marketId/scale',
  input: z.object({ siteId: id, marketId: id }),
  output: z.object({ jobId: z.number() }),
})

/** Days after which a published page is looked for: engines take weeks to place what is new. */
export const settledDays = 60
/**
 * What was said of the keywords of planned pages when they were published, and what came of it; chances are of the first ten places.
 * `judged`: looked at from `settledDays` on, `place` null = not within `depth`; `waiting`: younger; `unseen`: old enough, but nobody looked.
 */
export const predictions = z.object({
  rows: z.array(
    z.object({
      pageId: z.number(),
      title: z.string(),
      keywordId: z.number(),
      phrase: z.string(),
      marketId: z.number(),
      publishedOn: day,
      dueOn: day,
      chance: z.number(),
      likelyFrom: z.number().nullable(),
      likelyTo: z.number().nullable(),
      state: z.enum(['judged', 'waiting', 'unseen']),
      seenOn: day.nullable(),
      position: z.number().nullable(),
      depth: z.number().nullable(),
    }),
  ),
  sum: z.object({
    count: z.number(),
    expected: z.number(),
    happened: z.number(),
    spread: z.number(),
    verdict: z.enum(['few', 'right', 'cautious', 'hopeful']),
  }),
})
export type Predictions = z.infer<typeof predictions>
/** Predictions for the markets of an engine and device. */
export const readPredictions = endpoint({
  summary: 'Predictions and what came of them',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/predictions',
  input: z.object({ siteId: id, engine: z.string(), device: z.string(), today: day }),
  output: predictions,
  oldBy: ['plan', 'positions'],
})

const fitField = z.enum(['title', 'headings', 'text', 'address', 'description'])
/** A page put beside the results of a keyword. `places`: what a change would gain; `null` = cannot be promised. */
export const beside = z.object({
  address: z.string().nullable(),
  title: z.string().nullable(),
  words: z.number(),
  fields: z.array(z.object({ field: fitField, match, text: z.string().nullable() })),
  fit: z.number().nullable(),
  coverage: z.number().nullable(),
  similarity: z.number().nullable(),
  sharedPhrase: z.number().nullable(),
  /** Level of the site on the market's scale. */
  siteLevel: z.number().nullable(),
  linkingSites: z.number().nullable(),
  /** Whether the linking sites are those of a new page, as nothing else can be known. */
  assumedLinks: z.boolean(),
  level: z.number(),
  position: z.number(),
  ranksAt: z.number().nullable(),
  chances: z.record(z.string(), z.number()).nullable(),
  likelyFrom: z.number().nullable(),
  likelyTo: z.number().nullable(),
  lacks: z.array(
    z.object({
      what: z.union([fitField, z.enum(['sharedPhrase', 'links'])]),
      now: z.string(),
      want: z.string(),
      positions: z.number().nullable(),
    }),
  ),
  terms: z.array(z.object({ term: z.string(), pages: z.number(), mine: z.boolean() })),
  results: z.number(),
  questions: z.array(z.object({ question: z.string(), mine: z.boolean() })),
  /** Searches a month of the head keyword itself. */
  headSearches: z.number().nullable(),
  /** Longer forms of the keyword among the gathered ones: how the page covers each, those worth most and not covered first. */
  longer: z.array(
    z.object({
      keywordId: z.number(),
      phrase: z.string(),
      cover: z.enum(['phrase', 'words', 'no']),
      searches: z.number().nullable(),
      cpc: z.number().nullable(),
      difficulty: z.number().nullable(),
      kept: z.boolean(),
      value: z.number().nullable(),
    }),
  ),
  unknown: z.array(z.string()),
})
export type Beside = z.infer<typeof beside>
/** Judges a page by its address, which is fetched now, or a draft as text or HTML. */
export const putPageBeside = endpoint({
  summary: 'Judge a page or draft against a first page',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites/:siteId/keywords/:keywordId/beside',
  input: z.object({
    siteId: id,
    keywordId: id,
    marketId: id,
    url: z.string().max(2_000).optional(),
    draft: z.string().max(400_000).optional(),
  }),
  output: beside,
})
