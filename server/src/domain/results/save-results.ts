import { decodeMonth, encodeMonth } from '@dew-trail/core/results/month-results'
import type pg from 'pg'
import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import {
  manyHeads,
  manyMonths,
  type NewRow,
  type ResultPage,
  type ResultsOf,
  upsertHeads,
  upsertMonths,
  writeRows,
} from './queries.ts'
import { type NumberedPage, numberPages } from './result-numbers.ts'
import { pageKey } from '../pages/page-key.ts'

/** `keys`: of the pages of the results, in their order; null = no address of a page. */
type KeyedPage = ResultPage & { keys: ReadonlyArray<string | null> }

/**
 * Saves result pages of a market. The latest of a keyword and the one before stand as rows; every day goes into its month. A page of an
 * earlier day than the latest goes into its month alone; of two of one day the one that looks deeper counts. Pages are saved in order of
 * their days. Of a page that stands at several positions the best is kept in the rows.
 */
export async function saveResults(pool: pg.Pool, of: ResultsOf, pages: readonly ResultPage[]): Promise<void> {
  if (!pages.length) return
  // Once for all that follows: of ten thousand results making the keys takes longer than looking them up.
  const keyed = pages.map(page => ({ ...page, keys: page.results.map(({ url }) => pageKey(url)) }))
  const urlOf = new Map<string, string>()
  for (const { keys, results } of keyed)
    for (const [i, key] of keys.entries()) if (key && !urlOf.has(key)) urlOf.set(key, results[i]!.url)
  // Outside the transaction: numbers once given stay, and whoever needs the same ones at the same time waits no longer than this takes.
  const numbers = await numberPages(pool, of.siteId, urlOf)
  for (const round of roundsOf(keyed)) await inTransaction(pool, db => saveRound(db, of, round, numbers))
}

/** Pages in order of day, so many to a round that each keyword comes once in it. */
function roundsOf(pages: readonly KeyedPage[]): KeyedPage[][] {
  const rounds: KeyedPage[][] = []
  const times = new Map<number, number>()
  for (const page of [...pages].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.depth - b.depth))) {
    const round = times.get(page.keywordId) ?? 0
    times.set(page.keywordId, round + 1)
    ;(rounds[round] ??= []).push(page)
  }
  return rounds
}

async function saveRound(
  db: pg.PoolClient,
  of: ResultsOf,
  pages: KeyedPage[],
  numbers: ReadonlyMap<string, NumberedPage>,
): Promise<void> {
  // In one order, so that two who save the same keywords wait for each other and never both.
  pages.sort((a, b) => a.keywordId - b.keywordId)
  const heads = await manyHeads(
    db,
    of,
    pages.map(page => page.keywordId),
  )
  const latest = pages.filter(({ keywordId, day, depth }) => {
    const head = heads.get(keywordId)
    return !head || day > head.day || (day === head.day && depth >= head.depth)
  })
  const rows: NewRow[] = []
  for (const { keywordId, results, keys } of latest) {
    const best = new Map<number, NewRow>()
    for (const [i, { position }] of results.entries()) {
      const page = numbers.get(keys[i] ?? '')
      if (page && !best.has(page.pageId)) best.set(page.pageId, { keywordId, ...page, position })
    }
    rows.push(...best.values())
  }
  const advanced = latest.filter(({ keywordId, day }) => heads.has(keywordId) && day > heads.get(keywordId)!.day)
  await upsertHeads(db, of, latest)
  const ids = (listed: readonly KeyedPage[]): number[] => listed.map(page => page.keywordId)
  const known = latest.filter(page => heads.has(page.keywordId))
  await writeRows(db, of, { known: ids(known), advanced: ids(advanced) }, rows)
  await noteFiguresChange(db, of.siteId)
  await saveMonths(db, of, pages, numbers)
}

async function saveMonths(
  db: pg.PoolClient,
  of: ResultsOf,
  pages: KeyedPage[],
  numbers: ReadonlyMap<string, NumberedPage>,
): Promise<void> {
  const known = await manyMonths(
    db,
    of,
    pages.map(({ keywordId, day }) => ({ keywordId, month: monthOf(day) })),
  )
  await upsertMonths(
    db,
    of,
    pages.map(({ keywordId, day, depth, results, keys }) => {
      const month = monthOf(day)
      const before = known.get(`${keywordId} ${month}`)
      const days = before ? decodeMonth(before) : []
      const date = Number(day.slice(8))
      const listed: number[] = []
      for (const [i, { position }] of results.entries()) listed[position - 1] = numbers.get(keys[i] ?? '')?.pageId ?? 0
      const filled = Array.from(listed, page => page ?? 0)
      const deeper = days.some(each => each.day === date && each.depth > depth)
      return { keywordId, month, days: encodeMonth(deeper ? days : [...days, { day: date, depth, pages: filled }]) }
    }),
  )
}
const monthOf = (day: string): string => `${day.slice(0, 8)}01`
