import { saveBrands } from '@dew-trail/contract/brands'
import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { listJobs } from '@dew-trail/contract/jobs'
import { listSites, type Site } from '@dew-trail/contract/sites'
import { getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import {
  checkNow,
  keywordHistory,
  listPositions,
  listVisibility,
  pageHistory,
  trackKeywords,
} from '@dew-trail/contract/track'
import pg from 'pg'
import { afterEach, beforeEach, describe, expect, inject, onTestFinished, test } from 'vitest'
import { foldNightly } from '../src/domain/positions/fold-years.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
let history: Awaited<ReturnType<typeof importPositions>>
// A new one for each test: a check or an import moves the last day for all.
beforeEach(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  history = await importPositions(
    header +
      line('2026-01-01', 'banding wheel', 12, `${own}/a`) +
      line('2026-01-02', 'banding wheel', '>100') +
      line('2026-01-08', 'banding wheel', 4, `${own}/b`) +
      line('2026-01-08', 'banding wheel', 9, `${own}/b`, 'mobile') +
      line('2026-01-08', 'coil pot', '', ''),
  )
})
afterEach(() => server.close())
/** Positions of another keyword over a change of year. */
const importPinchPot = () =>
  importPositions(
    header + line('2025-12-31', 'pinch pot', 5, `${own}/p`) + line('2026-01-01', 'pinch pot', 6, `${own}/p`),
  )

const importPositions = async (text: string) => {
  const file = (await server.upload(site.id, 'positions', text)) as Uploaded
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId: file.importId,
    marketId,
    mapping: file.suggested,
  })
  const job = await server.finish(jobId)
  for (const each of await server.call(listJobs, { siteId: site.id }))
    if (each.kind === 'figures') await server.finish(each.id)
  return { file, job }
}
const header = 'Date,Keyword,Search engine,Country,Language,Device,Rank,Landing page\n'
const line = (date: string, phrase: string, rank: string | number, page = '', device = 'desktop') =>
  `${date},${phrase},lantern,tarrow,en,${device},${rank},${page}\n`
const own = 'https://kilnandtide.example'
const positions = (compareDays = 7, market = marketId) =>
  server.call(listPositions, { siteId: site.id, marketId: market, compareDays })

describe('positions', () => {
  test('a file of history becomes now, change, best, page and a history by day', async () => {
    expect(history.job.result).toMatchObject({ lines: 5, wrong: 0, saved: 4 })
    const { rows, lastDay, beforeDay, others } = await positions(7)
    const there = others.find(each => each.marketId === site.markets[1]!.id)!
    expect(there.now[rows.findIndex(each => each.phrase === 'banding wheel')]).toBe(9)
    expect({ lastDay, beforeDay }).toEqual({ lastDay: '2026-01-08', beforeDay: '2026-01-01' })
    const row = rows.find(each => each.phrase === 'banding wheel')!
    expect(row).toMatchObject({
      now: 4,
      before: 12,
      best: 4,
      page: `${own}/b`,
      pageBefore: `${own}/a`,
    })
    expect(row.recent.slice(-8)).toEqual([12, -100, 0, 0, 0, 0, 0, 4])
    const days = await server.call(keywordHistory, { siteId: site.id, keywordId: row.id, days: 8 })
    expect(days).toMatchObject({ from: '2026-01-01', to: '2026-01-08' })
    expect(days.markets.find(each => each.marketId === marketId)!.positions).toEqual([12, -100, 0, 0, 0, 0, 0, 4])
    expect(days.pages.filter(each => each.marketId === marketId)).toEqual([
      { marketId, day: '2026-01-01', url: `${own}/a` },
      { marketId, day: '2026-01-02', url: null },
      { marketId, day: '2026-01-08', url: `${own}/b` },
    ])
  })

  test('a newest day of one keyword takes nothing from the others, and changes stay like for like', async () => {
    await importPinchPot()
    await importPositions(header + line('2026-01-10', 'pinch pot', 2, `${own}/p`))
    const answer = await positions(7)
    expect(answer).toMatchObject({ lastDay: '2026-01-10', beforeDay: '2026-01-03', checked: 1 })
    const row = (phrase: string) => answer.rows.find(each => each.phrase === phrase)!
    expect(row('pinch pot')).toMatchObject({ now: 2, nowDay: '2026-01-10', before: 6, beforeDay: '2026-01-01' })
    // Its own last check was two days before, so its change is since seven days before that.
    expect(row('banding wheel')).toMatchObject({ now: 4, nowDay: '2026-01-08', before: 12, beforeDay: '2026-01-01' })
    const there = answer.others.find(each => each.marketId === site.markets[1]!.id)!
    expect(there.now[answer.rows.indexOf(row('banding wheel'))]).toBe(9)
    expect(answer.rows.find(each => each.phrase === 'coil pot')).toBeUndefined()
    expect(answer.visibility.keywords).toBe(answer.rows.filter(each => each.now !== 0 && each.searches !== null).length)
    expect(answer.visibility.now).not.toBeNull()
    // Other screens show the same.
    const gathered = (await server.rows(site.id, marketId)).rows
    expect(gathered.find(each => each.phrase === 'banding wheel')).toMatchObject({
      position: 4,
      positionState: 'found',
    })
    expect(gathered.find(each => each.phrase === 'pinch pot')).toMatchObject({ position: 2 })
  })

  test('the best placed are asked for alone, with the same figures, and what is said of all stays of all', async () => {
    await importPositions(
      header +
        line('2026-01-08', 'pinch pot', 9, `${own}/p`) +
        line('2026-01-08', 'slab pot', 2, `${own}/s`) +
        line('2026-01-08', 'kick wheel', '>100'),
    )
    const all = await positions()
    const few = await server.call(listPositions, { siteId: site.id, marketId, compareDays: 7, most: 2 })
    expect(few.rows.map(row => [row.phrase, row.now]).sort()).toEqual([
      ['banding wheel', 4],
      ['slab pot', 2],
    ])
    const ids = new Set(few.rows.map(row => row.id))
    expect(few.rows).toEqual(all.rows.filter(row => ids.has(row.id)))
    const at = few.rows.map(row => all.rows.findIndex(each => each.id === row.id))
    expect(few.others.map(each => each.now)).toEqual(all.others.map(each => at.map(i => each.now[i])))
    expect({ ...few, rows: [], others: [] }).toEqual({ ...all, rows: [], others: [] })
    expect(few.total).toBe(4)
  })

  test('an own page is summed over time, from the day on which it was found', async () => {
    const of = (page: string) => server.call(pageHistory, { siteId: site.id, marketId, page, days: 10 })
    const b = await of(`${own}/b`)
    expect(b.from).toBe('2025-12-30')
    expect(b.keywords).toEqual([null, null, 0, 0, 0, 0, 0, 0, 0, 1])
    const a = await of(`${own}/a`)
    expect(a.keywords).toEqual([null, null, 1, 0, 0, 0, 0, 0, 0, 0])
    const { rows } = await positions(7)
    const now = rows.find(each => each.phrase === 'banding wheel')!.visits
    if (now === null) expect(b.visits.at(-1)).toBeNull()
    else expect(b.visits.at(-1)).toBeCloseTo(now, 6)
    expect(a.visits.at(-1)).toBe(0)
    expect(await of(`${own}/none`)).toEqual({ from: null, keywords: [], visits: [] })
  })
  test('a change over more days than there are is unknown, a position of over a year ago too', async () => {
    await importPositions(header + line('2024-06-01', 'slab pot', 8, `${own}/s`))
    const row = (await positions(7)).rows.find(each => each.phrase === 'slab pot')!
    expect(row).toMatchObject({ now: 0, nowDay: null, before: 0, beforeDay: null })
    expect((await positions(365)).rows.find(each => each.phrase === 'banding wheel')).toMatchObject({
      now: 4,
      before: 0,
    })
    expect((await positions(365)).visibility.change).toBeNull()
  })

  test('history over a change of year is whole, and importing a day again replaces only what it names', async () => {
    await importPinchPot()
    await importPositions(header + line('2026-01-01', 'pinch pot', 3, `${own}/p`))
    const row = (await positions()).rows.find(each => each.phrase === 'pinch pot')!
    const days = await server.call(keywordHistory, { siteId: site.id, keywordId: row.id, days: 9 })
    expect(days.markets[0]!.positions).toEqual([5, 3, 0, 0, 0, 0, 0, 0, 0])
    expect((await positions()).rows.find(each => each.phrase === 'banding wheel')!.before).toBe(12)
  })

  test('days that the night folds into years read the same, and what is imported again is seen on both sides of it', async () => {
    const dayAt = (i: number) => `2026-02-0${i + 1}`
    const week = Array.from({ length: 9 }, (_, i) => line(dayAt(i), 'pinch pot', i + 1, `${own}/p`))
    await importPositions(header + week.join(''))
    const row = (await positions()).rows.find(each => each.phrase === 'pinch pot')!
    const read = async () =>
      (await server.call(keywordHistory, { siteId: site.id, keywordId: row.id, days: 10 })).markets[0]!.positions
    const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 1 })
    onTestFinished(() => pool.end())
    const foldedUntil = async () =>
      (await pool.query('select folded_until::text "day" from market where id = $1', [marketId])).rows[0]!.day
    expect(await read()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
    expect(await foldedUntil()).toBeNull()
    await foldNightly(pool)
    expect(await foldedUntil()).toBe('2026-02-08')
    expect(await read()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
    await importPositions(
      header + line(dayAt(2), 'pinch pot', 30, `${own}/p`) + line(dayAt(8), 'pinch pot', '>50', `${own}/p`),
    )
    expect(await read()).toEqual([0, 1, 2, 30, 4, 5, 6, 7, 8, -50])
    // A keyword of which only folded days tell is still known to have been checked.
    expect((await positions()).rows.find(each => each.phrase === 'banding wheel')).toMatchObject({
      now: 4,
      nowDay: '2026-01-08',
    })
  })

  test('wrong lines are listed, markets of the file are made', async () => {
    const { job } = await importPositions(
      `${header}2026-01-40,kiln,lantern,tarrow,en,desktop,3,\n2026-01-05,kiln,lantern,tarrow,en,watch,3,\n2026-01-05,kiln,lantern,tarrow,en,desktop,third,\n05.01.2026,kiln,lantern,wexmere,en,mobile,7,\n`,
    )
    expect(job.result).toMatchObject({ lines: 4, wrong: 3, saved: 1 })
    const market = (await server.call(listSites, {}))[0]!.markets.find(each => each.place === 'wexmere')!
    expect((await positions(7, market.id)).rows.find(row => row.phrase === 'kiln')).toMatchObject({ now: 7 })
  })

  test('a column of keywords taken for countries is said, and nothing is imported', async () => {
    const lines = Array.from({ length: 8_300 }, (_, i) => `2026-03-01,kiln,lantern,word ${i},en,desktop,3,\n`)
    const { job } = await importPositions(header + lines.join(''))
    expect(job.error).toMatch(/over 8,192 engines, countries and languages.*Nothing was imported/)
    expect((await positions()).rows.map(row => row.phrase)).not.toContain('kiln')
  })

  test('a check asks both engines on both devices, agrees with what the engine shows, and is never "not found" for want of an answer', async () => {
    await importPinchPot()
    const rivals = ['clayharbour.example', 'nobody-at-all.example']
    await server.call(saveBrands, {
      siteId: site.id,
      brands: [
        { owner: 'kilnandtide.example', own: true, words: ['kiln and tide'] },
        ...rivals.map(owner => ({ owner, own: false, words: [owner] })),
      ],
    })
    const row = (await positions()).rows.find(each => each.phrase === 'banding wheel')!
    const { jobId, requests } = await server.call(checkNow, { siteId: site.id, keywordIds: [row.id] })
    expect(requests).toBeGreaterThanOrEqual(4)
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', result: { failed: 0 } })
    const answer = (await (
      await fetch(`${inject('source')}/engines/lantern/search?q=banding%20wheel&language=en&num=100`, {
        headers: { authorization: 'Bearer demo-key' },
      })
    ).json()) as { organic: Array<{ position: number; url: string }> }
    const hit = answer.organic.find(each => each.url.startsWith(own))
    const all = await positions()
    const at = all.rows.findIndex(each => each.phrase === 'banding wheel')
    const now = all.rows[at]!
    expect(now.now).toBe(hit ? hit.position : -100)
    expect(now.page).toBe(hit?.url ?? null)
    // Rivals are read off the same results.
    const best = answer.organic.find(each => new URL(each.url).hostname.endsWith(rivals[0]!))?.position ?? -100
    expect(all.rivals.map(each => [each.domain, each.now[at], each.before[at]])).toEqual([
      [rivals[0], best, 0],
      [rivals[1], -100, 0],
    ])
    expect(all.others.map(each => each.now[at] !== 0)).toEqual([true, true, true])
    // Keywords that were not part of the check keep their last known position, with its day.
    const other = (await positions()).rows.find(each => each.phrase === 'pinch pot')!
    expect(other).toMatchObject({ now: 6, nowDay: '2026-01-01' })
    expect(other.recent.at(-1)).toBe(0)
  })

  test('visibility weighs by searches that were asked for on arrival, and lies between 0 and 100', async () => {
    const days = await server.call(listVisibility, { siteId: site.id, marketId, days: 400 })
    expect(days.map(each => each.day)).toEqual([...days.map(each => each.day)].sort())
    const known = days.filter(each => each.visibility !== null)
    expect(known.length).toBeGreaterThan(0)
    for (const each of known) {
      expect(each.visibility).toBeGreaterThanOrEqual(0)
      expect(each.visibility).toBeLessThanOrEqual(100)
    }
    expect(days.find(each => each.day === '2026-01-02')).toMatchObject({ visibility: 0, notFound: 1 })
  })

  test(`visits follow the click curve of the own log
    where there is one, as everywhere, and the results that take clicks`, async () => {
    const { pool } = server.context
    await importPinchPot()
    await pool.query('update demand set average = 1000 where site_id = $1', [site.id])
    const visitsOf = async (phrase: string) => (await positions()).rows.find(row => row.phrase === phrase)!.visits
    expect(await visitsOf('banding wheel')).toBeCloseTo(1000 * 0.073, 4)
    await pool.query(
      `insert into click_curve (site_id, device, brand, shares, impressions) values ($1, 'desktop', false, $2, '{}')`,
      [site.id, [0.5, 0.3, 0.2, 0.1]],
    )
    expect(await visitsOf('banding wheel')).toBeCloseTo(1000 * 0.1, 4)
    // Half as many searches click a result of this keyword as of the others on average.
    await pool.query(
      `insert into weighing (site_id, keyword_id, market_id, state, levels, organic_share, weighed_at)
       select $1, k.id, $2, 'known', '{}', case when k.phrase = 'banding wheel' then 0.3 else 0.9 end, now()
       from keyword k where k.site_id = $1 and k.phrase in ('banding wheel', 'pinch pot')`,
      [site.id, marketId],
    )
    expect(await visitsOf('banding wheel')).toBeCloseTo(1000 * 0.1 * (0.3 / 0.6), 3)
    await pool.query('update demand set average = null where site_id = $1', [site.id])
    expect(await visitsOf('banding wheel')).toBeNull()
  })

  test('where no weighed result is the site’s own, the page that tracking last found is', async () => {
    await importPinchPot()
    const { id } = (await positions()).rows.find(each => each.phrase === 'pinch pot')!
    const weighing = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: [id] })
    await server.finish(weighing.jobId!)
    // As if the site stood nowhere among them.
    await server.context.pool.query(
      `update result_page set organic = (select jsonb_agg(o) from jsonb_array_elements(organic) o
        where o->>'url' not like '%kilnandtide%')`,
    )
    const ownPage = async () => (await server.call(getFirstPage, { siteId: site.id, keywordId: id, marketId }))!.ownPage
    expect(await ownPage()).toEqual({ url: `${own}/p`, position: null })
    // Found no longer on the day after.
    await importPositions(header + line('2026-01-02', 'pinch pot', '>100'))
    expect(await ownPage()).toBeNull()
  })

  test('tracking can be stopped and taken up again with its history', async () => {
    await importPinchPot()
    const row = (await positions()).rows.find(each => each.phrase === 'pinch pot')!
    expect(await server.call(trackKeywords, { siteId: site.id, keywordIds: [row.id], tracked: false })).toMatchObject({
      changed: [row.id],
    })
    expect((await positions()).rows.some(each => each.id === row.id)).toBe(false)
    expect(await server.call(trackKeywords, { siteId: site.id, keywordIds: [row.id], tracked: true })).toMatchObject({
      changed: [row.id],
    })
    expect(
      (await server.call(keywordHistory, { siteId: site.id, keywordId: row.id, days: 2_000 })).markets.some(each =>
        each.positions.includes(5),
      ),
    ).toBe(true)
  })
})
