import type { Market } from '@dew-trail/contract/sites'
import { notFound } from '@dew-trail/core/positions/day-vector'
import type { Context } from '../../context.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { type DayFindings, savePositions } from './save-positions.ts'

type Found = {
  keywordId: number
  slot: number
  day: string
  depth: number
  position: number | null
  url: string | null
}

/**
 * What the latest results of keywords say of those that are tracked goes into their record as a check of that day, whoever fetched them: a
 * place is one figure everywhere. Not found counts only where it was looked as deep as checks look: a shallower page would take back what a
 * deeper one has found. Results of before the last check say nothing new.
 */
export async function keepLatestPositions(
  { pool, config, events }: Pick<Context, 'pool' | 'config' | 'events'>,
  site: { id: number; domain: string },
  market: Market,
  keywordIds: readonly number[],
): Promise<void> {
  const found = await manyFound(pool, site, market, keywordIds, config.CHECK_DEPTH)
  if (!found.length) return
  const byDay = new Map<string, DayFindings>()
  for (const { slot, day, depth, position, url } of found) {
    const findings = byDay.get(day) ?? { day, positions: new Map(), pages: new Map() }
    byDay.set(day, findings)
    findings.positions.set(slot, position ?? notFound(depth))
    findings.pages.set(slot, url)
  }
  await inTransaction(pool, async db => {
    await lockSite(db, site.id)
    await savePositions(db, site.id, market, [...byDay.values()])
    await touchKeywords(
      db,
      site.id,
      found.map(each => each.keywordId),
    )
  })
  events.publish(site.id, { type: 'positions' })
}

async function manyFound(
  db: Db,
  site: { id: number; domain: string },
  market: Market,
  keywordIds: readonly number[],
  checkDepth: number,
): Promise<Found[]> {
  const { rows } = await db.query<Found>(
    `select t.keyword_id "keywordId", t.slot, h.day::text "day", h.depth, own.position, own.url
     from tracked_keyword t
     join keyword k on k.site_id = $1 and k.id = t.keyword_id and k.language = $5
     join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = t.keyword_id
       and h.source = 'engines'
     left join lateral (
       select r.now as position, a.url from result_row r
       join result_site s on s.site_id = $1 and s.id = r.on_site and s.domain = $4
       join result_address a on a.site_id = $1 and a.id = r.page_id
       where r.site_id = $1 and r.market_id = $2 and r.keyword_id = t.keyword_id and r.now is not null
       order by r.now limit 1) own on true
     where t.site_id = $1 and t.active and t.keyword_id = any($3)
       and (t.market_ids is null or $2 = any(t.market_ids))
       and (own.position is not null or h.depth >= $6)
       and h.day >= coalesce((select max(day) from position_day d where d.site_id = $1 and d.market_id = $2), h.day)`,
    [site.id, market.id, keywordIds, site.domain, market.language, checkDepth],
  )
  return rows
}
