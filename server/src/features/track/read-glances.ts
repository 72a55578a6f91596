import type { Glance } from '@dew-trail/contract/track'
import type { Market } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { DayReader } from '../../domain/positions/day-reader.ts'
import { maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manySlots } from '../../domain/positions/slot-queries.ts'
import { manySites, type SiteRow } from '../../domain/sites/queries.ts'
import { readBefore, visibilityOf } from './read-positions.ts'

const compareDays = 7
const firstPage = 10
/** So many days without a check need a look. */
const longWithout = 8
/** A fall of visibility by so many points needs a look. */
const clearFall = 3

type Warnings = { late: number; failing: Map<number, string> }

/**
 * All sites of the installation, a line for each market in which positions are checked (the first one where none is), those that need a
 * look first.
 */
export async function readGlances(pool: pg.Pool, today: string): Promise<Glance[]> {
  const glances: Glance[] = []
  for (const site of await manySites(pool)) {
    const warnings = await warningsOf(pool, site.id, today)
    const ofSite: Glance[] = []
    for (const market of site.markets) ofSite.push(await glanceOf(pool, site, market, warnings, today))
    const checked = ofSite.filter(each => each.day !== null)
    const shown = checked.length ? checked : ofSite.slice(0, 1)
    // What is of the whole site is said once.
    if (warnings.late)
      shown[0]?.look.push(`${warnings.late} planned ${warnings.late === 1 ? 'page is' : 'pages are'} late`)
    glances.push(...shown)
  }
  return glances.sort((a, b) => b.look.length - a.look.length)
}

async function warningsOf(pool: pg.Pool, siteId: number, today: string): Promise<Warnings> {
  const [late, failing] = await Promise.all([
    pool.query<{ late: number }>(
      `select count(*)::integer late from page_plan
       where site_id = $1 and removed_at is null and state <> 'published' and deadline < $2`,
      [siteId, today],
    ),
    pool.query<{ marketId: number; error: string }>(
      `select (subject->>'marketId')::integer "marketId", last_error error from schedule
       where site_id = $1 and kind = 'check' and last_error is not null`,
      [siteId],
    ),
  ])
  return { late: late.rows[0]!.late, failing: new Map(failing.rows.map(row => [row.marketId, row.error])) }
}

/** A market by the same rule as the head of its positions: last known positions, and the same keywords seven days before. */
async function glanceOf(
  pool: pg.Pool,
  site: SiteRow,
  market: Market,
  { failing }: Warnings,
  today: string,
): Promise<Glance> {
  const tracked = await manySlots(pool, site.id, market)
  const last = await maybeLastDay(pool, site.id, market.id)
  const reader = new DayReader(pool, site.id, market.id)
  const now = last
    ? await reader.lastKnown(
        tracked.map(row => row.slot),
        last.day,
      )
    : new Map()
  const before = last ? await readBefore(reader, now, compareDays) : new Map()
  const rows = tracked.map(({ slot, searches }) => ({
    searches,
    now: now.get(slot)?.position ?? 0,
    before: before.get(slot)?.position ?? 0,
  }))
  const { now: visibility, change } = visibilityOf(rows, market.device)
  const both = rows.filter(row => row.now !== 0 && row.before !== 0)
  const isIn = (position: number): boolean => position > 0 && position <= firstPage
  const error = failing.get(market.id)
  const days = last ? daysBetween(last.day, today) : null
  const look = [
    ...(error ? [`The last check by itself failed: ${error}`] : []),
    ...(tracked.length && !last ? ['Its keywords were never checked'] : []),
    ...(days !== null && days > longWithout ? [`Not checked for ${days} days`] : []),
    ...(change !== null && change <= -clearFall ? [`Visibility fell by ${Math.abs(change).toFixed(1)} points`] : []),
  ]
  return {
    siteId: site.id,
    name: site.name,
    domain: site.domain,
    market,
    tracked: tracked.length,
    day: last?.day ?? null,
    visibility,
    change,
    entered: both.length ? both.filter(row => isIn(row.now) && !isIn(row.before)).length : null,
    left: both.length ? both.filter(row => !isIn(row.now) && isIn(row.before)).length : null,
    look,
  }
}

const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)
