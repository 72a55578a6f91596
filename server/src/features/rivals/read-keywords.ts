import { type PageFeature, pageFeatures, type RankedKeyword } from '@dew-trail/contract/rivals'
import { rankedBatch, rankedSpecs } from '@dew-trail/contract/rival-tables'
import { AppError } from '@dew-trail/contract/errors'
import { readTarget, type Target } from '@dew-trail/core/rivals/target'
import type { Condition, Sort } from '@dew-trail/core/tables/column-spec'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { maskRows } from '@dew-trail/core/tables/filter-rows'
import { pickRows, sortedRows } from '@dew-trail/core/tables/sort-rows'
import { topRows } from '@dew-trail/core/tables/top-rows'
import type pg from 'pg'
import type { PageFeatures } from '../../domain/chances/queries.ts'
import { manyAddresses, manyFeatures, manyStates, maybeLogged } from './queries.ts'
import { type OpenMarket, type Ranked, rankedRow, type RankedSums, readRanked, sumsOf } from './ranked.ts'

export type Wanted = { most: number; where: readonly Condition[]; sort: readonly Sort[] }

/** The keywords of a target that meet conditions, in an order; without one by visits. */
export async function readRankedKeywords(pool: pg.Pool, open: OpenMarket, text: string, wanted: Wanted) {
  const target = readTarget(text)!
  const ranked = await readRanked(pool, open, target)
  const sums = sumsOf(ranked)
  const { visits, worth } = sums
  const whole = { target: text, visits, worth, coverage: open.coverage, total: ranked?.count ?? 0 }
  if (!ranked) return { ...whole, met: 0, rows: [] }
  checkColumns(wanted)
  const picked = pickPositions(ranked, wanted)
  if (picked)
    return { ...whole, met: picked.met, rows: await fillRows(pool, open, target, ranked, sums, picked.positions) }
  // Conditions on what has to be looked up row by row, such as features of first pages: all rows are filled, then sifted.
  const all = await fillRows(pool, open, target, ranked, sums, topRows(ranked.visits, ranked.count))
  const store = new ColumnStore(rankedSpecs)
  store.upsert(rankedBatch(all))
  const met = pickRows(sortedRows(store, wanted.sort), maskRows(store, wanted.where))
  return { ...whole, met: met.length, rows: Array.from(met.subarray(0, wanted.most), row => all[row]!) }
}

function checkColumns({ where, sort }: Wanted): void {
  for (const { column } of [...where, ...sort])
    if (!rankedSpecs.some(spec => spec.key === column))
      throw new AppError('badInput', `the table has no column "${column}" for conditions or order`)
}

/** A figure of a keyword by its place, as a number; NaN = unknown. */
type Reads = (i: number) => number
/** The columns that are at hand for all keywords of a target. */
function columnsAtHand({ rankings, row, before, near, own, visits, worth, named }: Ranked): Record<string, Reads> {
  const { searches, cpc, difficulty, chance10 } = rankings.figures
  const position = (value: number): number => value || Number.NaN
  const now: Reads = i => position(rankings.now[row[i]!]!)
  const was: Reads = i => position(before[i]!)
  return {
    now,
    before: was,
    moved: i => was(i) - now(i),
    pages: i => near[i]!,
    searches: i => searches[row[i]!]!,
    cpc: i => cpc[row[i]!]!,
    difficulty: i => difficulty[row[i]!]!,
    chance: i => chance10[row[i]!]!,
    visits: i => visits[i]!,
    visitsShare: i => visits[i]!,
    worth: i => worth[i]!,
    worthShare: i => worth[i]!,
    own: i => position(own[i]!),
    entered: i => (rankings.now[row[i]!]! && !before[i] && rankings.compared[row[i]!] ? 1 : 0),
    fed: i => rankings.fed[row[i]!]!,
    brand: i => named[row[i]!]!,
  }
}
/** Shares are of sums over all keywords, so that a condition on one needs the sum too: such are left to the slower way. */
const onlyInOrder = new Set(['visitsShare', 'worthShare'])

/** Places of the keywords that meet conditions on columns at hand; null where another column is asked for. */
function pickPositions(ranked: Ranked, { most, where, sort }: Wanted): { met: number; positions: number[] } | null {
  const columns = columnsAtHand(ranked)
  if (where.some(({ column }) => onlyInOrder.has(column) || (column !== 'phrase' && !columns[column]))) return null
  if (sort.length > 1 || sort.some(({ column }) => !columns[column])) return null
  const tests = where.flatMap(condition => testsOf(condition, columns, ranked) ?? [])
  if (tests.length < where.length) return null
  const kept = new Int32Array(ranked.count)
  let met = 0
  for (let i = 0; i < ranked.count; i++) if (tests.every(test => test(i))) kept[met++] = i
  const { column, down } = sort[0] ?? { column: 'visits', down: true }
  const values = new Float64Array(met)
  for (let at = 0; at < met; at++) values[at] = columns[column]!(kept[at]!) * (down ? 1 : -1)
  return { met, positions: topRows(values, most).map(at => kept[at]!) }
}

/** Whether a keyword meets a condition; null where the condition asks for more than one word of a phrase, or is of another kind. */
function testsOf(
  condition: Condition,
  columns: Record<string, Reads>,
  { rankings, row }: Ranked,
): ((i: number) => boolean) | null {
  if (condition.column === 'phrase') {
    if (condition.op !== 'has' && condition.op !== 'without') return null
    const word = condition.value.trim().toLowerCase()
    if (!/^[\p{L}\p{N}]+$/u.test(word) || word === 'or') return null
    const wanted = condition.op === 'has'
    return i => rankings.phrases[row[i]!]!.includes(word) === wanted
  }
  const read = columns[condition.column]!
  switch (condition.op) {
    case 'from':
      return i => read(i) >= condition.value
    case 'to':
      return i => read(i) <= condition.value
    case 'known':
      return i => !Number.isNaN(read(i))
    case 'unknown':
      return i => Number.isNaN(read(i))
    case 'yes':
      return i => read(i) === 1
    case 'no':
      return i => read(i) !== 1
    default:
      return null
  }
}

/** Rows of keywords by their places, with all that has to be looked up. */
async function fillRows(
  pool: pg.Pool,
  open: OpenMarket,
  target: Target,
  ranked: Ranked,
  { visits, worth }: RankedSums,
  positions: readonly number[],
): Promise<RankedKeyword[]> {
  const rows = positions.map(i => rankedRow(ranked, i))
  const gathered = rows.filter(row => row.id > 0).map(row => row.id)
  const own = target.domain === open.site.domain
  const [urls, features, states, logged] = await Promise.all([
    manyAddresses(pool, open.at.siteId, [...new Set(rows.map(row => row.pageId))]),
    manyFeatures(pool, open.at, gathered),
    manyStates(pool, open.at.siteId, gathered),
    own ? maybeLogged(pool, open.at) : null,
  ])
  const share = (part: number | null, all: number | null): number | null => (part === null || !all ? null : part / all)
  return rows.map(({ pageId, ...row }) => ({
    ...row,
    ...featuresOf(features.get(row.id), target.domain),
    withheld: logged && row.now !== null && row.visits !== null ? !logged.has(row.id) : null,
    page: urls.get(pageId) ?? '',
    visitsShare: share(row.visits, visits),
    worthShare: share(row.worth, worth),
    kept: states.kept.has(row.id),
    tracked: states.tracked.has(row.id),
  }))
}

/** What a first page shows besides results, and where it shows a site; unknown where it was not weighed. */
function featuresOf(
  page: PageFeatures | undefined,
  domain: string,
): Pick<RankedKeyword, 'results' | 'features' | 'held'> {
  if (!page) return { results: null, features: null, held: null }
  const shown: Record<PageFeature, boolean> = {
    answer: page.answer,
    questions: page.questions.length > 0,
    images: page.images,
    shopping: page.shopping > 0,
    map: page.map > 0,
    ads: page.ads > 0,
  }
  const { holders } = page
  return {
    results: page.results ?? null,
    features: pageFeatures.filter(feature => shown[feature]),
    held:
      holders === undefined
        ? null
        : (['answer', 'images', 'shopping'] as const).filter(feature => holders[feature].includes(domain)),
  }
}
