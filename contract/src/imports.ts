import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { day, id } from './common.ts'

/** What a column of a file can mean, by kind of import. `needed` ones must be given. */
export const importFields = {
  keywords: [
    { key: 'phrase', label: 'Keyword', needed: true },
    { key: 'searches', label: 'Searches a month', needed: false },
    { key: 'cpc', label: 'CPC', needed: false },
    { key: 'competition', label: 'Advertiser competition', needed: false },
  ],
  positions: [
    { key: 'date', label: 'Date', needed: true },
    { key: 'phrase', label: 'Keyword', needed: true },
    { key: 'position', label: 'Position', needed: true },
    { key: 'url', label: 'Page found', needed: false },
    { key: 'engine', label: 'Engine', needed: false },
    { key: 'country', label: 'Place', needed: false },
    { key: 'language', label: 'Language', needed: false },
    { key: 'device', label: 'Device', needed: false },
  ],
  links: [
    { key: 'source', label: 'Linking page', needed: true },
    { key: 'target', label: 'Linked page', needed: true },
    { key: 'anchor', label: 'Anchor text', needed: false },
    { key: 'rel', label: 'rel (nofollow …)', needed: false },
    { key: 'linkKind', label: 'Kind (text, image …)', needed: false },
    { key: 'firstSeen', label: 'First seen', needed: false },
    { key: 'lastSeen', label: 'Last seen', needed: false },
  ],
  log: [
    { key: 'date', label: 'Day', needed: false },
    { key: 'phrase', label: 'Query', needed: true },
    { key: 'impressions', label: 'Impressions', needed: true },
    { key: 'clicks', label: 'Clicks', needed: true },
    { key: 'position', label: 'Position', needed: true },
    { key: 'country', label: 'Country', needed: false },
    { key: 'device', label: 'Device', needed: false },
    { key: 'url', label: 'Page', needed: false },
  ],
  popularity: [
    { key: 'rank', label: 'Rank', needed: true },
    { key: 'domain', label: 'Domain', needed: true },
  ],
  themes: [
    { key: 'phrase', label: 'Keyword', needed: true },
    { key: 'searches', label: 'Searches a month', needed: false },
    { key: 'theme', label: 'Theme', needed: false },
  ],
} as const
export type ImportKind = keyof typeof importFields
/** Kinds of files that were imported: those with columns, web graphs of two files, and archives of pages. */
export const allImportKinds = [
  'keywords',
  'positions',
  'log',
  'links',
  'themes',
  'popularity',
  'graph',
  'pages',
] as const
export type AnyImportKind = (typeof allImportKinds)[number]

/** Uploads are sent as the raw body to this path, the file's name in the query, so nothing is held in memory. */
export const uploadPath = (siteId: number, kind: ImportKind, fileName: string): string =>
  `/api/sites/${siteId}/imports?kind=${kind}&fileName=${encodeURIComponent(fileName)}`
export const uploadQuery = z.object({
  siteId: id,
  kind: z.enum(['keywords', 'positions', 'log', 'links', 'themes', 'popularity']),
  fileName: z.string().max(300).default('file.csv'),
})
export const uploaded = z.object({
  importId: z.number(),
  encoding: z.string(),
  separator: z.string(),
  /** The line that names the columns; what stands above it is left out. */
  headerLine: z.number(),
  header: z.array(z.string()),
  preview: z.array(z.array(z.string())),
  suggested: z.record(z.string(), z.number()),
  bytes: z.number(),
})
export type Uploaded = z.infer<typeof uploaded>

/**
 * Leaves out what an import alone brought, or (`on` false) puts it back. Keywords: those that are kept, tracked, planned or listed by now stay,
 * and figures that the file gave to other keywords do. Positions, weeks of a log and lists of popular sites that it wrote over stand as before
 * it; links that others know too stay. Keywords are done at once (`keywords`: how many); all else is a job (`jobId`).
 */
export const takeBackImport = endpoint({
  summary: 'Take an import back, or put it back',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/imports/:importId/take-back',
  input: z.object({ siteId: id, importId: id, on: z.boolean() }),
  output: acted.extend({ keywords: z.number().nullable(), jobId: z.number().nullable() }),
})
export const runImport = endpoint({
  summary: 'Import an uploaded file',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/imports/:importId/run',
  input: z.object({
    siteId: id,
    importId: id,
    marketId: id,
    mapping: z.record(z.string(), z.number().int().min(0).max(500)),
    keep: z.boolean().default(false),
    /** Of a query log without a column of days: the days that its figures are sums of. */
    period: z.object({ from: day, to: day }).optional(),
  }),
  output: z.object({ jobId: z.number() }),
})
/**
 * A web graph is two text files, plain or gzip: vertices ("number, tab, address or host name") and edges ("number, tab, number"). Each is
 * sent as the raw body, the vertices first; the answer to the edges names the job that reads both.
 */
export const verticesPath = (siteId: number, fileName: string): string =>
  `/api/sites/${siteId}/web-graphs?fileName=${encodeURIComponent(fileName)}`
export const edgesPath = (siteId: number, importId: number, fileName: string): string =>
  `/api/sites/${siteId}/web-graphs/${importId}/edges?fileName=${encodeURIComponent(fileName)}`
export const verticesQuery = z.object({ siteId: id, fileName: z.string().max(300).default('vertices.txt') })
export const edgesQuery = z.object({ siteId: id, importId: id, fileName: z.string().max(300).default('edges.txt') })
export const verticesReceived = z.object({ importId: z.number() })
export const graphStarted = z.object({ jobId: z.number() })
export const importErrorsPath = (siteId: number, importId: number): string =>
  `/api/sites/${siteId}/imports/${importId}/errors.csv`
