import { keywordColumns } from '@dew-trail/contract/gather'
import { visitsFromChances } from '@dew-trail/core/demand/click-curve'
import { decodeDay, positionAt } from '@dew-trail/core/positions/day-vector'
import type { Batch, CellValue } from '@dew-trail/core/tables/column-spec'
import type pg from 'pg'
import { needMarket } from '../sites/need-market.ts'
import { maybeLastDay } from '../track/queries.ts'
import { type KeywordRow, manyKeywordRows } from './queries.ts'

const atATime = 4_000

/** Lines of a site's keyword rows changed since a revision: batches column by column, then `{revision}`. */
export async function* streamKeywordRows(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  since: number,
): AsyncGenerator<string> {
  const market = await needMarket(pool, siteId, marketId)
  const last = await maybeLastDay(pool, siteId, marketId)
  const day = last ? decodeDay(last.places) : null
  let revision = since
  for (;;) {
    const rows = await manyKeywordRows(pool, siteId, marketId, market.place, revision, atATime)
    if (rows.length) {
      revision = rows.at(-1)![1]
      yield `${JSON.stringify(toBatch(rows, day, market.device))}\n`
    }
    if (rows.length < atATime) break
  }
  yield `${JSON.stringify({ revision })}\n`
}

function toBatch(rows: KeywordRow[], day: Int16Array | null, device: 'desktop' | 'mobile'): Batch {
  const columns: Record<string, CellValue[]> = Object.fromEntries(
    keywordColumns.map(column => [column.key, new Array<CellValue>(rows.length)]),
  )
  const ids = rows.map(row => row[0])
  rows.forEach((row, i) => {
    const [
      ,
      ,
      phrase,
      kind,
      intent,
      intentShare,
      words,
      average,
      months,
      monthsFrom,
      cpc,
      bidLow,
      bidHigh,
      competition,
      demandState,
      fetchedAt,
      found,
      kept,
      difficulty,
      chance3,
      chance10,
      chance20,
      likelyFrom,
      likelyTo,
      levels,
      ownLevel,
      weighState,
      weighedOn,
      page,
      slot,
      demandSource,
    ] = row
    const visits =
      chance3 === null || chance10 === null || chance20 === null
        ? null
        : visitsFromChances(average, { within3: chance3, within10: chance10, within20: chance20 }, device)
    const place = slot === null ? 0 : positionAt(day, slot)
    const ways = found?.split('|').map(part => part.split(':') as [string, string]) ?? []
    const cells: Record<string, CellValue> = {
      phrase,
      kind,
      intent,
      intentShare: round(intentShare, 3),
      words,
      searches: round(average, 1),
      months: padMonths(months),
      monthsEnd: monthsFrom && months ? addMonths(monthsFrom, months.length - 1) : null,
      cpc: round(cpc, 2),
      bidLow: round(bidLow, 2),
      bidHigh: round(bidHigh, 2),
      competition: round(competition, 2),
      demandState: demandState ?? 'notAsked',
      demandDate: fetchedAt,
      demandSource,
      gatherings: [...new Set(ways.map(way => way[0]))].join('|'),
      cameFrom: [...new Set(ways.map(way => way[1]))].sort().join('|') || 'import',
      kept,
      difficulty: round(difficulty, 1),
      chance: round(chance10, 4),
      likelyFrom,
      likelyTo,
      terrain: levels?.length ? levels.slice(0, 10).map(level => round(level, 1)) : null,
      ownLevel: round(ownLevel, 1),
      visits: round(visits, 1),
      worth: visits === null || cpc === null ? null : round(visits * cpc, 2),
      weighState: weighState ?? '',
      weighedOn,
      position: place > 0 ? place : null,
      positionState: place === 0 ? null : place > 0 ? 'found' : `beyond${-place}`,
      page,
      tracked: slot !== null,
    }
    for (const { key } of keywordColumns) columns[key]![i] = cells[key] ?? null
  })
  return { ids, columns }
}

const round = (value: number | null, digits: number): number | null =>
  value === null ? null : Math.round(value * 10 ** digits) / 10 ** digits
/** The last twelve months, oldest first; months before the first known one are unknown. */
const padMonths = (months: number[] | null): Array<number | null> | null =>
  months ? [...new Array<null>(Math.max(0, 12 - months.length)).fill(null), ...months.slice(-12)] : null
function addMonths(isoDay: string, months: number): string {
  const at = Number(isoDay.slice(0, 4)) * 12 + Number(isoDay.slice(5, 7)) - 1 + months
  return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`
}
