import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

export const mostCrawlPages = 50_000
const domain = z
  .string()
  .trim()
  .toLowerCase()
  .transform(text => text.replace(/^https?:\/\//, '').replace(/[/?#].*$/, ''))
  .pipe(z.string().regex(/^(?!-)[a-z0-9-]+(\.[a-z0-9-]+)+$/, 'A domain looks like name.example'))

export const crawlHost = z.object({
  host: z.string(),
  waiting: z.number(),
  fetched: z.number(),
  failed: z.number(),
  refused: z.number(),
})
export const crawl = z.object({
  id: z.number(),
  domain: z.string(),
  own: z.boolean(),
  mostPages: z.number(),
  jobId: z.number().nullable(),
  state: z.enum(['waiting', 'running', 'paused', 'done', 'failed', 'cancelled']),
  startedAt: z.string(),
  endedAt: z.string().nullable(),
  hosts: z.array(crawlHost),
})
export type Crawl = z.infer<typeof crawl>

export const startCrawl = endpoint({
  summary: 'Crawl sites',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/crawls',
  input: z.object({
    siteId: id,
    domains: z.array(domain).min(1).max(50),
    mostPages: z.number().int().min(1).max(mostCrawlPages).default(500),
    mostDepth: z.number().int().min(0).max(50).default(12),
  }),
  output: z.object({ crawls: z.array(z.object({ crawlId: z.number(), jobId: z.number(), domain: z.string() })) }),
})
export const listCrawls = endpoint({
  summary: 'Crawls of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/crawls',
  input: z.object({ siteId: id }),
  output: z.array(crawl),
  oldBy: ['crawls'],
})
/** Pages of a crawl that brought nothing, with the reason of each. */
export const listCrawlErrors = endpoint({
  summary: 'Pages of a crawl that brought nothing',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/crawls/:crawlId/errors',
  input: z.object({ siteId: id, crawlId: id }),
  output: z.object({
    total: z.number(),
    pages: z.array(z.object({ url: z.string(), state: z.enum(['failed', 'refused']), problem: z.string() })),
  }),
  oldBy: ['crawls'],
})

/** Archives of pages (WARC, ISO 28500, plain or gzip) are sent as the raw body to this path; the answer names the job that reads them. */
export const archivePath = (siteId: number, fileName: string): string =>
  `/api/sites/${siteId}/page-archives?fileName=${encodeURIComponent(fileName)}`
export const archiveQuery = z.object({ siteId: id, fileName: z.string().max(300).default('pages.warc') })
export const archiveStarted = z.object({ jobId: z.number() })

/** A page as our crawler last read it, with its links out. Links that are gone carry the day. */
export const pageFacts = z.object({
  url: z.string(),
  fetchedAt: z.string(),
  status: z.number().nullable(),
  problem: z.string().nullable(),
  redirectTo: z.string().nullable(),
  title: z.string().nullable(),
  description: z.string().nullable(),
  robots: z.array(z.string()),
  canonical: z.string().nullable(),
  language: z.string().nullable(),
  declaredLanguage: z.string().nullable(),
  headings: z.array(z.object({ level: z.number(), text: z.string() })),
  text: z.string().nullable(),
  words: z.number().nullable(),
  links: z.array(
    z.object({
      url: z.string(),
      anchor: z.string(),
      rel: z.array(z.string()),
      kind: z.enum(['text', 'image', 'redirect', 'frame']),
      region: z.string().nullable(),
      linkedAround: z.number().nullable(),
      around: z.string().nullable(),
      goneOn: z.string().nullable(),
    }),
  ),
})
export type PageFacts = z.infer<typeof pageFacts>
/** `null`: our crawler has not asked for it. */
export const readPage = endpoint({
  summary: 'What our crawler read of a page',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/page-facts',
  input: z.object({ siteId: id, url: z.string().min(1).max(2_000) }),
  output: pageFacts.nullable(),
})
