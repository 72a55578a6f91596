import type { Shift } from '@dew-trail/contract/track-changes'
import type { Market } from '@dew-trail/contract/sites'
import { decodeDay } from '@dew-trail/core/positions/day-vector'
import { type CheckedDay, engineShifts, movementByDay } from '@dew-trail/core/positions/engine-shifts'
import { gainedAround } from '@dew-trail/core/positions/gained-around'
import { median } from '@dew-trail/core/demand/theil-sen'
import { pathTypeOf } from '@dew-trail/core/results/path-type'
import type pg from 'pg'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { dayAt } from '../../domain/positions/position-series.ts'
import { manyDays } from '../../domain/positions/day-queries.ts'
import { manyPagesOn } from '../../domain/positions/found-queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'

/** Days that are read before the first one, which tell what is usual. */
const daysToKnow = 40
const leastOfKind = 5
type OfMarket = { market: Market; days: CheckedDay[] }

/** Days on which engines changed how they rank, by the site's own positions in all markets of each; the newest first. */
export async function readShifts(pool: pg.Pool, siteId: number, days: number, today: string): Promise<Shift[]> {
  const { markets } = await needSite(pool, siteId)
  const from = shiftDay(today, -days - daysToKnow)
  const read = async (market: Market): Promise<OfMarket> => ({
    market,
    days: (await manyDays(pool, siteId, market.id, from, today)).map(row => ({
      day: row.day,
      vector: decodeDay(row.positions),
    })),
  })
  const shifts: Shift[] = []
  for (const engine of new Set(markets.map(market => market.engine))) {
    const ofEngine: OfMarket[] = []
    for (const market of markets) if (market.engine === engine) ofEngine.push(await read(market))
    for (const shift of engineShifts(movementByDay(ofEngine.map(each => each.days))))
      if (shift.day >= shiftDay(today, -days))
        shifts.push({
          engine,
          ...shift,
          devices: devicesOf(ofEngine, shift.day),
          kinds: await kindsOf(pool, siteId, ofEngine, shift.day),
        })
  }
  return shifts.sort((a, b) => (a.day < b.day ? 1 : -1))
}

function devicesOf(markets: readonly OfMarket[], day: string): Shift['devices'] {
  return (['desktop', 'mobile'] as const).flatMap(device => {
    const days = movementByDay(markets.filter(each => each.market.device === device).map(each => each.days))
    const onDay = days.find(each => each.day === day)
    const before = days.filter(each => each.day < day && each.day >= shiftDay(day, -28))
    return onDay && before.length ? [{ device, moved: onDay.moved, usual: median(before.map(each => each.moved)) }] : []
  })
}

/** How own pages moved around a day by where they stand in the site. */
async function kindsOf(
  pool: pg.Pool,
  siteId: number,
  markets: readonly OfMarket[],
  day: string,
): Promise<Shift['kinds']> {
  const gains = new Map<string, number[]>()
  for (const { market, days } of markets) {
    const from = shiftDay(day, -14)
    const near = days.filter(each => each.day >= from && each.day <= shiftDay(day, 14))
    for (const { slot, url } of await manyPagesOn(pool, siteId, market.id, shiftDay(day, -1))) {
      if (url === null) continue
      const positions = new Int16Array(29)
      for (const each of near) positions[dayAt(from, each.day)] = each.vector[slot] ?? 0
      const gained = gainedAround(positions, 14)
      if (gained === null) continue
      const kind = pathTypeOf(url)
      const list = gains.get(kind)
      if (list) list.push(gained)
      else gains.set(kind, [gained])
    }
  }
  return [...gains]
    .filter(([, list]) => list.length >= leastOfKind)
    .map(([name, list]) => ({
      name,
      keywords: list.length,
      gained: list.reduce((sum, each) => sum + each, 0) / list.length,
    }))
    .sort((a, b) => Math.abs(b.gained) - Math.abs(a.gained))
    .slice(0, 6)
}
