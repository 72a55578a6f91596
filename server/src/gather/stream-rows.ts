import { keywordColumns } from '@dew-trail/contract/gather'
import { type ClickCurve, visitsFromChances } from '@dew-trail/core/demand/click-curve'
import { isHiddenDemand } from '@dew-trail/core/demand/hidden-demand'
import { decodeDay, positionAt } from '@dew-trail/core/positions/day-vector'
import type { Batch, CellValue } from '@dew-trail/core/tables/column-spec'
import { type Brand, findBrand } from '@dew-trail/core/words/brand-words'
import { guessIntent } from '@dew-trail/core/words/intent'
import type pg from 'pg'
import { manyCurves } from '../log/queries.ts'
import { brandsOf } from '../sites/brand-words.ts'
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
  const brands = await brandsOf(pool, siteId)
  const curves = await manyCurves(pool, siteId)
  const ready: Ready = {
    day,
    device: market.device,
    brands,
    curve: brand => curves.find(each => each.device === market.device && each.brand === brand)?.shares,
  }
  let revision = since
  for (;;) {
    const rows = await manyKeywordRows(pool, siteId, marketId, market.place, revision, atATime)
    if (rows.length) {
      revision = rows.at(-1)![1]
      yield `${JSON.stringify(toBatch(rows, ready))}\n`
    }
    if (rows.length < atATime) break
  }
  yield `${JSON.stringify({ revision })}\n`
}

type Ready = {
  day: Int16Array | null
  device: 'desktop' | 'mobile'
  brands: Brand[]
  curve(brand: boolean): ClickCurve | undefined
}

function toBatch(rows: KeywordRow[], { day, device, brands, curve }: Ready): Batch {
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
      family,
      trend,
      yearly,
      season,
      peaks,
      rounded,
      low,
      high,
      logSearches,
      logImpressions,
      logClicks,
      logPosition,
      logDays,
      pruned,
      lists,
    ] = row
    const brand = findBrand(phrase, brands)
    // Brand words change with the site, so what they do to the intent is worked out here.
    const named = brand ? guessIntent(phrase, undefined, true) : null
    const visits =
      chance3 === null || chance10 === null || chance20 === null
        ? null
        : visitsFromChances(
            average,
            { within3: chance3, within10: chance10, within20: chance20 },
            device,
            curve(brand !== null),
          )
    const place = slot === null ? 0 : positionAt(day, slot)
    const ways = found?.split('|').map(part => part.split(':') as [string, string]) ?? []
    const cells: Record<string, CellValue> = {
      phrase,
      kind,
      intent: named?.intent ?? intent,
      intentShare: round(named?.probability ?? intentShare, 3),
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
      family: textNumber(family),
      trend,
      yearly: round(yearly, 3),
      season: round(season, 2),
      peaks: peaks?.join('|') ?? null,
      rounded: rounded === null ? null : rounded ? 'yes' : 'no',
      searchesLow: round(low, 1),
      searchesHigh: round(high, 1),
      brand: brand ? (brand.own ? 'own' : 'rival') : 'none',
      hidden: isHiddenDemand(average, demandState === 'known' || demandState === 'nothing', logSearches),
      logSearches: round(logSearches, 1),
      logImpressions: logImpressions === null || !logDays ? null : round((logImpressions * 30) / logDays, 1),
      logClicks: logClicks === null || !logDays ? null : round((logClicks * 30) / logDays, 1),
      logPosition: round(logPosition, 1),
      pruned,
      fittedCurve: curve(brand !== null) !== undefined,
      lists,
    }
    for (const { key } of keywordColumns) columns[key]![i] = cells[key] ?? null
  })
  return { ids, columns }
}

/** A number of 52 bits that equal texts share and different ones hardly ever (two FNV-1a hashes). */
function textNumber(text: string): number {
  let a = 0x811c9dc5
  let b = 0x9e3779b9
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    a = Math.imul(a ^ code, 0x01000193)
    b = Math.imul(b ^ code, 0x85ebca6b) ^ (b >>> 13)
  }
  return (a >>> 0) * 1_048_576 + ((b >>> 0) & 0xfffff)
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
