import { linkBurst } from '@dew-trail/core/links/link-burst'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import type { Context } from '../../context.ts'
import { insertNote } from '../../domain/notes/queries.ts'
import { lockSite, manySites } from '../../domain/sites/queries.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'

const graphId = 1
/** Weeks that are looked at, since feeds and files tell of links late, and those before that say what is usual. */
const [weeksLookedAt, weeksBefore] = [5, 26]
const dayMs = 86_400_000

/** New linking sites of a site by the day on which a feed or a file says they began to link; what only our crawl saw has no such day. */
async function manyNew(db: Db, domain: string, from: string): Promise<Map<string, number>> {
  const { rows } = await db.query<{ day: string; sites: number }>(
    `select day::text, count(*)::integer sites from (
       select min(l.first_seen) "day" from linked_site s join link l on l.graph_id = $1 and l.target_site_id = s.id
         and l.source_site_id <> s.id and l.seen_by <> $3
       where s.graph_id = $1 and s.domain = $2 group by l.source_site_id) d
     where day >= $4 group by 1`,
    [graphId, domain, seenByBits.crawl, from],
  )
  return new Map(rows.map(row => [row.day, row.sites]))
}

const isoOf = (ms: number): string => new Date(ms).toISOString().slice(0, 10)

/** Notes on each site's line the weeks in which links came in a burst, each once, on the day on which most came. Gives how many it noted. */
export async function noteBursts(context: Context, today = isoOf(Date.now())): Promise<number> {
  let noted = 0
  // Weeks begin on Mondays; the one under way is not over.
  const now = Date.parse(`${today}T00:00:00Z`)
  const monday = now - ((new Date(now).getUTCDay() + 6) % 7) * dayMs
  for (const { id: siteId, domain } of await manySites(context.pool)) {
    const first = monday - (weeksLookedAt + weeksBefore) * 7 * dayMs
    const byDay = await manyNew(context.pool, domain, isoOf(first))
    const weeks = Array.from({ length: weeksLookedAt + weeksBefore }, (_, w) =>
      Array.from({ length: 7 }, (__, d) => {
        const day = isoOf(first + (w * 7 + d) * dayMs)
        return { day, sites: byDay.get(day) ?? 0 }
      }),
    )
    const sums = weeks.map(days => days.reduce((sum, each) => sum + each.sites, 0))
    // Before the first link that is known nothing is known to be usual.
    const begun = sums.findIndex(sum => sum > 0)
    if (begun < 0) continue
    const fresh = await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      const { rows } = await db.query<{ until: string | null }>(
        'select bursts_noted_until::text "until" from site where id = $1',
        [siteId],
      )
      let [until, count] = [rows[0]!.until, 0]
      for (let w = weeksBefore; w < weeks.length; w++) {
        const start = weeks[w]![0]!.day
        const burst = linkBurst(sums.slice(Math.max(begun, w - weeksBefore), w), sums[w]!)
        if (!burst || (until !== null && start <= until)) continue
        const { day } = weeks[w]!.reduce((best, each) => (each.sites > best.sites ? each : best))
        const usual = burst.usual < 1 ? 'under one' : String(Math.round(burst.usual))
        await insertNote(db, siteId, {
          day,
          text: `${sums[w]} sites began to link within a week, where ${usual} a week is usual`,
          touches: {},
        })
        until = start
        count++
      }
      if (count) await db.query('update site set bursts_noted_until = $2 where id = $1', [siteId, until])
      return count
    })
    if (fresh) context.events.publish(siteId, { type: 'notes' })
    noted += fresh
  }
  return noted
}
