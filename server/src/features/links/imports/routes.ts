import { AppError } from '@dew-trail/contract/errors'
import { edgesQuery, graphStarted, verticesQuery, verticesReceived } from '@dew-trail/contract/imports'
import type { Router } from 'express'
import type { Context } from '../../../context.ts'
import { insertImport, maybeImport, setFile } from '../../../domain/imports/queries.ts'
import { keepUpload } from '../../../domain/imports/uploads.ts'
import { needSite } from '../../../domain/sites/need-market.ts'
import { checkInput } from '../../../platform/http/mount.ts'
import { needRole } from '../../../platform/http/who.ts'

/** A web graph has no columns with names. */
const graphFile = { encoding: 'utf-8', separator: '\t', headerLine: 0, columns: 2 }

/** A web graph comes as two files: its vertices, then its edges. */
export function mountWebGraphs(router: Router, context: Context): void {
  const { pool } = context
  router.post('/api/sites/:siteId/web-graphs', async (request, response) => {
    const { siteId, fileName } = checkInput(verticesQuery, { ...request.query, ...request.params })
    // The graph is one for all sites.
    needRole('administrator', siteId)
    await needSite(pool, siteId)
    const importId = await keepUpload(context, request, async filePath =>
      insertImport(pool, { siteId, kind: 'graph', fileName, filePath, ...graphFile }),
    )
    response.json(verticesReceived.parse({ importId }))
  })
  router.post('/api/sites/:siteId/web-graphs/:importId/edges', async (request, response) => {
    const { siteId, importId, fileName } = checkInput(edgesQuery, { ...request.query, ...request.params })
    needRole('administrator', siteId)
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
}
