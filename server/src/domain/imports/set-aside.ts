import { AppError } from '@dew-trail/contract/errors'
import type { Db } from '../../platform/db/pool.ts'
import { columnsOf } from '../../platform/db/site-partition.ts'
import type { ImportRow } from './queries.ts'

/** Rows of a table that an import writes over: `where` names them with parameters from $3 on, in the table and in what is set aside alike. */
export type Written = {
  table: 'log_week' | 'log_page_week' | 'popularity'
  where: string
  values: readonly unknown[]
}

/** Keeps the rows that an import is about to write over. */
export async function setAside(
  db: Db,
  siteId: number,
  importId: number,
  { table, where, values }: Written,
): Promise<void> {
  await db.query(
    `insert into import_${table} (import_id, ${(await columnsOf(db, table)).join(', ')})
     select $2, t.* from ${table} t where site_id = $1 and ${where}`,
    [siteId, importId, ...values],
  )
}

/** Lets the rows in use and those set aside change places. */
export async function swapAside(db: Db, siteId: number, importId: number, written: Written): Promise<void> {
  const { table, where, values } = written
  const columns = (await columnsOf(db, table)).join(', ')
  await db.query(
    `create temp table coming_${table} on commit drop as select ${columns} from import_${table}
     where site_id = ${Number(siteId)} and import_id = ${Number(importId)}`,
  )
  await db.query(`delete from import_${table} where site_id = $1 and import_id = $2`, [siteId, importId])
  await setAside(db, siteId, importId, written)
  // $2 is not used here, and a parameter without a use has no type.
  await db.query(`delete from ${table} where site_id = $1 and $2::bigint is not null and ${where}`, [
    siteId,
    importId,
    ...values,
  ])
  await db.query(`insert into ${table} (${columns}) select ${columns} from coming_${table}`)
}

/**
 * Throws "conflict" where a later import wrote over what this one wrote and is not taken back: what was there before would come back over it.
 * `same` names what both must share, as a condition on the later import `l` with parameters from $4 on.
 */
export async function needLatest(db: Db, row: ImportRow, same: string, values: readonly unknown[] = []): Promise<void> {
  const { rows } = await db.query<{ name: string }>(
    `select file_name name from import l where site_id = $1 and id > $2 and kind = $3 and brought is not null
       and taken_back_at is null and ${same} order by id desc limit 1`,
    [row.siteId, row.id, row.kind, ...values],
  )
  if (rows[0])
    throw new AppError(
      'conflict',
      `"${rows[0].name}" was imported later and wrote over the same. Take that one back first.`,
    )
}
