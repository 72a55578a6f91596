import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { decodeMonth } from '@dew-trail/core/results/month-results'
import type { Site } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { openPool } from '../src/platform/db/pool.ts'
import {
  countKeywordsWithResults,
  manyBestPositions,
  manyPagePositions,
  manySitePositions,
} from '../src/domain/results/queries.ts'
import type { ResultPage } from '../src/domain/results/queries.ts'
import { manySiteNumbers } from '../src/domain/results/result-numbers.ts'
import { saveResults } from '../src/domain/results/save-results.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let pool: pg.Pool
let site: Site
beforeAll(async () => {
  server = await testServer()
  pool = openPool(server.databaseUrl)
  site = await demoSite(server)
})
beforeEach(() => pool.query('truncate result_row, result_head, result_month, result_address, result_site'))
afterAll(async () => {
  await pool.end()
  await server.close()
})

const marketId = 1
const of = () => ({ siteId: site.id, marketId, source: 'engines' })
const page = (keywordId: number, day: string, urls: string[], depth = 20): ResultPage => ({
  keywordId,
  day,
  depth,
  results: urls.map((url, i) => ({ position: i + 1, url })),
})
const rowsOf = async (keywordId: number) =>
  (
    await pool.query<{ url: string; now: number | null; before: number | null }>(
      `select a.url, r.now, r.before from result_row r
        join result_address a on a.site_id = r.site_id and a.id = r.page_id
       where r.keyword_id = $1 order by r.now nulls last, r.before`,
      [keywordId],
    )
  ).rows.map(row => [row.url, row.now, row.before])
const headOf = async (keywordId: number) =>
  (
    await pool.query(
      `select day, depth, results, before_day "beforeDay", before_depth "beforeDepth", before_results "beforeResults"
        from result_head where keyword_id = $1`,
      [keywordId],
    )
  ).rows[0]
const [a, b, c, d] = ['a', 'b', 'c', 'd'].map(name => `https://${name}.example/page`) as [
  string,
  string,
  string,
  string,
]

describe('result pages of keywords', () => {
  test('the latest and the one before are one row a page: what stays, moves, comes and goes', async () => {
    await saveResults(pool, of(), [page(1, '2026-11-01', [a, b, c])])
    expect(await rowsOf(1)).toEqual([
      [a, 1, null],
      [b, 2, null],
      [c, 3, null],
    ])
    await saveResults(pool, of(), [page(1, '2026-11-08', [b, a, d], 100)])
    expect(await rowsOf(1)).toEqual([
      [b, 1, 2],
      [a, 2, 1],
      [d, 3, null],
      [c, null, 3],
    ])
    expect(await headOf(1)).toEqual({
      day: '2026-11-08',
      depth: 100,
      results: 3,
      beforeDay: '2026-11-01',
      beforeDepth: 20,
      beforeResults: 3,
    })
    await saveResults(pool, of(), [page(1, '2026-11-09', [d])])
    expect(await rowsOf(1)).toEqual([
      [d, 1, 3],
      [b, null, 1],
      [a, null, 2],
    ])
  })
  test('of one day the page that looks deeper counts, and an earlier day changes nothing but its month', async () => {
    await saveResults(pool, of(), [page(1, '2026-11-08', [a, b], 20), page(1, '2026-11-08', [a, b, c], 100)])
    await saveResults(pool, of(), [page(1, '2026-11-08', [b], 10), page(1, '2026-11-02', [d])])
    expect(await rowsOf(1)).toEqual([
      [a, 1, null],
      [b, 2, null],
      [c, 3, null],
    ])
    const { rows } = await pool.query<{ days: Buffer; month: string }>('select days, month from result_month')
    expect(rows.map(row => row.month)).toEqual(['2026-11-01'])
    const addresses = (await pool.query<{ id: number; url: string }>('select id, url from result_address')).rows
    const urlOf = new Map(addresses.map(row => [row.id, row.url]))
    const days = decodeMonth(rows[0]!.days).map(each => ({ ...each, pages: each.pages.map(id => urlOf.get(id)) }))
    expect(days).toEqual([
      { day: 2, depth: 20, pages: [d] },
      { day: 8, depth: 100, pages: [a, b, c] },
    ])
  })
  test('one page under several addresses is one page, at its best position; an address of no page is left out', async () => {
    const again = 'http://a.example/page?utm_source=mail#top'
    await saveResults(pool, of(), [page(1, '2026-11-01', ['mailto:x@a.example', b, a, again])])
    expect(await rowsOf(1)).toEqual([
      [b, 2, null],
      [a, 3, null],
    ])
  })
  test('a day without results leaves what was before', async () => {
    await saveResults(pool, of(), [page(1, '2026-11-01', [a])])
    await saveResults(pool, of(), [page(1, '2026-11-02', [])])
    expect(await rowsOf(1)).toEqual([[a, null, 1]])
    expect(await headOf(1)).toMatchObject({ day: '2026-11-02', results: 0, beforeResults: 1 })
  })
  test('any order of saving gives what a plain reckoning gives, also when two save at once', async () => {
    const draw = seededDraw(11)
    const urls = Array.from({ length: 12 }, (_, i) => `https://s${i % 5}.example/${i}`)
    const pages: ResultPage[] = []
    for (let keyword = 1; keyword <= 6; keyword++)
      for (let day = 1; day <= 9; day++)
        if (draw() < 0.7)
          pages.push(
            page(keyword, `2026-11-0${day}`, [...urls].sort(() => draw() - 0.5).slice(0, 1 + Math.floor(draw() * 8))),
          )
    for (const day of [...new Set(pages.map(each => each.day))].sort()) {
      const ofDay = pages.filter(each => each.day === day)
      const half = Math.ceil(ofDay.length / 2)
      await Promise.all([
        saveResults(pool, of(), ofDay.slice(0, half + 1)),
        saveResults(pool, of(), ofDay.slice(half - 1)),
      ])
    }
    for (let keyword = 1; keyword <= 6; keyword++) {
      const [before, latest] = pages.filter(each => each.keywordId === keyword).slice(-2)
      const at = (of: ResultPage | undefined, url: string) =>
        of?.results.find(result => result.url === url)?.position ?? null
      const wanted = urls
        .map(url => [url, at(latest, url), at(before, url)] as const)
        .filter(([, now, then]) => now !== null || then !== null)
      expect(new Set((await rowsOf(keyword)).map(String))).toEqual(new Set(wanted.map(String)))
    }
  })
})

test('who stands where is read by site and by page, for one market and for the searches that are known', async () => {
  await pool.query(
    `insert into demand (site_id, keyword_id, place, source, state, average, fetched_at)
      values ($1, 1, 'there', 'x', 'known', 50, now())`,
    [site.id],
  )
  const deep = 'https://shop.a.example/other'
  await saveResults(pool, of(), [
    page(1, '2026-11-01', [b, deep, a]),
    page(2, '2026-11-01', [a]),
    page(3, '2026-11-01', [c]),
  ])
  await saveResults(pool, { ...of(), marketId: 2 }, [page(1, '2026-11-01', [a])])
  await saveResults(pool, of(), [page(3, '2026-11-05', [b])])
  const market = { id: marketId, place: 'there' }
  expect(new Set(await manySitePositions(pool, site.id, market, ['a.example', 'c.example']))).toEqual(
    new Set([
      { name: 'a.example', position: 1, keywords: 1, searches: null, unknown: 1 },
      { name: 'a.example', position: 2, keywords: 1, searches: 50, unknown: 0 },
    ]),
  )
  expect(await manyPagePositions(pool, site.id, market, [deep.replace('https', 'http')])).toEqual([
    { name: 'http://shop.a.example/other', position: 2, keywords: 1, searches: 50, unknown: 0 },
  ])
  expect(await countKeywordsWithResults(pool, site.id, marketId)).toBe(3)
  const numbers = await manySiteNumbers(pool, site.id, ['a.example', 'b.example', 'nowhere.example'])
  expect(numbers.size).toBe(2)
  const best = await manyBestPositions(pool, site.id, marketId, [1, 2, 3], [...numbers.values()])
  const byName = (domain: string, keywordId: number, position: number) => ({
    onSite: numbers.get(domain),
    keywordId,
    position,
  })
  expect(new Set(best)).toEqual(
    new Set([
      byName('a.example', 1, 2),
      byName('b.example', 1, 1),
      byName('a.example', 2, 1),
      byName('b.example', 3, 1),
    ]),
  )
})
