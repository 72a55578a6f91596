import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { day, id } from './common.ts'

const scope = z.enum(['page', 'site'])
/** Upper ends of the bands of standing by which linking sites are counted. */
export const bandEnds = [20, 40, 60, 80, 100] as const

export const linkProfile = z.object({
  domain: z.string(),
  scope,
  /** Whether our graph has any link to it; if not, all below is unknown, not zero. */
  known: z.boolean(),
  links: z.number(),
  there: z.number(),
  follow: z.number(),
  linkingPages: z.number(),
  linkingSites: z.number(),
  /** Linking sites with links that engines follow, by standing, in bands of 20 from 0; `null` until standing was computed. */
  bands: z.array(z.number()).nullable(),
  /** Classes and most frequent texts of the anchors of up to `looked` links. */
  anchors: z.object({
    looked: z.number(),
    classes: z.record(z.string(), z.number()),
    list: z.array(z.object({ text: z.string(), kind: z.string(), links: z.number() })),
  }),
  /** Of the links looked at, how many say something of the keyword in anchor, words around or title, and of how many nothing is known. */
  topic: z.object({ looked: z.number(), on: z.number(), unknown: z.number() }).nullable(),
  /** Where the standing of the site comes from: topics of the sites behind it by their words, largest share first; `null` where unknown. */
  subjects: z.array(z.object({ words: z.array(z.string()), share: z.number() })).nullable(),
  /** Linking sites first seen by week (Monday), the last 52, oldest first; `undated` have no day. */
  gained: z.array(z.object({ week: z.string(), sites: z.number() })),
  undated: z.number(),
  bursts: z.array(z.object({ week: z.string(), sites: z.number(), usual: z.number() })),
})
export type LinkProfile = z.infer<typeof linkProfile>
/** What our graph knows of the links to a page or to its whole site. `keywordId`: whose words tell whether a link is on topic. */
export const readLinkProfile = endpoint({
  summary: 'Profile of the links to a page or site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/profile',
  input: z.object({ siteId: id, url: z.string().min(4).max(2_000), scope, keywordId: id.optional() }),
  output: linkProfile,
})

export const linkRow = z.object({
  source: z.string(),
  title: z.string().nullable(),
  target: z.string(),
  anchor: z.string(),
  kind: z.string(),
  rel: z.array(z.string()),
  around: z.string().nullable(),
  firstSeen: z.string().nullable(),
  lastSeen: z.string().nullable(),
  goneOn: z.string().nullable(),
  /** Standing of the linking site, and the rank the link passes on, both 0–100. */
  standing: z.number().nullable(),
  pull: z.number().nullable(),
})
export type LinkRow = z.infer<typeof linkRow>
const yes = z.stringbool()
/** Links from other sites to a page or site, in a fixed order, a page at a time: `after` is the `next` of the page before. `count` is of all that meet the conditions. */
export const listLinks = endpoint({
  summary: 'Links to a page or site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/list',
  input: z.object({
    siteId: id,
    url: z.string().min(4).max(2_000),
    scope,
    /** Only links that engines follow; only links that are there now; only links first seen since a day. */
    follow: yes.optional(),
    there: yes.optional(),
    since: day.optional(),
    after: z
      .string()
      .regex(/^\d+,\d+,\d+,\d+$/, 'The place to go on from is four numbers')
      .optional(),
    most: z.coerce.number<number>().int().min(1).max(500).default(50),
  }),
  output: z.object({ count: z.number().nullable(), links: z.array(linkRow), next: z.string().nullable() }),
})

export const sharedLinker = z.object({
  domain: z.string(),
  /** Which of the asked sites it links to. */
  to: z.array(z.string()),
  /** How good a hub it is among those listed, 0–100 of the best (HITS over these links). */
  hub: z.number(),
  standing: z.number().nullable(),
  doubt: z.number().nullable(),
  /** Whether it links to the own site already. */
  linksToOwn: z.boolean(),
})
export type SharedLinker = z.infer<typeof sharedLinker>
/** Sites that link to at least two of some sites, best hubs first. `unknown`: those of the asked sites that our graph has no links of; `count` is of all, of which `linkers` has the first. */
export const listSharedLinkers = endpoint({
  summary: 'Sites that link to several sites',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/links/shared',
  input: z.object({ siteId: id, domains: z.array(z.string().trim().toLowerCase().min(3)).min(2).max(50) }),
  output: z.object({ unknown: z.array(z.string()), count: z.number(), linkers: z.array(sharedLinker) }),
})
