import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import { type TableFormat, tableQuery } from '@dew-trail/contract/tables'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { checkIds } from '../http/check-ids.ts'
import { checkInput } from '../http/mount.ts'
import type { Table } from './table.ts'
import { writeTable } from './write-table.ts'

const types: Record<TableFormat, string> = {
  csv: 'text/csv; charset=utf-8',
  jsonl: 'application/jsonl; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
}

/** Writes the tables that features registered, by name. */
export function mountTables(router: Router, context: Context, tables: Readonly<Record<string, Table>>): void {
  router.get('/api/sites/:siteId/tables/:table', async (request, response) => {
    const query = checkInput(tableQuery, { ...request.query, ...request.params })
    await checkIds(context.pool, query)
    const table = tables[query.table]
    if (!table)
      throw new AppError('notFound', `There is no table "${query.table}"; there are ${Object.keys(tables).join(', ')}`)
    const parts = await writeTable(await table(context, query.siteId, query.marketId), query)
    context.people.noteExport(query.siteId, `Table "${query.table}" as ${query.format.toUpperCase()}`)
    response.setHeader('content-type', types[query.format])
    response.setHeader('content-disposition', `attachment; filename="${query.table}.${query.format}"`)
    await pipeline(Readable.from(parts), response).catch(error => {
      // The browser left in the middle.
      context.log.debug({ err: error }, 'a table ended early')
    })
  })
}
