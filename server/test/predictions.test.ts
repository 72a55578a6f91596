import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { changePage, createPage } from '@dew-trail/contract/plan'
import type { Site } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { type Predictions, readPredictions, startWeighing } from '@dew-trail/contract/weigh'
import { encodeDay } from '@dew-trail/core/positions/day-vector'
import pg from 'pg'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { saveResults } from '../src/domain/results/save-results.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let pool: pg.Pool
let site: Site
let marketId: number
let ids: number[]
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 })
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds: ['pottery wheel'],
    mostIdeas: 20,
    ways: ['ads'],
  })
  await server.finish(jobs[0]!.jobId)
  ids = (await server.rows(site.id, marketId)).rows.slice(0, 4).map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
  const { jobId } = await server.call(startWeighing, { siteId: site.id, marketId })
  await server.finish(jobId!)
})
afterAll(async () => {
  await pool.end()
  await server.close()
})
beforeEach(async () => {
  for (const table of ['prediction', 'position_day', 'tracked_keyword', 'page_plan'])
    await pool.query(`delete from ${table} where site_id = $1`, [site.id])
  await pool.query(`delete from result_page where site_id = $1 and fetched_on >= '2030-01-01'`, [site.id])
  // The own site stands nowhere yet, so that every page is a new one.
  await pool.query('delete from result_row where site_id = $1', [site.id])
})

const readAt = async (today: string): Promise<Predictions> => {
  const { engine, device } = site.markets[0]!
  return server.call(readPredictions, { siteId: site.id, engine, device, today })
}
const publish = async (keywordIds: number[], title = 'Wheels'): Promise<number> => {
  const { id } = await server.call(createPage, { siteId: site.id, title, keywordIds })
  await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
  return id
}
/** Moves what was published today to a day. */
const backdate = (day: string) =>
  pool.query('update page_plan set published_on = $2 where site_id = $1 and published_on is not null', [site.id, day])
const showResults = (keywordId: number, day: string, urls: string[]) =>
  pool.query(
    `insert into result_page (site_id, keyword_id, market_id, fetched_on, fetched_at, organic, features, related)
      values ($1, $2, $3, $4::date, $4::date, $5, '{}', '{}')`,
    [site.id, keywordId, marketId, day, JSON.stringify(urls.map(url => ({ url, title: '', snippet: '' })))],
  )
const chanceOf = async (keywordId: number): Promise<number> =>
  (
    await pool.query<{ chance10: number }>(
      'select chance10 from weighing where site_id = $1 and keyword_id = $2 and market_id = $3',
      [site.id, keywordId, marketId],
    )
  ).rows[0]!.chance10

describe('what was said of published pages', () => {
  test('is kept as it was said on that day, whatever is learnt later', async () => {
    expect((await readAt('2030-01-01')).rows).toEqual([])
    const chance = await chanceOf(ids[0]!)
    const pageId = await publish(ids.slice(0, 1))
    await pool.query('update weighing set chance10 = chance10 / 2 where site_id = $1 and keyword_id = $2', [
      site.id,
      ids[0],
    ])
    // Saying it again changes nothing.
    await server.call(changePage, { siteId: site.id, pageId, state: 'writing' })
    expect((await readAt('2030-01-01')).rows).toEqual([])
    await server.call(changePage, { siteId: site.id, pageId, state: 'published' })
    await backdate('2030-01-01')
    const { rows, sum } = await readAt('2030-03-01')
    expect(rows).toMatchObject([
      { pageId, title: 'Wheels', keywordId: ids[0], publishedOn: '2030-01-01', dueOn: '2030-03-02', state: 'waiting' },
    ])
    expect(rows[0]!.chance).toBeCloseTo(chance, 5)
    expect(sum).toEqual({ count: 0, expected: 0, happened: 0, spread: 0, verdict: 'few' })
    expect((await readAt('2030-03-02')).rows[0]!.state).toBe('unseen')
    await pool.query('update weighing set chance10 = $3 where site_id = $1 and keyword_id = $2', [
      site.id,
      ids[0],
      chance,
    ])
  })

  test('is judged by the first result page after the page has settled', async () => {
    await publish(ids.slice(0, 3))
    await backdate('2031-01-01')
    const own = `https://www.${site.domain}/wheels`
    const others = Array.from({ length: 12 }, (_, i) => `https://rival-${i}.example/`)
    await showResults(ids[0]!, '2031-02-01', [own])
    await showResults(ids[0]!, '2031-03-05', [...others.slice(0, 3), own])
    await showResults(ids[0]!, '2031-04-05', others)
    await showResults(ids[1]!, '2031-03-09', [...others, own])
    await showResults(ids[2]!, '2031-03-09', others)
    const { rows, sum } = await readAt('2031-05-01')
    const byKeyword = new Map(rows.map(row => [row.keywordId, row]))
    expect(byKeyword.get(ids[0]!)).toMatchObject({ state: 'judged', seenOn: '2031-03-05', position: 4, depth: 4 })
    expect(byKeyword.get(ids[1]!)).toMatchObject({ state: 'judged', position: 13 })
    expect(byKeyword.get(ids[2]!)).toMatchObject({ state: 'judged', position: null, depth: 12 })
    expect(sum).toMatchObject({ count: 3, happened: 1, verdict: 'few' })
    expect(sum.expected).toBeCloseTo(rows.reduce((all, row) => all + row.chance, 0))
  })

  test('is judged by watched positions where they come first', async () => {
    await server.call(trackKeywords, { siteId: site.id, keywordIds: ids.slice(0, 3), tracked: true })
    const slots = new Map(
      (
        await pool.query<{ id: number; slot: number }>(
          'select keyword_id id, slot from tracked_keyword where site_id = $1',
          [site.id],
        )
      ).rows.map(row => [row.id, row.slot]),
    )
    await publish(ids.slice(0, 3))
    await backdate('2032-01-01')
    const watch = (day: string, positions: number[]) => {
      const vector = new Int16Array(Math.max(...slots.values()) + 1)
      for (const [i, position] of positions.entries()) vector[slots.get(ids[i]!)!] = position
      return pool.query('insert into position_day values ($1, $2, $3, $4, now())', [
        site.id,
        marketId,
        day,
        Buffer.from(encodeDay(vector)),
      ])
    }
    await watch('2032-02-20', [1, 1, 1])
    // The second was not checked that day, the third not found among a hundred.
    await watch('2032-03-03', [300, 0, -100])
    await watch('2032-03-04', [2, 7, 3])
    const byKeyword = new Map((await readAt('2032-04-01')).rows.map(row => [row.keywordId, row]))
    expect(byKeyword.get(ids[0]!)).toMatchObject({ position: 300, seenOn: '2032-03-03' })
    expect(byKeyword.get(ids[1]!)).toMatchObject({ position: 7, seenOn: '2032-03-04' })
    expect(byKeyword.get(ids[2]!)).toMatchObject({ position: null, depth: 100, seenOn: '2032-03-03' })
  })

  test('is not kept where the site stands already, nor of pages that were there', async () => {
    const standsAt = (keywordId: number, position: number) => ({
      keywordId,
      day: '2030-05-05',
      depth: 20,
      results: [
        { position: 1, url: 'https://rival.example/' },
        { position, url: `https://${site.domain}/` },
      ],
    })
    const of = { siteId: site.id, marketId, source: 'engines' }
    await saveResults(pool, of, [standsAt(ids[0]!, 10), standsAt(ids[1]!, 11)])
    await publish(ids.slice(0, 2))
    const { id } = await server.call(createPage, {
      siteId: site.id,
      title: 'Old',
      kind: 'keep',
      keywordIds: ids.slice(2, 3),
    })
    await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
    expect((await readAt('2030-01-01')).rows.map(row => row.keywordId)).toEqual([ids[1]])
  })

  test('belongs to its engine and device', async () => {
    await publish(ids.slice(0, 1))
    const other = site.markets.find(market => market.engine !== site.markets[0]!.engine)!
    const { engine, device } = other
    expect((await server.call(readPredictions, { siteId: site.id, engine, device, today: '2030-01-01' })).rows).toEqual(
      [],
    )
  })
})
