import { lackKinds } from '@dew-trail/core/results/what-lacks'
import { keywordColumns } from '@dew-trail/contract/gather'
import type { Market } from '@dew-trail/contract/sites'
import { type Batch, type CellValue, packBatch } from '@dew-trail/core/tables/column-spec'
import { guessIntent } from '@dew-trail/core/words/intent'
import type pg from 'pg'
import { manyBestPositions } from '../results/queries.ts'
import { manySiteNumbers } from '../results/result-numbers.ts'
import { needMarket } from '../sites/need-market.ts'
import { DayReader } from '../positions/day-reader.ts'
import { manySlots } from '../positions/slot-queries.ts'
import { type VisitReader, visitReader } from '../chances/visits-of.ts'
import { keepRowBlock, maybeRowBlock, type RowBlock } from './row-blocks.ts'
import { LastBlocks } from './last-blocks.ts'
import { familyKey } from '@dew-trail/core/words/family-key'
import { type BaseRow, manyKeywordsSince, presentParts, type RowParts, rowParts } from './row-queries.ts'

const atATime = 5_000

/** Blocks that are not full, which are not written down: most sites are smaller than one, and many look at them at once. */
const lastBlocks = new WeakMap<pg.Pool, LastBlocks>()
const lastBlocksOf = (pool: pg.Pool): LastBlocks => {
  const known = lastBlocks.get(pool) ?? new LastBlocks(24_000_000)
  lastBlocks.set(pool, known)
  return known
}

/** Blocks being made, so that two who open the same table have it made once. */
const underWay = new Map<string, Promise<RowBlock>>()

/**
 * Lines of a site's keyword rows changed since a revision: batches column by column, then `{revision}`. What was written down before is
 * sent as it stands; the rest is put together and written down.
 */
export async function* streamKeywordRows(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  since: number,
): AsyncGenerator<string> {
  let making: Promise<(from: number) => Promise<RowBlock>> | undefined
  const next = async (from: number): Promise<{ block: RowBlock; more: boolean }> => {
    const kept = await maybeRowBlock(pool, siteId, marketId, from)
    if (kept) return { block: kept, more: true }
    const key = `${siteId}:${marketId}:${from}`
    const last = await lastBlocksOf(pool).get(pool, siteId, key)
    if (last) return { block: last, more: false }
    const joined = underWay.get(key)
    // One that began before this question may lack what came since, so it is never the last.
    if (joined) return { block: await joined, more: true }
    making ??= rowMaker(pool, siteId, marketId)
    const made = making.then(make => make(from))
    underWay.set(key, made)
    try {
      const block = await made
      const full = block.keywords === atATime
      if (full) await keepRowBlock(pool, siteId, marketId, block)
      else if (block.keywords) lastBlocksOf(pool).set(key, block)
      return { block, more: full }
    } finally {
      underWay.delete(key)
    }
  }
  let revision = since
  let coming = next(since)
  for (;;) {
    const { block, more } = await coming
    revision = block.to
    if (more) {
      // The next batch is asked for while this one is written.
      coming = next(block.to)
      // An error is thrown when it is waited for, not before.
      coming.catch(() => undefined)
    }
    if (block.keywords) yield block.lines
    if (!more) break
  }
  yield `${JSON.stringify({ revision })}\n`
}

/** What makes blocks of a market's rows, with all that is the same for every row. */
async function rowMaker(pool: pg.Pool, siteId: number, marketId: number): Promise<(from: number) => Promise<RowBlock>> {
  const market = await needMarket(pool, siteId, marketId)
  const [positions, reader, present] = await Promise.all([
    lastPositions(pool, siteId, market),
    visitReader(pool, siteId, market),
    presentParts(pool, siteId),
  ])
  const own = reader.brands.find(brand => brand.own)!.owner
  const numbers = await manySiteNumbers(pool, siteId, [...new Set(reader.brands.map(brand => brand.owner))])
  const ready: Ready = {
    positions,
    reader,
    ownNumber: numbers.get(own),
    rivals: new Map([...numbers].filter(([domain]) => domain !== own).map(([domain, number]) => [number, domain])),
  }
  return async from => {
    const rows = await manyKeywordsSince(pool, siteId, market.language, from, atATime)
    const ids = rows.map(row => row.id)
    const parts = await rowParts(pool, { siteId, marketId, place: market.place }, ids, present)
    const standings = await standingsOf(pool, siteId, marketId, [...parts.head.keys()], ready)
    return {
      from,
      to: rows.at(-1)?.revision ?? from,
      keywords: rows.length,
      lines: rows.length ? `${JSON.stringify(packBatch(toBatch(rows, parts, standings, ready)))}\n` : '',
    }
  }
}

/** Where the own site and the best of its rivals stand among the latest results of keywords. */
async function standingsOf(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  keywordIds: number[],
  { ownNumber, rivals }: Ready,
): Promise<Map<number, Standing>> {
  const numbers = [...rivals.keys(), ...(ownNumber === undefined ? [] : [ownNumber])]
  const standings = new Map<number, Standing>()
  for (const { keywordId, onSite, position } of await manyBestPositions(pool, siteId, marketId, keywordIds, numbers)) {
    const standing = standings.get(keywordId) ?? { own: null, rival: null, rivalDomain: null }
    standings.set(keywordId, standing)
    if (onSite === ownNumber) standing.own = position
    else if (standing.rival === null || position < standing.rival) {
      standing.rival = position
      standing.rivalDomain = rivals.get(onSite)!
    }
  }
  return standings
}

async function lastPositions(pool: pg.Pool, siteId: number, market: Market): Promise<Ready['positions']> {
  const days = new DayReader(pool, siteId, market.id)
  const last = await days.newestDay()
  if (!last) return new Map()
  const slots = (await manySlots(pool, siteId, market)).map(row => row.slot)
  return days.lastKnown(slots, last)
}

type Ready = {
  /** The last known position of each slot. */
  positions: ReadonlyMap<number, { position: number }>
  reader: VisitReader
  /** The numbers of the own site and of rivals among result sites, and the rivals' domains by number. */
  ownNumber: number | undefined
  rivals: ReadonlyMap<number, string>
}
type Standing = { own: number | null; rival: number | null; rivalDomain: string | null }

function toBatch(
  rows: BaseRow[],
  parts: RowParts,
  standings: ReadonlyMap<number, Standing>,
  { positions, reader }: Ready,
): Batch {
  const columns: Record<string, CellValue[]> = Object.fromEntries(
    keywordColumns.map(column => [column.key, new Array<CellValue>(rows.length)]),
  )
  const ids = rows.map(row => row.id)
  rows.forEach((row, i) => {
    const { id, phrase } = row
    const demand = parts.demand.get(id)
    const weighing = parts.weighing.get(id)
    const match = parts.match.get(id)
    const log = parts.log.get(id)
    const found = parts.found.get(id)
    const slot = parts.slot.get(id)?.slot
    const brand = reader.brandOf(phrase)
    // Brand words change with the site, so what they do to the intent is worked out here.
    const named = brand ? guessIntent(phrase, undefined, true) : null
    const searches = demand?.searches ?? null
    const organicShare = weighing?.organicShare ?? null
    const paidShare = weighing?.paidShare ?? null
    // Where a page of the site stands, its figures are the row's; those of a new page stand beside them.
    const pagePosition = weighing?.pagePosition ?? null
    const newVisits = reader.visits(searches, weighing, brand !== null)
    const standing = standings.get(id)
    const results = parts.head.get(id)?.results ?? 0
    const position = slot === undefined ? (standing?.own ?? -results) : (positions.get(slot)?.position ?? 0)
    // A place that is tracked is known from a later day than that of the weighing, or the same.
    const place = slot === undefined || position === 0 ? pagePosition : position
    const visits = pagePosition === null ? newVisits : reader.visitsAt(place!, searches, organicShare, brand !== null)
    const cpc = demand?.cpc ?? null
    const each = reader.worthOf(id, cpc)
    const logSearches = log?.searches ?? null
    const first = reader.visitsAt(1, searches, organicShare, brand !== null)
    const ways = found?.found?.split('|').map(part => part.split(':') as [string, string]) ?? []
    const daily = (count: number): number | null => (log ? round((count * 30) / log.days, 1) : null)
    const cells: Record<string, CellValue> = {
      phrase,
      kind: row.kind,
      intent: named?.intent ?? row.intent,
      intentShare: round(named?.probability ?? row.intentShare, 3),
      words: row.words,
      searches: round(searches, 1),
      months: demand?.months ? padMonths(demand.months) : null,
      monthsEnd: demand?.monthsEnd ?? null,
      cpc: round(cpc, 2),
      bidLow: round(demand?.bidLow, 2),
      bidHigh: round(demand?.bidHigh, 2),
      competition: round(demand?.competition, 2),
      mobileShare: round(demand?.mobileShare, 2),
      worldwide: round(demand?.worldwide, 1),
      matchExact: round(match?.exact, 1),
      matchOrder: round(match?.inOrder, 1),
      matchAny: round(match?.anyOrder, 1),
      orderShare: match?.inOrder == null || !match.anyOrder ? null : round(match.inOrder / match.anyOrder, 4),
      matchFrom: match?.source ?? null,
      demandState: demand?.state ?? 'notAsked',
      demandDate: demand?.fetchedOn ?? null,
      demandSource: demand?.source ?? null,
      cpcFrom: demand?.cpcFrom ?? null,
      competitionFrom: demand?.competitionFrom ?? null,
      gatherings: [...new Set(ways.map(way => way[0]))].join('|'),
      cameFrom: [...new Set([...ways.map(way => way[1]), ...(row.imported ? ['import'] : [])])].sort().join('|'),
      kept: row.kept,
      // Finer than it is shown: rounded twice it would differ from what pages say.
      difficulty: round(weighing?.difficulty, 4),
      chance: round(pagePosition === null ? weighing?.chance10 : weighing?.pageChance, 6),
      pagePosition,
      pageHigher: round(weighing?.pageHigher, 6),
      reported: weighing?.reported ?? null,
      newChance: round(weighing?.chance10, 6),
      newVisits: round(newVisits, 1),
      newWorth: newVisits === null || each === null ? null : round(newVisits * each, 2),
      ...Object.fromEntries(lackKinds.map((kind, i) => [`lack_${kind}`, weighing?.lacking?.[i] ?? null])),
      likelyFrom: weighing?.likelyFrom ?? null,
      likelyTo: weighing?.likelyTo ?? null,
      terrain: weighing?.levels.length ? weighing.levels.slice(0, 10).map(level => round(level, 1)) : null,
      ownLevel: round(weighing?.ownLevel, 2),
      visits: round(visits, 1),
      worth: visits === null || each === null ? null : round(visits * each, 2),
      visitsFirst: round(first, 1),
      worthFirst: first === null || each === null ? null : round(first * each, 2),
      organicShare: round(organicShare, 3),
      paidShare: round(paidShare, 3),
      noClickShare: organicShare === null || paidShare === null ? null : round(1 - organicShare - paidShare, 3),
      rivalPosition: standing?.rival ?? null,
      rival: standing?.rivalDomain ?? null,
      weighState: weighing?.state ?? '',
      weighedOn: weighing?.fetchedOn ?? null,
      position: position > 0 ? position : null,
      positionState:
        position === 0 ? null : position < 0 ? `beyond${-position}` : slot === undefined ? 'weighed' : 'found',
      page: parts.page.get(id)?.title ?? null,
      tracked: slot !== undefined,
      family: textNumber(familyKey(phrase, row.language)),
      figures: textNumber(row.family),
      trend: demand?.trend ?? null,
      yearly: round(demand?.yearly, 3),
      season: round(demand?.season, 2),
      peaks: demand?.peaks || null,
      rounded: demand?.rounded == null ? null : demand.rounded ? 'yes' : 'no',
      // The range is that of the ads data, which knows nothing of hidden demand.
      searchesLow: demand?.hidden ? null : round(demand?.low, 1),
      searchesHigh: demand?.hidden ? null : round(demand?.high, 1),
      brand: brand ? (brand.own ? 'own' : 'rival') : 'none',
      hidden: demand?.hidden ?? false,
      logSearches: round(logSearches, 1),
      logImpressions: log ? daily(log.impressions) : null,
      logClicks: log ? daily(log.clicks) : null,
      logPosition: round(log?.position, 1),
      pruned:
        (row.takenBack || Boolean(found?.pruned)) && !found?.found && !row.kept && !row.imported && slot === undefined,
      clickCurve: reader.curveOf(brand !== null),
      lists: parts.lists.get(id)?.lists ?? null,
      labels: parts.lists.get(id)?.labels ?? null,
      theme: parts.theme.get(id)?.theme ?? null,
      countText: parts.count.get(id)?.text ?? null,
      countTitle: parts.count.get(id)?.titles ?? null,
      freeNames: parts.names.get(id)?.free ?? null,
      names: parts.names.get(id)?.names ?? null,
      resultsOn: parts.head.get(id)?.day ?? null,
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

const round = (value: number | null | undefined, digits: number): number | null =>
  value === null || value === undefined ? null : Math.round(value * 10 ** digits) / 10 ** digits
/** The last twelve months, oldest first; months before the first known one are unknown. */
function padMonths(months: string): Array<number | null> {
  const known = months.split(',').map(Number)
  return known.length >= 12 ? known : [...new Array<null>(12 - known.length).fill(null), ...known]
}
