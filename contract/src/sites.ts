import { averagePeriods } from '@dew-trail/core/demand/average-searches'
import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

/** Those of the named keywords that were otherwise before. */
export const changedKeywords = acted.extend({ changed: z.array(z.number()) })
export const market = z.object({
  id: z.number(),
  /** What you call it; null: by engine, place, language and device. */
  name: z.string().nullable(),
  /** Whether checks that run by themselves leave it out. */
  paused: z.boolean(),
  engine: z.string(),
  place: z.string(),
  language: z.string(),
  device: z.enum(['desktop', 'mobile']),
})
export type Market = z.infer<typeof market>

/** How many keywords (or pages) have reached each station of the trail. */
export const trail = z.object({
  found: z.number(),
  kept: z.number(),
  weighed: z.number(),
  /** Of the current grouping of the market. */
  themes: z.number(),
  planned: z.number(),
  pages: z.number(),
  tracked: z.number(),
})
export type Trail = z.infer<typeof trail>

/**
 * A site in a market, on the market's scale: the share, in %, of its sites that stand below. `level` null: nobody was asked what links to the
 * site; its bounds are then those of a site without links, so at least. `comfortable`, `stretch`: difficulties up to which a new, fitting page
 * has a first-page chance of 0.8 and 0.4. `scaleSites` sites were seen when the scale was taken; null: the shipped one stands in.
 */
export const siteLevels = z.object({
  marketId: z.number(),
  level: z.number().nullable(),
  comfortable: z.number(),
  stretch: z.number(),
  scaleSites: z.number().nullable(),
  scaleTakenOn: z.string().nullable(),
  /** Whether the scale rests on result pages to place 60; else on first pages alone. */
  scaleDeep: z.boolean(),
})
export type SiteLevels = z.infer<typeof siteLevels>

const averagePeriod = z.literal([...averagePeriods])
export const site = z.object({
  id: z.number(),
  domain: z.string(),
  name: z.string(),
  /** As the source of links last said, on that day; asked and null: it knows no link to the site. Never asked: both null. */
  linkingSites: z.number().nullable(),
  linksAskedOn: z.string().nullable(),
  levels: z.array(siteLevels),
  /** Whether kept keywords are weighed again at night once their weighing is old. */
  refreshWeighings: z.boolean(),
  /** What a visit is worth to its owner, in the currency of the ads data; null: CPC stands for it. */
  visitWorth: z.number().nullable(),
  /** Share (0–1) of searches without a brand word that click the first result, as the owner says; null: by the log, else the default. */
  firstShare: z.number().nullable(),
  /** How many of the latest known months searches are the mean of. */
  averageMonths: averagePeriod,
  markets: z.array(market),
})
export type Site = z.infer<typeof site>

const siteName = text(120).min(1, 'A site needs a name')
/** A domain as it is typed: without scheme and path, in lower case. */
export const domain = z
  .string()
  .trim()
  .toLowerCase()
  // A pasted address is its site; www. is a host of it.
  .transform(text =>
    text
      .replace(/^[a-z]+:\/\//, '')
      .replace(/[/?#].*$/, '')
      .replace(/:\d+$/, '')
      .replace(/^www\.(?=[^.]+\.)/, ''),
  )
  .pipe(z.string().regex(/^(?!-)[a-z0-9-]+(\.[a-z0-9-]+)+$/, 'A domain looks like name.example'))

export const listSites = endpoint({
  summary: 'Sites',
  role: 'reader',
  errors: ['badInput'],
  method: 'GET',
  path: '/api/sites',
  input: z.object({}),
  output: z.array(site),
  oldBy: ['learn', 'sites'],
})
export const createSite = endpoint({
  summary: 'Add a site',
  role: 'administrator',
  errors: ['badInput', 'conflict', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites',
  input: z.object({
    domain,
    name: siteName,
    /** A place that an engine offers, and one of its languages: the first offered where none is named. */
    place: z.string().min(1).max(60).optional(),
    language: z.string().length(2).optional(),
    timeZone: z.string().trim().min(1).max(60).optional(),
  }),
  output: site,
})
export const changeSite = endpoint({
  summary: 'Change the settings of a site',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sites/:siteId',
  input: z.object({
    siteId: id,
    refreshWeighings: z.boolean().optional(),
    name: siteName.optional(),
    visitWorth: z.number().min(0.001).max(1_000_000).nullable().optional(),
    firstShare: z.number().min(0.01).max(0.95).nullable().optional(),
    averageMonths: averagePeriod.optional(),
  }),
  output: z.object({}),
})
/** Removes a site with all its data. `domain`: the site's own, typed to say that this is meant. */
export const removeSite = endpoint({
  summary: 'Remove a site with all its data',
  role: 'administrator',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/remove',
  input: z.object({ siteId: id, domain: z.string().trim().max(300) }),
  output: z.object({}),
})
/** Adds a market that an engine offers. One that is there already is given as it is. */
export const addMarket = endpoint({
  summary: 'Add a market',
  role: 'owner',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites/:siteId/markets',
  input: z.object({
    siteId: id,
    engine: z.string().min(1).max(60),
    place: z.string().min(1).max(60),
    language: z.string().length(2),
    device: z.enum(['desktop', 'mobile']),
  }),
  output: market,
})
export const changeMarket = endpoint({
  summary: 'Rename or pause a market',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sites/:siteId/markets/:marketId',
  input: z.object({ siteId: id, marketId: id, name: text(60).nullable().optional(), paused: z.boolean().optional() }),
  output: z.object({}),
})
/** Removes a market with its positions, weighings and results. Keywords and the plan stay. The last market of a site stays too. */
export const removeMarket = endpoint({
  summary: 'Remove a market with its data',
  role: 'owner',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'DELETE',
  path: '/api/sites/:siteId/markets/:marketId',
  input: z.object({ siteId: id, marketId: id }),
  output: z.object({}),
})
export const getTrail = endpoint({
  summary: 'How far keywords have come',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/trail',
  /** Without a market no theme is counted. */
  input: z.object({ siteId: id, marketId: id.optional() }),
  output: trail,
  oldBy: ['job', 'keywords', 'plan', 'positions', 'themes'],
})
