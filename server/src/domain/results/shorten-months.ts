import type { Retention } from '@dew-trail/contract/keeping'
import { keptDepth, toDepth } from '@dew-trail/core/results/kept-depth'
import { decodeMonth, encodeMonth } from '@dew-trail/core/results/month-results'
import type pg from 'pg'
import { packedRuns } from '../../platform/db/packed.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'

const atATime = 2_000
/** Months of keywords that the space of depths is told from; few, since it is told each time somebody looks. */
const sampled = 200
const msADay = 86_400_000

/** Takes results out of months gone by that are kept no longer; gives of how many months of keywords. Whole months: one is as old as its last day. */
export async function shortenMonths(pool: pg.Pool, kept: Retention, now = new Date()): Promise<number> {
  let shortened = 0
  for (const month of await manyMonthNames(pool)) {
    const last = Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5, 7)), 0)
    const depth = keptDepth(Math.floor((now.getTime() - last) / msADay), kept)
    if (depth === 0) shortened += await deleteMonth(pool, month)
    else if (Number.isFinite(depth)) shortened += await shortenMonth(pool, month, depth)
  }
  return shortened
}

async function manyMonthNames(db: Db): Promise<string[]> {
  const { rows } = await db.query<{ month: string }>('select distinct month::text "month" from result_month')
  return rows.map(row => row.month)
}
const deleteMonth = async (db: Db, month: string): Promise<number> =>
  (await db.query('delete from result_month where month = $1', [month])).rowCount ?? 0

type MonthRow = { siteId: number; marketId: number; keywordId: number; days: Buffer }

async function shortenMonth(pool: pg.Pool, month: string, depth: number): Promise<number> {
  let shortened = 0
  for (;;) {
    const count = await inTransaction(pool, async db => {
      const { rows } = await db.query<MonthRow>(
        `select site_id "siteId", market_id "marketId", keyword_id "keywordId", days from result_month
         where month = $1 and (kept_depth is null or kept_depth > $2) limit ${atATime} for update`,
        [month, depth],
      )
      for (const run of packedRuns(rows, row => encodeMonth(toDepth(decodeMonth(row.days), depth))))
        await db.query(
          `update result_month m set days = substr($1::bytea, u.at, u.bytes), kept_depth = $2
           from unnest($3::bigint[], $4::integer[], $5::integer[], $6::integer[], $7::integer[])
             u (site, market, keyword, at, bytes)
           where m.site_id = u.site and m.market_id = u.market and m.keyword_id = u.keyword and m.month = $8`,
          [
            run.packed,
            depth,
            run.rows.map(row => row.siteId),
            run.rows.map(row => row.marketId),
            run.rows.map(row => row.keywordId),
            run.starts,
            run.lengths,
            month,
          ],
        )
      return rows.length
    })
    shortened += count
    if (count < atATime) return shortened
  }
}

/**
 * About how many bytes kept results take by depth: those of a sample of months are shortened to each bound, and the parts of the whole that
 * they take are those of the table's size.
 */
export async function resultDepths(db: Db): Promise<{ within10: number; within30: number; beyond30: number }> {
  const { rows: sizes } = await db.query<{ bytes: number; rows: number }>(
    `select coalesce(sum(pg_total_relation_size(c.oid)), 0)::float8 bytes,
       coalesce(sum(greatest(c.reltuples, 0)), 0)::float8 "rows"
     from pg_class c where c.relname ~ '^result_month_\\d+$' and c.relkind = 'r'`,
  )
  const { bytes, rows: known } = sizes[0]!
  // Parts of the table at random, more than wanted: the counts that the database keeps are rough.
  const part = known > 0 ? Math.min(100, (200 * sampled) / known) : 100
  const { rows } = await db.query<{ days: Buffer }>(
    `select days from result_month tablesample system ($1) limit ${sampled}`,
    [part],
  )
  const months = rows.map(row => decodeMonth(row.days))
  const [ten, thirty] = [10, 30].map(depth =>
    months.reduce((sum, days) => sum + encodeMonth(toDepth(days, depth)).length, 0),
  )
  const all = rows.reduce((sum, row) => sum + row.days.length, 0)
  if (!all) return { within10: 0, within30: 0, beyond30: 0 }
  // What a month takes besides its results goes with the first ones.
  return {
    within10: (bytes * ten!) / all,
    within30: (bytes * (thirty! - ten!)) / all,
    beyond30: (bytes * (all - thirty!)) / all,
  }
}
