import type { Context } from '../../context.ts'
import { manyPhrases } from '../../domain/keywords/queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, touchKeywords } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { askInBatches } from '../../platform/jobs/ask-in-batches.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'

/** Keywords asked for side by side, and how many are saved at a time. */
const [atOnce, atATime] = [4, 40]
const freshDays = 30

type Count = { keywordId: number; text: number | null; titles: number | null }

/**
 * Asks an engine how many pages have keywords in their text and in their titles; keywords it counted within a month are left out. Engines
 * say zero where they do not know, so a zero is requested a second time, and again by every later job.
 */
export async function countsJob(context: Context, control: JobControl): Promise<object> {
  const { pool, sources } = context
  const { siteId } = control
  const { marketId, keywordIds } = control.job.payload as { marketId: number; keywordIds: number[] }
  const market = await needMarket(pool, siteId, marketId)
  const keywords = await manyPhrases(pool, siteId, market.language, keywordIds)
  const { rows } = await pool.query<{ id: number }>(
    `select keyword_id id from keyword_count where site_id = $1 and market_id = $2 and keyword_id = any($3)
       and in_text > 0 and in_titles > 0 and asked_at > now() - make_interval(days => $4)`,
    [siteId, marketId, keywordIds, freshDays],
  )
  const fresh = new Set(rows.map(row => row.id))
  const waiting = keywords.filter(each => !fresh.has(each.id))
  const count = async (phrase: string, where: 'text' | 'title'): Promise<number | null> => {
    const first = await sources.countResults(market, phrase, where, control.signal)
    return first === 0 ? sources.countResults(market, phrase, where, control.signal) : first
  }
  control.clearWarnings()
  await askInBatches(
    control,
    waiting,
    { done: keywords.length - waiting.length, total: keywords.length, atOnce, atATime },
    async ({ id, phrase }): Promise<Count> => ({
      keywordId: id,
      text: await count(phrase, 'text'),
      titles: await count(phrase, 'title'),
    }),
    counts => saveCounts(context, siteId, marketId, counts),
  )
  return { requested: waiting.length }
}

async function saveCounts(context: Context, siteId: number, marketId: number, counts: readonly Count[]): Promise<void> {
  const ids = counts.map(each => each.keywordId)
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await db.query(
      `insert into keyword_count (site_id, market_id, keyword_id, in_text, in_titles)
       select $1, $2, u.* from unnest($3::bigint[], $4::bigint[], $5::bigint[]) u
       on conflict (site_id, market_id, keyword_id) do update set in_text = excluded.in_text,
         in_titles = excluded.in_titles, asked_at = now()`,
      [siteId, marketId, ids, counts.map(each => each.text), counts.map(each => each.titles)],
    )
    await touchKeywords(db, siteId, ids)
  })
  context.events.publish(siteId, { type: 'keywords' })
}
