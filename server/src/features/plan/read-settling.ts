import { settlingDays, siteSettling, stayFrom, stayUntil } from '@dew-trail/core/planning/settling-time'
import type { Market } from '@dew-trail/contract/sites'
import type { Db } from '../../platform/db/pool.ts'

/** The latest published pages that are looked at, of those old enough to tell. */
const mostPages = 40

export type Settling = ReturnType<typeof siteSettling>
/** How many days the pages of a site take until they stand where they stay in a market, by the lead keywords of published pages that are tracked. */
export async function readSettling(db: Db, siteId: number, market: Pick<Market, 'id' | 'place'>): Promise<Settling> {
  // Positions are two bytes each, as `day-vector` writes them: 0 = not looked at.
  const { rows } = await db.query<{ days: number[]; positions: number[] }>(
    `select array_agg(age order by age) days,
       array_agg(case when raw > 32767 then raw - 65536 else raw end order by age) positions
     from (
       select p.id, d.day - p.published_on age,
         get_byte(d.positions, 2 * t.slot) + 256 * get_byte(d.positions, 2 * t.slot + 1) raw
       from (select id, published_on from page_plan where site_id = $1 and removed_at is null and not existing
         and state = 'published' and published_on <= current_date - $6::integer order by published_on desc limit $3) p
       join lateral (select k.keyword_id from page_plan_keyword k
         left join demand d on d.site_id = $1 and d.keyword_id = k.keyword_id and d.place = $5
         where k.site_id = $1 and k.page_id = p.id
         order by k.at nulls last, d.searches desc nulls last, k.keyword_id limit 1) k on true
       join tracked_keyword t on t.site_id = $1 and t.keyword_id = k.keyword_id
       join position_day d on d.site_id = $1 and d.market_id = $2 and d.day >= p.published_on
         and d.day <= p.published_on + $4::integer and length(d.positions) >= 2 * t.slot + 2
     ) c where raw <> 0 group by id`,
    [siteId, market.id, mostPages, stayUntil, market.place, stayFrom],
  )
  return siteSettling(
    rows.flatMap(({ days, positions }) => {
      const took = settlingDays(days.map((day, i) => ({ day, position: positions[i]! })))
      return took === null ? [] : [took]
    }),
  )
}
