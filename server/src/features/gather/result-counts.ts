import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import { manyPhrases } from '../../domain/keywords/queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, touchKeywords } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { SourceError } from '../../platform/outside/source-error.ts'

/** Keywords asked for side by side, and how many are saved at a time. */
const [sideBySide, atATime] = [4, 40]
const freshDays = 30

type Count = { keywordId: number; text: number | null; titles: number | null }

/**
 * Asks an engine how many pages have keywords in their text and in their titles, those left out of which it told within a month. Engines say
 * zero where they do not know, so a zero is asked a second time, and again whenever somebody asks.
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
  let done = keywords.length - waiting.length
  for (let from = 0; from < waiting.length; from += atATime) {
    await control.step(done, keywords.length)
    const queue = new PQueue({ concurrency: sideBySide })
    const counted: Count[] = []
    let failure: SourceError | undefined
    await queue.addAll(
      waiting.slice(from, from + atATime).map(({ id, phrase }) => async () => {
        if (failure?.kind === 'quotaUsed') return
        try {
          const [text, titles] = [await count(phrase, 'text'), await count(phrase, 'title')]
          counted.push({ keywordId: id, text, titles })
        } catch (error) {
          if (!(error instanceof SourceError)) throw error
          failure = error
          control.warn(error.message)
        }
      }),
    )
    await saveCounts(context, siteId, marketId, counted)
    done += Math.min(atATime, waiting.length - from)
    if (failure?.kind === 'quotaUsed') throw failure
  }
  await control.step(keywords.length, keywords.length)
  return { asked: waiting.length }
}

async function saveCounts(context: Context, siteId: number, marketId: number, counts: readonly Count[]): Promise<void> {
  if (!counts.length) return
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
