import { createWriteStream } from 'node:fs'
import { mkdir, rm } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { archiveQuery, archiveStarted } from '@dew-trail/contract/crawl'
import { AppError } from '@dew-trail/contract/errors'
import {
  edgesQuery,
  graphStarted,
  importFields,
  runImport,
  uploaded,
  uploadQuery,
  verticesQuery,
  verticesReceived,
} from '@dew-trail/contract/imports'
import { id } from '@dew-trail/contract/sites'
import type { Router } from 'express'
import Papa from 'papaparse'
import { z } from 'zod'
import type { Context } from '../context.ts'
import { checkInput, mount } from '../http/mount.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import { needArchive } from './import-pages-job.ts'
import { insertImport, manyErrors, maybeImport, setFile, setMapping } from './queries.ts'
import { sniffFile } from './read-table.ts'
import { suggestMapping } from './suggest-mapping.ts'
import { isWorkbook, workbookToCsv } from './workbook-to-csv.ts'

const jobOfKind = {
  keywords: 'importKeywords',
  positions: 'importPositions',
  log: 'importLog',
  links: 'importLinks',
} as const

export function mountImports(router: Router, context: Context): void {
  const { config, pool } = context
  /** Streams an upload into a file of its own and does what is to be done with it; when that fails the file goes away again. */
  async function keepUpload<T>(request: Readable, use: (filePath: string, bytes: number) => Promise<T>): Promise<T> {
    const folder = join(config.DATA_DIR, 'imports')
    await mkdir(folder, { recursive: true })
    const filePath = join(folder, randomUUID())
    try {
      const bytes = await receiveFile(request, filePath, config.IMPORT_MAX_BYTES)
      if (!bytes) throw new AppError('badInput', 'The file is empty')
      return await use(filePath, bytes)
    } catch (error) {
      await rm(filePath, { force: true })
      throw error
    }
  }
  router.post('/api/sites/:siteId/imports', async (request, response) => {
    const { siteId, kind, fileName } = checkInput(uploadQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const answer = await keepUpload(request, async (filePath, bytes) => {
      if (await isWorkbook(filePath)) await workbookToCsv(filePath)
      const { encoding, separator, header, preview } = await sniffFile(filePath)
      if (!header.some(name => name)) throw new AppError('badInput', 'The first line of the file holds no column names')
      const importId = await insertImport(pool, { siteId, kind, fileName, filePath, encoding, separator })
      return { importId, encoding, separator, header, preview, suggested: suggestMapping(kind, header), bytes }
    })
    response.json(uploaded.parse(answer))
  })
  router.post('/api/sites/:siteId/page-archives', async (request, response) => {
    const { siteId, fileName } = checkInput(archiveQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const jobId = await keepUpload(request, async filePath => {
      await needArchive(filePath)
      return (await context.jobs.add(siteId, 'importPages', `Importing pages of ${fileName}`, { filePath })).id
    })
    response.json(archiveStarted.parse({ jobId }))
  })
  router.post('/api/sites/:siteId/web-graphs', async (request, response) => {
    const { siteId, fileName } = checkInput(verticesQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const importId = await keepUpload(request, async filePath =>
      insertImport(pool, { siteId, kind: 'graph', fileName, filePath, encoding: 'utf-8', separator: '\t' }),
    )
    response.json(verticesReceived.parse({ importId }))
  })
  router.post('/api/sites/:siteId/web-graphs/:importId/edges', async (request, response) => {
    const { siteId, importId, fileName } = checkInput(edgesQuery, { ...request.query, ...request.params })
    const row = await maybeImport(pool, siteId, importId)
    if (row?.kind !== 'graph' || row.mapping)
      throw new AppError('notFound', 'There are no vertices waiting for these edges; upload both files again')
    const jobId = await keepUpload(request, async filePath => {
      await setFile(pool, importId, filePath, fileName)
      const title = `Importing the web graph of ${row.fileName}`
      return (await context.jobs.add(siteId, 'importGraph', title, { importId, verticesPath: row.filePath })).id
    })
    response.json(graphStarted.parse({ jobId }))
  })
  mount(router, runImport, async ({ siteId, importId, marketId, mapping, keep }) => {
    const row = await maybeImport(pool, siteId, importId)
    if (!row || row.kind === 'graph') throw new AppError('notFound', `There is no import ${importId}`)
    await needMarket(pool, siteId, marketId)
    const fields = importFields[row.kind]
    const missing = fields.filter(field => field.needed && mapping[field.key] === undefined)
    if (missing.length)
      throw new AppError('badInput', `Say which column holds: ${missing.map(field => field.label).join(', ')}`)
    const known = Object.fromEntries(Object.entries(mapping).filter(([key]) => fields.some(field => field.key === key)))
    await setMapping(pool, importId, known)
    const job = await context.jobs.add(siteId, jobOfKind[row.kind], `Importing ${row.fileName}`, {
      importId,
      marketId,
      keep,
    })
    return { jobId: job.id }
  })
  router.get('/api/sites/:siteId/imports/:importId/errors.csv', async (request, response) => {
    const { siteId, importId } = checkInput(z.object({ siteId: id, importId: id }), request.params)
    if (!(await maybeImport(pool, siteId, importId))) throw new AppError('notFound', `There is no import ${importId}`)
    const errors = await manyErrors(pool, importId)
    response.setHeader('content-disposition', `attachment; filename="import-${importId}-errors.csv"`)
    response
      .type('text/csv')
      .send(
        Papa.unparse(
          { fields: ['line', 'what', 'value'], data: errors.map(error => [error.line, error.what, error.value]) },
          { escapeFormulae: true },
        ),
      )
  })
}

/**
 * Streams an upload into a file and gives its size. What is over the limit is read on but thrown away, up to as much again, so that the
 * browser hears why instead of losing the connection.
 */
async function receiveFile(request: Readable, filePath: string, mostBytes: number): Promise<number> {
  let bytes = 0
  async function* withinLimit(): AsyncGenerator<Buffer> {
    for await (const chunk of request) {
      bytes += (chunk as Buffer).length
      if (bytes <= mostBytes) yield chunk as Buffer
      else if (bytes > 2 * mostBytes + 1_000_000) break
    }
  }
  await pipeline(Readable.from(withinLimit()), createWriteStream(filePath))
  if (bytes > mostBytes)
    throw new AppError(
      'tooLarge',
      `The file is larger than ${Math.round(mostBytes / 1e6)} MB. Nothing was imported; split it, or raise IMPORT_MAX_BYTES.`,
    )
  return bytes
}
