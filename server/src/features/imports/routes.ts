import { AppError } from '@dew-trail/contract/errors'
import { importFields, runImport, takeBackImport, uploaded, uploadQuery } from '@dew-trail/contract/imports'
import { id } from '@dew-trail/contract/common'
import { formulaStart } from '@dew-trail/core/tables/formula-start'
import type { Router } from 'express'
import Papa from 'papaparse'
import { z } from 'zod'
import type { Context } from '../../context.ts'
import { fileBounds } from '../../platform/files/file-bounds.ts'
import { prepareTable } from '../../platform/files/read-file.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needRole } from '../../platform/http/who.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { importJobOf } from '../../domain/imports/import-job.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import {
  insertImport,
  isBeingRead,
  manyErrors,
  maybeImport,
  setMapping,
  setTakenBack,
  takeKeywordsBack,
} from '../../domain/imports/queries.ts'
import { suggestMapping } from '../../domain/imports/suggest-mapping.ts'
import { keepUpload } from '../../domain/imports/uploads.ts'

export function mountImports(router: Router, context: Context): void {
  const { pool } = context
  mount(router, takeBackImport, async ({ siteId, importId, on }) => {
    const row = await maybeImport(pool, siteId, importId)
    if (!row) throw new AppError('notFound', `There is no import ${importId}`)
    if (row.kind === 'graph') needRole('administrator')
    if (row.mapping === null)
      throw new AppError('conflict', 'This file was not imported yet; there is nothing to take back')
    if (await isBeingRead(pool, siteId, importId))
      throw new AppError('conflict', 'This file is being read; take it back when that has ended')
    if (row.kind !== 'keywords' && row.brought === null)
      throw new AppError('conflict', 'This import brought nothing, or is older than what is kept to take imports back')
    if (row.kind !== 'keywords') {
      const title = `${on ? 'Taking back' : 'Putting back'} ${row.fileName}`
      const { id: jobId } = await context.jobs.add(siteId, 'takeBack', title, { importId, on }, `${importId}`)
      return { keywords: null, jobId, actId: null }
    }
    const done = await doAct(context, siteId, async db => {
      await setTakenBack(db, siteId, importId, on)
      const keywords = await takeKeywordsBack(db, siteId, importId, on)
      const title = `${countOf(keywords, 'keyword')} of ${row.fileName} ${on ? 'taken back' : 'put back'}`
      return {
        answer: { keywords },
        act: keywords ? { kind: 'takeBackImport', title, data: { importId, on } } : null,
        changed: ['keywords'],
      }
    })
    return { ...done, jobId: null }
  })
  router.post('/api/sites/:siteId/imports', async (request, response) => {
    const { siteId, kind, fileName } = checkInput(uploadQuery, { ...request.query, ...request.params })
    needRole('editor', siteId)
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
  mount(router, runImport, async ({ siteId, importId, marketId, mapping, keep, period }) => {
    const row = await maybeImport(pool, siteId, importId)
    if (!row || row.kind === 'graph' || row.kind === 'pages')
      throw new AppError('notFound', `There is no import ${importId}`)
    await needMarket(pool, siteId, marketId)
    const fields = importFields[row.kind]
    const missing = fields.filter(field => field.needed && mapping[field.key] === undefined)
    if (missing.length)
      throw new AppError('badInput', `Say which column holds: ${missing.map(field => field.label).join(', ')}`)
    if (row.kind === 'log' && mapping.date === undefined) checkPeriod(period)
    const known = Object.fromEntries(Object.entries(mapping).filter(([key]) => fields.some(field => field.key === key)))
    // The job carries the mapping, so that a second request cannot change what runs.
    const work = { importId, marketId, keep, mapping: known, ...(period ? { period } : {}) }
    const job = await context.jobs.add(siteId, importJobOf(row.kind), `Importing ${row.fileName}`, work, `${importId}`)
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

const longestPeriod = 550
function checkPeriod(period: { from: string; to: string } | undefined): void {
  if (!period)
    throw new AppError(
      'badInput',
      'Say which column holds: Day; or, if the file has none, from which day to which it is',
    )
  const days = (Date.parse(period.to) - Date.parse(period.from)) / 86_400_000 + 1
  if (days < 1) throw new AppError('badInput', `${period.to} lies before ${period.from}`)
  if (days > longestPeriod)
    throw new AppError('badInput', `From ${period.from} to ${period.to} are over ${longestPeriod} days`)
  if (Date.parse(period.to) > Date.now() + 86_400_000) throw new AppError('badInput', `${period.to} lies in the future`)
}
