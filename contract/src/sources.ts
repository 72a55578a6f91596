import { z } from 'zod'
import { allImportKinds } from './imports.ts'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

export const sourceKeys = [
  'engines',
  'completions',
  'ads',
  'querylog',
  'feeds',
  'rankings',
  'registry',
  'maps',
  'web',
] as const
/** A connection to the outside: its limits, what was asked of it today and over fourteen days, and how old the newest data of the site is. */
export const source = z.object({
  key: z.enum(sourceKeys),
  address: z.string(),
  /** Where its key comes from; the key itself is never told. `unreadable`: sealed with the key of another installation; `none`: it needs none. */
  keyFrom: z.enum(['typed', 'configuration', 'missing', 'unreadable', 'none']),
  /** Most requests a second, and most at the same time. */
  perSecond: z.number().nullable(),
  atOnce: z.number(),
  /** Most requests a day (UTC), as set here; `null` = no limit of ours. */
  mostADay: z.number().nullable(),
  today: z.object({ requests: z.number(), failures: z.number(), limited: z.number() }),
  /** Requests by day, oldest first; `null` for a day before anything was counted. */
  days: z.array(z.object({ day: z.string(), requests: z.number(), failures: z.number() })),
  lastFailure: z.object({ day: z.string(), what: z.string() }).nullable(),
  newest: z.string().nullable(),
})
export type Source = z.infer<typeof source>
export const listSources = endpoint({
  summary: 'Sources with their state and use',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/sources',
  input: z.object({ siteId: id }),
  output: z.array(source),
  oldBy: ['job', 'keeping'],
})
/** Sets how often a source is asked a day at most, over all sites, so that no job uses up what it costs; `null` takes the limit away. */
export const limitSource = endpoint({
  summary: 'Limit the requests to a source',
  role: 'administrator',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sources/:key/limit',
  input: z.object({
    key: z.enum(sourceKeys).exclude(['web']),
    mostADay: z.number().int().min(0, 'A limit is 0 or more requests a day').max(1_000_000_000).nullable(),
  }),
  output: z.object({ mostADay: z.number().nullable() }),
})
/** Sets the key that a source knows us by, in place of the one of the configuration; null takes it away. It is never shown again. */
export const setSourceKey = endpoint({
  summary: 'Set the key of a source',
  role: 'administrator',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sources/:key/key',
  input: z.object({
    key: z.enum(sourceKeys).exclude(['web']),
    secret: z
      .string()
      .trim()
      .min(1, 'A key is needed')
      .max(4_000)
      .regex(/^[\x21-\x7e]+$/, 'holds a character that no key has')
      .nullable(),
  }),
  output: z.object({}),
})
/** Makes the smallest request to a source, now; it counts like any other. `what`: what went wrong, in the source's words. */
export const testSource = endpoint({
  summary: 'Try a source',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/sources/:key/test',
  input: z.object({ siteId: id, key: z.enum(sourceKeys).exclude(['web']) }),
  output: z.object({ works: z.boolean(), ms: z.number(), what: z.string().nullable() }),
})
/** Files that were imported into a site, newest first. */
export const listImports = endpoint({
  summary: 'Files imported into a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/imports',
  input: z.object({ siteId: id }),
  output: z.array(
    z.object({
      id: z.number(),
      kind: z.enum(allImportKinds),
      fileName: z.string(),
      createdAt: z.string(),
      ran: z.boolean(),
      /** A job reads it now, or waits to. */
      reading: z.boolean(),
      errors: z.number(),
      /** Keywords that it alone brought; null for imports of kinds that bring none. */
      brought: z.number().nullable(),
      /** What it did can be taken back, or be put back. */
      canTakeBack: z.boolean(),
      takenBack: z.boolean(),
    }),
  ),
  oldBy: ['job', 'keywords'],
})
/** Sites a crawl is of use for: the own site and those that stand on most of its result pages, with when each was last crawled. */
export const suggestCrawls = endpoint({
  summary: 'Sites worth crawling',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/crawl-suggestions',
  input: z.object({ siteId: id }),
  output: z.array(
    z.object({ domain: z.string(), own: z.boolean(), resultPages: z.number(), pagesFetched: z.number() }),
  ),
  oldBy: ['crawls'],
})

/** Engines that the source offers, with where and in which languages they can be searched. */
export const engine = z.object({
  engine: z.string(),
  name: z.string(),
  /** Address of the page that a person sees, with {query}, {place}, {language} and {device}; null where there is none. */
  page: z.string().nullable(),
  devices: z.array(z.enum(['desktop', 'mobile'])),
  places: z.array(
    z.object({
      place: z.string(),
      name: z.string(),
      country: z.string(),
      languages: z.array(z.object({ language: z.string(), name: z.string() })),
    }),
  ),
})
export type Engine = z.infer<typeof engine>
export const listEngines = endpoint({
  summary: 'What the engines offer',
  role: 'reader',
  errors: ['badInput', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/engines',
  input: z.object({}),
  output: z.array(engine),
})
