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
import { id } from '@dew-trail/contract/common'
import { formulaStart } from '@dew-trail/core/tables/formula-start'
import type { Router } from 'express'
import Papa from 'papaparse'
import { z } from 'zod'
import type { Context } from '../context.ts'
import { fileBounds } from '../files/file-bounds.ts'
import { prepareTable } from '../files/read-file.ts'
import { checkInput, mount } from '../http/mount.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import { needArchive } from './import-pages-job.ts'
import { insertImport, manyErrors, maybeImport, setFile, setMapping } from './queries.ts'
import { suggestMapping } from './suggest-mapping.ts'
import { keepUpload } from './uploads.ts'

const jobOfKind = {
  keywords: 'importKeywords',
  positions: 'importPositions',
  log: 'importLog',
  links: 'importLinks',
} as const

/** A web graph has no columns with names. */
const graphFile = { encoding: 'utf-8', separator: '\t', headerLine: 0, columns: 2 }

export function mountImports(router: Router, context: Context): void {
  const { pool } = context
  router.post('/api/sites/:siteId/imports', async (request, response) => {
    const { siteId, kind, fileName } = checkInput(uploadQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const answer = await keepUpload(context, request, async (filePath, bytes) => {
      const bounds = fileBounds(context.config)
      // A packed file may grow many times over: not beyond what the disk has room for.
      const unpacked = Math.min(bounds.unpacked, await context.disk.room())
      const shape = await prepareTable(filePath, { ...bounds, unpacked })
      const { header, preview: _, ...written } = shape
      const row = { siteId, kind, fileName, filePath, ...written, columns: header.length }
      return { importId: await insertImport(pool, row), ...shape, suggested: suggestMapping(kind, header), bytes }
    })
    response.json(uploaded.parse(answer))
  })
  router.post('/api/sites/:siteId/page-archives', async (request, response) => {
    const { siteId, fileName } = checkInput(archiveQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const jobId = await keepUpload(context, request, async filePath => {
      await needArchive(filePath)
      return (await context.jobs.add(siteId, 'importPages', `Importing pages of ${fileName}`, { filePath })).id
    })
    response.json(archiveStarted.parse({ jobId }))
  })
  router.post('/api/sites/:siteId/web-graphs', async (request, response) => {
    const { siteId, fileName } = checkInput(verticesQuery, { ...request.query, ...request.params })
    await needSite(pool, siteId)
    const importId = await keepUpload(context, request, async filePath =>
      insertImport(pool, { siteId, kind: 'graph', fileName, filePath, ...graphFile }),
    )
    response.json(verticesReceived.parse({ importId }))
  })
  router.post('/api/sites/:siteId/web-graphs/:importId/edges', async (request, response) => {
    const { siteId, importId, fileName } = checkInput(edgesQuery, { ...request.query, ...request.params })
    const row = await maybeImport(pool, siteId, importId)
    const gone = new AppError('notFound', 'There are no vertices waiting for these edges; upload both files again')
    if (row?.kind !== 'graph' || row.mapping) throw gone
    const jobId = await keepUpload(context, request, async filePath => {
      if (!(await setFile(pool, siteId, importId, filePath, fileName))) throw gone
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
    // The job carries the mapping, so that what is asked for a second time cannot change what runs.
    const work = { importId, marketId, keep, mapping: known }
    const job = await context.jobs.add(siteId, jobOfKind[row.kind], `Importing ${row.fileName}`, work, `${importId}`)
    if (job.isNew) await setMapping(pool, siteId, importId, known)
    return { jobId: job.id }
  })
  router.get('/api/sites/:siteId/imports/:importId/errors.csv', async (request, response) => {
    const { siteId, importId } = checkInput(z.object({ siteId: id, importId: id }), request.params)
    if (!(await maybeImport(pool, siteId, importId))) throw new AppError('notFound', `There is no import ${importId}`)
    const errors = await manyErrors(pool, siteId, importId)
    response.setHeader('content-disposition', `attachment; filename="import-${importId}-errors.csv"`)
    response
      .type('text/csv')
      .send(
        Papa.unparse(
          { fields: ['line', 'what', 'value'], data: errors.map(error => [error.line, error.what, error.value]) },
          { escapeFormulae: formulaStart },
        ),
      )
  })
}
