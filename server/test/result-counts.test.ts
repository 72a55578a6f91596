import { askCounts, keepPhrases } from '@dew-trail/contract/gather'
import { listSources } from '@dew-trail/contract/sources'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer, withoutSources } from './test-server.ts'

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  await server.call(keepPhrases, { ...at, phrases: ['pottery wheel', 'raku kiln', 'zzqx nobody writes'] })
})
afterAll(() => server.close())

const rowsOf = async (of = at) =>
  new Map((await server.rows(of.siteId, of.marketId)).rows.map(row => [row.phrase, row]))
const ask = async () => {
  const keywordIds = [...(await rowsOf()).values()].map(row => row.id)
  return server.finish((await server.call(askCounts, { ...at, keywordIds })).jobId)
}
const requests = async () =>
  (await server.call(listSources, { siteId: site.id })).find(each => each.key === 'engines')!.today.requests

test('an engine is asked for pages with a keyword and for those with it in the title; what was not asked is unknown', async () => {
  for (const row of (await rowsOf()).values()) expect([row.countText, row.countTitle]).toEqual([null, null])
  expect(await ask()).toMatchObject({ state: 'done', total: 3, result: { requested: 3 }, warnings: [] })
  const rows = await rowsOf()
  for (const phrase of ['pottery wheel', 'raku kiln']) {
    expect(rows.get(phrase)!.countTitle).toBeGreaterThan(0)
    expect(rows.get(phrase)!.countText).toBeGreaterThan(rows.get(phrase)!.countTitle)
  }
  expect(rows.get('zzqx nobody writes')!.countTitle).toBe(0)
  // Of another market nothing is known.
  const other = await rowsOf({ ...at, marketId: site.markets[1]!.id })
  expect(other.get('raku kiln')!.countText).toBeNull()
})

test('zero is asked again, twice each time; the rest stays for a month', async () => {
  const before = await requests()
  expect(await ask()).toMatchObject({ total: 3, result: { requested: 1 } })
  // Once for the text, twice for titles.
  expect((await requests()) - before).toBe(3)
})

test('an engine that cannot be reached takes nothing away', async () => {
  const rows = await rowsOf()
  const known = rows.get('raku kiln')!.countText
  const keywordIds = [...rows.values()].map(row => row.id)
  server = await withoutSources(server, async down => {
    const { jobId } = await down.call(askCounts, { ...at, keywordIds })
    expect(await down.finish(jobId)).toMatchObject({ state: 'done', warnings: [{ times: 1 }] })
  })
  expect((await rowsOf()).get('raku kiln')!.countText).toBe(known)
})
