import { packedRuns } from '../../platform/db/packed.ts'
import type { Db } from '../../platform/db/pool.ts'

/** What an import wrote on a day of a market: of each slot the value before and the value written. */
export type WrittenDay = { day: string; slots: Int32Array; before: Int16Array; written: Int16Array }

const bytesOf = (list: Int32Array | Int16Array): Uint8Array =>
  new Uint8Array(list.buffer, list.byteOffset, list.byteLength)

/** The memory of a list out of its bytes, which may begin anywhere. */
const memoryOf = (bytes: Buffer): ArrayBuffer => new Uint8Array(bytes).buffer
/** A change of the page found that an import wrote; `before` null: there was none of that day, else what it said. */
export type WrittenPage = { slot: number; day: string; url: string | null; before: { url: string | null } | null }

export async function insertWritten(
  db: Db,
  siteId: number,
  importId: number,
  marketId: number,
  days: readonly WrittenDay[],
  pages: readonly WrittenPage[],
): Promise<void> {
  const packed = (day: WrittenDay): Uint8Array =>
    Buffer.concat([bytesOf(day.slots), bytesOf(day.before), bytesOf(day.written)])
  for (const { rows, starts, packed: bytes } of packedRuns(days, packed))
    await db.query(
      `insert into import_position (site_id, import_id, market_id, day, slots, before, written)
       select $1, $2, $3, day, substr($4::bytea, at, 4 * n), substr($4, at + 4 * n, 2 * n),
         substr($4, at + 6 * n, 2 * n)
       from unnest($5::date[], $6::integer[], $7::integer[]) u (day, at, n)`,
      [siteId, importId, marketId, bytes, rows.map(r => r.day), starts, rows.map(r => r.slots.length)],
    )
  await db.query(
    `insert into import_page_found select $1, $2, $3, *
     from unnest($4::integer[], $5::date[], $6::text[], $7::boolean[], $8::text[])`,
    [
      siteId,
      importId,
      marketId,
      pages.map(page => page.slot),
      pages.map(page => page.day),
      pages.map(page => page.url),
      pages.map(page => page.before !== null),
      pages.map(page => page.before?.url ?? null),
    ],
  )
}
/** Ids of the markets of which an import wrote anything. */
export async function manyWrittenMarkets(db: Db, siteId: number, importId: number): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    'select distinct market_id id from import_position where site_id = $1 and import_id = $2 order by 1',
    [siteId, importId],
  )
  return rows.map(row => row.id)
}
export async function manyWrittenDays(
  db: Db,
  siteId: number,
  importId: number,
  marketId: number,
): Promise<WrittenDay[]> {
  const { rows } = await db.query<{ day: string; slots: Buffer; before: Buffer; written: Buffer }>(
    `select day::text "day", slots, before, written from import_position
     where site_id = $1 and import_id = $2 and market_id = $3 order by day`,
    [siteId, importId, marketId],
  )
  return rows.map(({ day, slots, before, written }) => ({
    day,
    slots: new Int32Array(memoryOf(slots)),
    before: new Int16Array(memoryOf(before)),
    written: new Int16Array(memoryOf(written)),
  }))
}
export async function manyWrittenPages(
  db: Db,
  siteId: number,
  importId: number,
  marketId: number,
): Promise<WrittenPage[]> {
  const { rows } = await db.query<Omit<WrittenPage, 'before'> & { there: boolean; before: string | null }>(
    `select slot, day::text "day", url, there_before there, url_before before from import_page_found
     where site_id = $1 and import_id = $2 and market_id = $3 order by slot, day`,
    [siteId, importId, marketId],
  )
  return rows.map(({ there, before, ...row }) => ({ ...row, before: there ? { url: before } : null }))
}
/** Takes changes of the page found away, by slot and day. */
export async function deletePagesFound(
  db: Db,
  siteId: number,
  marketId: number,
  rows: ReadonlyArray<{ slot: number; day: string }>,
): Promise<void> {
  await db.query(
    `delete from page_found p using unnest($3::integer[], $4::date[]) d (slot, day)
     where p.site_id = $1 and p.market_id = $2 and p.slot = d.slot and p.day = d.day`,
    [siteId, marketId, rows.map(row => row.slot), rows.map(row => row.day)],
  )
}
/** Takes days away on which nothing was checked. */
export async function deleteDays(db: Db, siteId: number, marketId: number, days: readonly string[]): Promise<void> {
  for (const table of ['position_day', 'visibility_day'])
    await db.query(`delete from ${table} where site_id = $1 and market_id = $2 and day = any($3::date[])`, [
      siteId,
      marketId,
      days,
    ])
}
