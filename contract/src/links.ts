import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

/** Loads what the link feeds know of links to these sites; without domains, of the own site and of those on its result pages. */
export const loadFeeds = endpoint({
  summary: 'Load link feeds',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/links/feeds',
  input: z.object({
    siteId: id,
    domains: z.array(z.string().trim().toLowerCase().min(3)).max(2_000).optional(),
    /** Which feeds are asked, as they are called; all where none is named. */
    feeds: z.array(z.string().trim().min(1).max(40)).min(1).max(20).optional(),
    /** Of each site so many of the best linking pages are read by our crawler afterwards. */
    readPages: z.number().int().min(0).max(2_000).default(0),
  }),
  output: z.object({ jobId: z.number().nullable(), domains: z.number() }),
})
export const listFeeds = endpoint({
  summary: 'Link feeds that can be asked',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/sites/:siteId/links/feeds',
  input: z.object({ siteId: id }),
  output: z.array(z.string()),
})
/** Reads linking pages with our crawler: whether their links are there, and what is known of a link by its page alone. */
export const verifyLinks = endpoint({
  summary: 'Read linking pages now',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/links/verify',
  input: z.object({
    siteId: id,
    pages: z
      .array(z.url({ protocol: /^https?$/ }).max(2_000))
      .min(1)
      .max(2_000),
  }),
  output: z.object({ jobId: z.number(), requests: z.number() }),
})
/** Computes standing, trust and clusters of all that is known anew. */
export const rankLinks = endpoint({
  summary: 'Compute standing and trust',
  role: 'administrator',
  errors: ['badInput', 'notFound', 'notAllowed'],
  method: 'POST',
  path: '/api/sites/:siteId/links/rank',
  input: z.object({ siteId: id }),
  output: z.object({ jobId: z.number() }),
})
export const linkState = z.object({
  sites: z.number(),
  pages: z.number(),
  fetched: z.number(),
  links: z.number(),
  snapshot: z
    .object({
      id: z.number(),
      madeAt: z.string(),
      pages: z.number(),
      sites: z.number(),
      links: z.number(),
      vetted: z.number(),
      seconds: z.number(),
    })
    .nullable(),
})
export type LinkState = z.infer<typeof linkState>
/** How much of the link graph is known and when it was last computed. */
export const readLinkState = endpoint({
  summary: 'State of the link graph',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/state',
  input: z.object({ siteId: id }),
  output: linkState,
  oldBy: ['crawls', 'job'],
})
/** Standing (0–100), trust (0–100) and doubt (at most 1) of sites by the latest snapshot; sites it does not know are left out. */
export const readStandings = endpoint({
  summary: 'Standing, trust and doubt of sites',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/links/standings',
  input: z.object({ siteId: id, domains: z.array(z.string()).max(10_000).optional() }),
  output: z.array(
    z.object({
      domain: z.string(),
      standing: z.number(),
      trust: z.number().nullable(),
      doubt: z.number().nullable(),
      cluster: z.number(),
      linkingSites: z.number(),
      /** Number of the suspected link network it belongs to, with the reasons of that network. */
      network: z.number().nullable(),
      networkReasons: z.array(z.string()).nullable(),
      /** What kind of site it seems to be, and what gave it away. */
      kind: z.string(),
      kindReasons: z.array(z.string()),
      madeAt: z.string(),
    }),
  ),
  oldBy: ['crawls'],
})

/** Kinds of vetted sites: schools and public bodies, directories that somebody looks after, others. */
export const vettedKinds = ['institution', 'directory', 'other'] as const
export type VettedKind = (typeof vettedKinds)[number]
const domain = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^([a-z0-9-]+\.)+[a-z0-9-]{2,}$/, 'A domain looks like name.example')
/** Sites that somebody vouches for, as trust begins with them; `linksTo`: sites known to have links from them. */
export const listVetted = endpoint({
  summary: 'Vetted sites',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/links/vetted',
  input: z.object({ siteId: id }),
  output: z.array(
    z.object({ domain: z.string(), kind: z.enum(vettedKinds), why: z.string(), linksTo: z.number().nullable() }),
  ),
  oldBy: ['vetted', 'job'],
})
/** Vouches for a site. The next computation of standing takes it in. */
export const vetSite = endpoint({
  summary: 'Vouch for a site',
  role: 'administrator',
  errors: ['badInput', 'notFound', 'notAllowed'],
  method: 'PUT',
  path: '/api/sites/:siteId/links/vetted/:domain',
  input: z.object({ siteId: id, domain, kind: z.enum(vettedKinds), why: z.string().trim().max(200).default('') }),
  output: acted.extend({ domain: z.string() }),
})
/** Vouches for a site no longer, whatever its name says. */
export const refuseSite = endpoint({
  summary: 'Vouch for a site no longer',
  role: 'administrator',
  errors: ['badInput', 'notFound', 'notAllowed'],
  method: 'DELETE',
  path: '/api/sites/:siteId/links/vetted/:domain',
  input: z.object({ siteId: id, domain }),
  output: acted.extend({ domain: z.string() }),
})
