import { mostSites } from '@dew-trail/core/rivals/regions'
import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { conditionTexts, sortText } from './tables.ts'
import { targetText } from './target.ts'

/** Which links count: those that are there now, those that went within so many days, or all that were ever seen. */
export const linkAges = ['there', 'lost', 'ever'] as const
export type LinkAge = (typeof linkAges)[number]
const aged = {
  siteId: id,
  age: z.enum(linkAges).default('there'),
  days: z.coerce.number().int().min(1).max(3_650).default(90),
  /** Links count that one of these sources knows of: 'crawl', 'file' or a link feed; all count where none is named. */
  sources: z.preprocess(value => (Array.isArray(value) ? value : [value]), z.array(text(100)).max(20)).default([]),
}
const onTarget = { ...aged, target: targetText }
const domains = z
  .preprocess(value => (Array.isArray(value) ? value : [value]), z.array(text(300)).max(mostSites))
  .default([])
/** Rows that a list has at most; `total` says how many there are. */
export const mostLinkRows = 10_000
const mostRows = z.coerce.number().int().min(1).max(mostLinkRows).default(mostLinkRows)
/** Conditions and order of the list's columns; without an order its own. They hold for all rows, listed or not. */
const sifting = { most: mostRows, where: conditionTexts, sort: sortText }
/** `total`: rows in all; `met`: of these, those that meet the conditions, of which the first `most` are here. */
const counts = { total: z.number(), met: z.number() }

/** What a strip of the make-up tells apart, largest part first; `sites`: linking sites with at least one such link. */
const strip = z.array(z.object({ key: z.string(), links: z.number(), sites: z.number() }))
export const makeupStrips = ['counts', 'shape', 'lands', 'state', 'scheme', 'region', 'around', 'language'] as const
export type MakeupStrip = (typeof makeupStrips)[number]
/** What our graph knows of the links to a target. Figures of its site, such as standing, are null until they were computed. */
export const linkFigures = z.object({
  target: z.string(),
  kind: z.enum(['site', 'host', 'folder', 'page']),
  domain: z.string(),
  /** Whether our graph has any link to it; if not, all below is unknown, not zero. */
  known: z.boolean(),
  links: z.number(),
  follow: z.number(),
  linkingPages: z.number(),
  linkingSites: z.number(),
  followSites: z.number(),
  /** Addresses of linking sites and their subnets, over the `addressed` sites of which the sources tell one. */
  addresses: z.number(),
  subnets: z.number(),
  addressed: z.number(),
  knownPages: z.number(),
  /** Linking sites that are schools and public bodies, and vetted directories. */
  institutions: z.number(),
  directories: z.number(),
  standing: z.number().nullable(),
  trust: z.number().nullable(),
  doubt: z.number().nullable(),
  /** Its site's place among all known sites by standing, of how many. */
  position: z.number().nullable(),
  /** Rank of its site in the list of popular sites that was imported; null = none was, or it is not on it. */
  popularity: z.number().nullable(),
  ofSites: z.number(),
  /** Linking sites with links that engines follow, by standing, in bands of 20 from 0, with their mean trust. */
  bands: z.array(z.object({ sites: z.number(), trust: z.number().nullable() })).nullable(),
  subjects: z.array(z.object({ words: z.array(z.string()), share: z.number() })).nullable(),
  makeup: z.record(z.enum(makeupStrips), strip),
  /** Links by what their anchors say. */
  anchors: strip,
  /** Linking sites by the week (Monday) in which they were first seen and in which their last link went, oldest first: the last 104, or since the first. */
  weeks: z.array(z.object({ week: z.string(), gained: z.number(), lost: z.number() })),
  /** Linking sites of which no source tells since when they link. */
  undated: z.number(),
  /**
   * Weeks in which far more sites than usual made a new link, whether they linked before or not, with the page that most of these link to and
   * the strongest of them.
   */
  bursts: z.array(
    z.object({
      week: z.string(),
      sites: z.number(),
      usual: z.number(),
      page: z.string().nullable(),
      pageSites: z.number(),
      from: z.array(z.string()),
    }),
  ),
})
export type LinkFigures = z.infer<typeof linkFigures>
export const readLinkFigures = endpoint({
  summary: 'Figures of the links to sites, hosts, folders or pages',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/links/figures',
  input: z.object({ ...aged, targets: z.array(targetText).min(1).max(mostSites) }),
  output: z.object({ figures: z.array(linkFigures), madeAt: z.string().nullable() }),
  oldBy: ['crawls', 'job'],
})

/** Sources that links are known by: our crawl, files and link feeds; `name` is what an address says. */
export const listLinkSources = endpoint({
  summary: 'Sources that links are known by',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/sources',
  input: z.object({ siteId: id }),
  output: z.array(z.object({ name: z.string(), label: z.string() })),
  oldBy: ['crawls', 'job'],
})

/** What kinds of sites link to a target, told from their domains, home pages and addresses. */
export const readLinkKinds = endpoint({
  summary: 'Kinds of the sites that link to a target',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/kinds',
  input: z.object(onTarget),
  /** Largest part first; of the `looked` strongest of `sites` linking sites. */
  output: z.object({ kinds: strip, looked: z.number(), sites: z.number() }),
  oldBy: ['crawls', 'job'],
})

/** A site that links to a target. `lands`: the page most of its links lead to; `anchor`: the anchor it uses most. */
export const linkingSite = z.object({
  id: z.number(),
  domain: z.string(),
  kind: z.string(),
  standing: z.number().nullable(),
  trust: z.number().nullable(),
  doubt: z.number().nullable(),
  links: z.number(),
  follow: z.number(),
  pages: z.number(),
  lands: z.string(),
  anchor: z.string(),
  topic: z.string().nullable(),
  language: z.string().nullable(),
  firstSeen: z.string().nullable(),
  lastSeen: z.string().nullable(),
  registeredOn: z.string().nullable(),
  addresses: z.array(z.string()),
  /** ISO 3166-1 code of the country in which its address is registered. */
  country: z.string().nullable(),
  /** One link that stands on all or most of its pages, such as in a footer. */
  siteWide: z.boolean(),
  network: z.number().nullable(),
  networkReasons: z.array(z.string()).nullable(),
  /** To how many of the compared sites it links too. */
  toRivals: z.number(),
  contact: z.string().nullable(),
  prospect: z.boolean(),
  disavowed: z.boolean(),
  /** Somebody said that it is of no made network: what the program found is left out of the two above. */
  cleared: z.boolean(),
})
export type LinkingSite = z.infer<typeof linkingSite>
export const listLinkingSites = endpoint({
  summary: 'Sites that link to a target',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/sites',
  input: z.object({ ...onTarget, beside: domains, ...sifting }),
  output: z.object({ rows: z.array(linkingSite), ...counts }),
  oldBy: ['crawls', 'prospects', 'disavowed', 'job'],
})

/** A link to a target. `verifiedOn`: when our crawler last read its page; `around`: the words around it. */
export const targetLink = z.object({
  id: z.number(),
  domain: z.string(),
  source: z.string(),
  title: z.string().nullable(),
  lands: z.string(),
  anchor: z.string(),
  kind: z.string(),
  rel: z.string(),
  around: z.string().nullable(),
  region: z.string().nullable(),
  linkedAround: z.number().nullable(),
  language: z.string().nullable(),
  linksOut: z.number().nullable(),
  /** How often its page was passed on in social networks. */
  shares: z.number().nullable(),
  standing: z.number().nullable(),
  pull: z.number().nullable(),
  firstSeen: z.string().nullable(),
  lastSeen: z.string().nullable(),
  goneOn: z.string().nullable(),
  verifiedOn: z.string().nullable(),
  /** By how many sources the link is known. */
  sources: z.number(),
  /** How many links its site has to the target. */
  ofSite: z.number(),
  contact: z.string().nullable(),
})
export type TargetLink = z.infer<typeof targetLink>
export const listTargetLinks = endpoint({
  summary: 'Links to a target with all their facts',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/rows',
  input: z.object({
    ...onTarget,
    from: text(300).optional(),
    /** Of each linking site its first link alone; `ofSite` says how many it has. */
    bySite: z.stringbool().default(false),
    ...sifting,
  }),
  output: z.object({ rows: z.array(targetLink), ...counts }),
  oldBy: ['crawls', 'job'],
})

/** An anchor of links to a target. `odd`: what is unusual about it; null where nothing is. */
export const anchorRow = z.object({
  id: z.number(),
  text: z.string(),
  kind: z.string(),
  links: z.number(),
  follow: z.number(),
  sites: z.number(),
  sitesShare: z.number(),
  lands: z.string(),
  odd: z.string().nullable(),
})
export type AnchorRow = z.infer<typeof anchorRow>
export const listTargetAnchors = endpoint({
  summary: 'Anchors of the links to a target',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/anchors',
  input: z.object({ ...onTarget, ...sifting }),
  output: z.object({ rows: z.array(anchorRow), sites: z.number(), ...counts }),
  oldBy: ['crawls', 'brands', 'job'],
})

/** A page that links lead to. `status` of its last answer to the crawler, `redirectTo` where that leads elsewhere; `next`: what to do. */
export const linkedPage = z.object({
  id: z.number(),
  url: z.string(),
  links: z.number(),
  follow: z.number(),
  sites: z.number(),
  standing: z.number().nullable(),
  topAnchor: z.string(),
  status: z.number().nullable(),
  redirectTo: z.string().nullable(),
  readOn: z.string().nullable(),
  firstSeen: z.string().nullable(),
  shares: z.number().nullable(),
  next: z.string().nullable(),
})
export type LinkedPage = z.infer<typeof linkedPage>
export const listLinkedPages = endpoint({
  summary: 'Pages of a target that links lead to',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/pages',
  input: z.object({ ...onTarget, ...sifting }),
  output: z.object({ rows: z.array(linkedPage), ...counts }),
  oldBy: ['crawls', 'job'],
})

/** The best of the sites that link to a target, and which of them link to which: by places in `sites`. */
export const readNeighbourhood = endpoint({
  summary: 'The best linking sites and the links among them',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/neighbourhood',
  input: z.object({ ...onTarget, most: z.coerce.number().int().min(2).max(120).default(60) }),
  output: z.object({
    sites: z.array(
      z.object({
        domain: z.string(),
        standing: z.number().nullable(),
        trust: z.number().nullable(),
        /** Sites that link each other more than others; null until standing was computed. */
        cluster: z.number().nullable(),
        network: z.number().nullable(),
      }),
    ),
    /** `pages`: linking pages. */
    links: z.array(z.object({ from: z.number(), to: z.number(), pages: z.number() })),
  }),
  oldBy: ['crawls', 'job'],
})

/** A site in the ranking of all that our graph knows, by standing. */
export const rankedSite = z.object({
  id: z.number(),
  position: z.number(),
  popularity: z.number().nullable(),
  domain: z.string(),
  ending: z.string(),
  topic: z.string().nullable(),
  standing: z.number(),
  trust: z.number().nullable(),
  doubt: z.number().nullable(),
  linkingSites: z.number(),
  linksToSites: z.number(),
})
export type RankedSite = z.infer<typeof rankedSite>
export const listSiteRanking = endpoint({
  summary: 'All known sites by standing',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/ranking',
  input: z.object({ siteId: id, contains: text(100).default(''), beside: domains }),
  /** The first 5,000 whose domain contains the words; `beside` are there in any case. `total`: how many sites are ranked. */
  output: z.object({ rows: z.array(rankedSite), met: z.number(), total: z.number(), madeAt: z.string().nullable() }),
  oldBy: ['crawls'],
})

/** Sites whose links engines are asked to leave out. */
export const listDisavowed = endpoint({
  summary: 'Disavowed sites',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/disavowed',
  input: z.object({ siteId: id }),
  output: z.array(z.object({ domain: z.string(), since: z.string() })),
  oldBy: ['disavowed'],
})
export const setDisavowed = endpoint({
  summary: 'Disavow sites, or no longer',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/links/disavowed',
  input: z.object({ siteId: id, domains: z.array(text(300).min(3)).min(1).max(20_000), on: z.boolean() }),
  output: acted.extend({ changed: z.number() }),
})
/** Says of sites that they are of no made network, or lets the program judge them again. */
export const setCleared = endpoint({
  summary: 'Say that sites are of no network',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/links/cleared',
  input: z.object({ siteId: id, domains: z.array(text(300).min(3)).min(1).max(20_000), on: z.boolean() }),
  output: acted.extend({ changed: z.number() }),
})
