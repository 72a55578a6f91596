import { listLists } from '@dew-trail/contract/lists'
import { keepPhrases, listGatherings } from '@dew-trail/contract/gather'
import {
  addMarket,
  changeMarket,
  changeSite,
  createSite,
  getTrail,
  listSites,
  removeMarket,
  removeSite,
} from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { checkNow, trackKeywords } from '@dew-trail/contract/track'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { keepingFeature } from '../src/features/keeping/index.ts'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let siteId: number
let keywordIds: number[]
beforeAll(async () => {
  server = await testServer()
  const filled = await filledSite(server, 'potter.example')
  siteId = filled.siteId as number
  keywordIds = filled.keywordIds
})
afterAll(() => server.close())

const siteOf = async (id: number) => (await server.call(listSites, {})).find(each => each.id === id)

test('a pasted address is its site; a site is renamed', async () => {
  const made = await server.call(createSite, { domain: ' https://Weaver.example/looms?a=1 ', name: 'Weaver' })
  expect(made.domain).toBe('weaver.example')
  await server.call(changeSite, { siteId: made.id, name: 'The weaver' })
  expect(await siteOf(made.id)).toMatchObject({ name: 'The weaver', refreshWeighings: false })
  await server.call(removeSite, { siteId: made.id, domain: 'weaver.example' })
})

test('a market is added once from what engines offer, named, and left out of checks while it is paused', async () => {
  const offered = { siteId, engine: 'lantern', place: 'tarrow', language: 'en', device: 'mobile' as const }
  const added = await server.call(addMarket, offered)
  expect((await server.call(addMarket, offered)).id).toBe(added.id)
  await expect(server.call(addMarket, { ...offered, place: 'moon' })).rejects.toThrow('searches moon in "en" on mobile')
  await server.call(changeMarket, { siteId, marketId: added.id, name: 'Phones' })
  expect((await siteOf(siteId))!.markets.find(each => each.id === added.id)).toMatchObject({
    name: 'Phones',
    paused: false,
  })
  await server.call(trackKeywords, { siteId, keywordIds: keywordIds.slice(0, 1), tracked: true })
  const english = (await siteOf(siteId))!.markets.filter(each => each.language === 'en')
  for (const each of english.slice(1)) await server.call(changeMarket, { siteId, marketId: each.id, paused: true })
  const { jobId, requests } = await server.call(checkNow, { siteId })
  expect(requests).toBe(1)
  await server.finish(jobId)
})

test('a market goes with its data; what was gathered in it stays; the last one stays', async () => {
  const { markets } = (await siteOf(siteId))!
  const before = (await server.call(listGatherings, { siteId })).length
  for (const { id } of markets.slice(0, -1)) await server.call(removeMarket, { siteId, marketId: id })
  const last = markets.at(-1)!
  expect((await siteOf(siteId))!.markets.map(each => each.id)).toEqual([last.id])
  const gatherings = await server.call(listGatherings, { siteId })
  expect(gatherings).toHaveLength(before)
  expect(new Set(gatherings.map(each => each.marketId))).toEqual(new Set([last.id]))
  await expect(server.call(removeMarket, { siteId, marketId: last.id })).rejects.toMatchObject({ code: 'conflict' })
})

test('a site goes with everything of it, once its domain is typed, and another keeps all of its own', async () => {
  const other = await filledSite(server, 'smith.example')
  await expect(server.call(removeSite, { siteId, domain: 'smith.example' })).rejects.toThrow('type potter.example')
  await server.call(removeSite, { siteId, domain: 'Potter.example' })
  expect(await siteOf(siteId)).toBeUndefined()
  // Its data stays for a day, in which it can be brought back.
  await server.context.pool.query("update site set removed_at = now() - interval '25 hours' where id = $1", [siteId])
  await keepingFeature.minutely!['removed-sites']!(server.context)
  const db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  // In the graph's own tables "site_id" is a site of the graph.
  const { rows: tables } = await db.query<{ name: string }>(
    `select c.table_name name from information_schema.columns c
      join information_schema.tables t using (table_schema, table_name)
     where c.column_name = 'site_id' and t.table_type = 'BASE TABLE' and t.table_schema = 'public'
       and not exists (select from information_schema.columns g
         where g.table_name = c.table_name and g.column_name = 'graph_id'
         and c.table_name <> 'crawl')`,
  )
  expect(tables.length).toBeGreaterThan(30)
  const left: string[] = []
  for (const { name } of tables)
    if ((await db.query(`select from "${name}" where site_id = $1`, [siteId])).rowCount) left.push(name)
  expect(left).toEqual([])
  const named = await db.query(
    `select relname from pg_class
      where relname ~ ('^(keyword|demand|keyword_id|keyword_revision|result_page_id|result_site_id|' ||
        'known_keyword_id)_site_${siteId}$')`,
  )
  expect(named.rows).toEqual([])
  await db.end()
  expect((await server.call(listLists, { siteId: other.siteId as number })).map(each => each.name)).toEqual(['A list'])
  expect((await server.rows(other.siteId as number, other.marketId as number)).rows.length).toBeGreaterThan(3)
})

test('each market has the keywords of its language, in its rows and in the counts of the trail', async () => {
  const site = await server.call(createSite, {
    domain: 'two-tongues.example',
    name: 'Two',
    place: 'tarrow',
    language: 'en',
  })
  const siteId = site.id
  const english = site.markets[0]!.id
  const { id: german } = await server.call(addMarket, {
    siteId,
    engine: 'lantern',
    place: 'verlau',
    language: 'de',
    device: 'desktop',
  })
  await server.call(keepPhrases, { siteId, marketId: english, phrases: ['kiln', 'kick wheel'] })
  await server.call(keepPhrases, { siteId, marketId: german, phrases: ['brennofen'] })
  const phrases = async (marketId: number) => (await server.rows(siteId, marketId)).rows.map(row => row.phrase).sort()
  expect(await phrases(english)).toEqual(['kick wheel', 'kiln'])
  expect(await phrases(german)).toEqual(['brennofen'])
  const counts = async (marketId?: number) => {
    const { found, kept } = await server.call(getTrail, { siteId, ...(marketId ? { marketId } : {}) })
    return [found, kept]
  }
  expect([await counts(english), await counts(german), await counts()]).toEqual([
    [2, 2],
    [1, 1],
    [3, 3],
  ])
  const begun = await server.call(startWeighing, { siteId, marketId: german })
  expect(begun.count).toBe(1)
  await server.finish(begun.jobId!)
})
