import { chooseFirst } from '@dew-trail/contract/brief'
import { startGathering } from '@dew-trail/contract/gather'
import { changePage, createPage } from '@dew-trail/contract/plan'
import type { Site } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { startWeighing } from '@dew-trail/contract/weigh'
import { encodeDay } from '@dew-trail/core/positions/day-vector'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { readSettling } from '../src/features/plan/read-settling.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let pool: pg.Pool
let site: Site
let at: { siteId: number; marketId: number }
let rows: Array<{ id: number }>
/** Slots of tracked keywords. */
let slots: Map<number, number>
const published = '2026-02-01'
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 })
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['kiln'], mostIdeas: 30, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  rows = (await server.rows(at.siteId, at.marketId)).rows.filter(row => row.searches !== null).slice(0, 8)
  await server.finish((await server.call(startWeighing, { ...at, keywordIds: rows.map(row => row.id) })).jobId!)
  await server.call(trackKeywords, {
    siteId: site.id,
    keywordIds: rows.map(row => row.id),
    tracked: true,
  })
  const { rows: tracked } = await pool.query<{ id: number; slot: number }>(
    'select keyword_id id, slot from tracked_keyword where site_id = $1',
    [site.id],
  )
  slots = new Map(tracked.map(row => [row.id, row.slot]))
})
afterAll(async () => {
  await pool.end()
  await server.close()
})

const choice = () => server.call(chooseFirst, { ...at, today: '2026-11-05', of: 'pages', aMonth: 1, months: 1 })
/** Publishes a page for each keyword and writes positions of 150 days: 60 until a day, then 5. */
async function publishAll(settles: readonly number[]): Promise<void> {
  for (const [i] of settles.entries()) {
    const { id } = await server.call(createPage, { siteId: site.id, title: `Page ${i}`, keywordIds: [rows[i]!.id] })
    await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
  }
  await pool.query(`update page_plan set published_on = $2 where site_id = $1 and state = 'published'`, [
    site.id,
    published,
  ])
  await pool.query('delete from position_day where site_id = $1', [site.id])
  for (let day = 0; day < 150; day++) {
    const vector = new Int16Array(Math.max(...slots.values()) + 1)
    for (const [i, settled] of settles.entries()) vector[slots.get(rows[i]!.id)!] = day < settled ? 60 : 5
    await pool.query(
      `insert into position_day (site_id, market_id, day, positions, checked_at)
       values ($1, $2, $3::date + $4::integer, $5, now())`,
      [site.id, at.marketId, published, day, Buffer.from(encodeDay(vector))],
    )
  }
}

test('pages take the usual time to settle until five published ones tell, then what those took', async () => {
  const { id } = await server.call(createPage, { siteId: site.id, title: 'To come', keywordIds: [rows[7]!.id] })
  expect(await choice()).toMatchObject({ settle: 60, settleFrom: 0, chosen: [{ pageId: id }] })
  const before = (await choice()).chosen[0]!.value
  await publishAll([10, 20, 30, 40])
  expect(await choice()).toMatchObject({ settle: 60, settleFrom: 0 })
  await pool.query(`delete from page_plan where site_id = $1 and title like 'Page%'`, [site.id])
  await publishAll([10, 20, 30, 40, 50])
  const learnt = await choice()
  expect(learnt).toMatchObject({ settle: 30, settleFrom: 5, chosen: [{ pageId: id }] })
  // What settles sooner brings more until the same day.
  expect(learnt.chosen[0]!.value).toBeGreaterThan(before)
  // Another market knows nothing of it.
  expect(await readSettling(pool, site.id, site.markets[1]!)).toEqual({ days: 60, pages: 0 })
})
