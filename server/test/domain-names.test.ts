import { askNames, keepPhrases, listNames } from '@dew-trail/contract/gather'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { nameLabel } from '../src/features/gather/domain-names.ts'
import { demoSite, type TestServer, testServer, withoutSources } from './test-server.ts'

let server: TestServer
let site: Site
let ids: Map<string, number>
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const phrases = ['clay harbour', 'a name nobody has', 'kiln & tide', '窯']
  await server.call(keepPhrases, { siteId: site.id, marketId: site.markets[0]!.id, phrases })
  ids = new Map((await rowsOf()).map(row => [row.phrase, row.id]))
})
afterAll(() => server.close())

const rowsOf = async () => (await server.rows(site.id, site.markets[0]!.id)).rows
const ask = async (endings: string[], of: TestServer = server) =>
  of.finish((await of.call(askNames, { siteId: site.id, keywordIds: [...ids.values()], endings })).jobId)
const namesOf = async () => new Map((await rowsOf()).map(row => [row.phrase, [row.freeNames, row.names]]))

test.each([
  ['Clay Harbour', 'clayharbour'],
  ['größe', 'groesse'],
  ['café crème 2', 'cafecreme2'],
  ['窯', null],
  ['x'.repeat(64), null],
])('%s as a label', (phrase, label) => expect(nameLabel(phrase)).toBe(label))

test('the registry is asked in a job; rows tell which names are free, and what was not asked stays unknown', async () => {
  expect((await namesOf()).get('clay harbour')).toEqual([null, null])
  const known = () =>
    server.call(listNames, { siteId: site.id, keywordIds: [ids.get('clay harbour')!], endings: ['.example'] })
  expect(await known()).toEqual([{ keywordId: ids.get('clay harbour'), name: 'clayharbour.example', free: null }])
  expect(await ask(['.example'])).toMatchObject({ state: 'done', total: 3, result: { requested: 3, free: 2 } })
  expect(await known()).toMatchObject([{ free: false }])
  expect(await namesOf()).toEqual(
    new Map([
      ['clay harbour', [0, null]],
      ['a name nobody has', [1, 'anamenobodyhas.example']],
      ['kiln & tide', [1, 'kilntide.example']],
      ['窯', [null, null]],
    ]),
  )
})

test('what it said within a month is not asked again, another ending is', async () => {
  expect(await ask(['.example', 'example'])).toMatchObject({ result: { requested: 0, free: 0 } })
  expect(await ask(['.example', '.shop.example'])).toMatchObject({ total: 6, result: { requested: 3 } })
  expect((await namesOf()).get('a name nobody has')).toEqual([2, 'anamenobodyhas.example|anamenobodyhas.shop.example'])
})

test('a registry that cannot be reached leaves names unknown and says so; an ending that is none is refused', async () => {
  server = await withoutSources(server, async down => {
    const job = await ask(['.club.example'], down)
    expect(job).toMatchObject({ state: 'done', result: { free: 0 }, warnings: [{ times: 3 }] })
    expect(job.warnings[0]!.what).toContain('The registry')
  })
  expect((await namesOf()).get('clay harbour')).toEqual([1, 'clayharbour.shop.example'])
  await expect(ask(['no good'])).rejects.toMatchObject({ status: 400 })
})
