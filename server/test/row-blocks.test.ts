import { keepKeywords } from '@dew-trail/contract/gather'
import { runImport } from '@dew-trail/contract/imports'
import type { Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'
import { LastBlocks } from '../src/domain/keyword-rows/last-blocks.ts'

let server: TestServer
let site: Site
let marketId: number
let client: pg.Client
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  client = new pg.Client({ connectionString: server.databaseUrl })
  await client.connect()
})
afterAll(async () => {
  await client.end()
  await server.close()
})

const importRows = async (from: number, to: number, searches: number) => {
  const lines = Array.from({ length: to - from }, (_, i) => `pottery ware ${from + i},${searches + i}`)
  const { importId, suggested } = await server.upload(site.id, 'keywords', `keyword,searches\n${lines.join('\n')}\n`)
  const { jobId } = await server.call(runImport, { siteId: site.id, importId, marketId, mapping: suggested })
  expect((await server.finish(jobId)).state).toBe('done')
}
const blocks = async (): Promise<number> =>
  Number((await client.query('select count(*) n from row_block where site_id = $1', [site.id])).rows[0].n)
/** What a browser holds after reading all lines: of a keyword that came twice the later row. */
const held = async (since = 0) => {
  const { rows, revision } = await server.rows(site.id, marketId, since)
  return { revision, byId: new Map(rows.map(row => [row.id, row])), lines: rows.length }
}

test('rows read from kept blocks are those that were put together, whatever changed in between', async () => {
  await importRows(0, 12_000, 10)
  const first = await held()
  expect(first.byId.size).toBe(12_000)
  expect(await blocks()).toBe(2)
  const again = await held()
  expect([...again.byId.values()]).toEqual([...first.byId.values()])

  // Changed rows come again later and win.
  const some = [...first.byId.keys()].slice(0, 40)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: some, kept: true })
  const changed = await held()
  expect(changed.lines).toBe(12_040)
  expect([...changed.byId.values()].filter(row => row.kept)).toHaveLength(40)
  expect((await held(first.revision)).byId.size).toBe(40)
  // Who asks from the middle of a block gets all that came after.
  const middle = await held(first.revision - 9_000)
  for (const id of some) expect(middle.byId.get(id)!.kept).toBe(true)
})

test('blocks whose rows mostly came again are made anew', async () => {
  await importRows(0, 12_000, 500)
  const after = await held()
  expect(after.byId.size).toBe(12_000)
  expect([...after.byId.values()].every(row => row.searches >= 500)).toBe(true)
  await expect.poll(async () => (await held()).lines, { timeout: 20_000 }).toBe(12_000)
})

test('two who open the same table at once get the same whole table', async () => {
  await client.query('delete from row_block')
  const [a, b, c] = await Promise.all([held(), held(), held()])
  expect([a!.byId.size, b!.byId.size, c!.byId.size]).toEqual([12_000, 12_000, 12_000])
  expect(b!.revision).toBe(a!.revision)
})

test('a newest block is held while nothing came after it, and the longest unused goes when there are too many', async () => {
  const { pool } = server.context
  const { rows } = await pool.query<{ last: number; count: number }>(
    'select max(revision) last, count(*) count from keyword where site_id = $1',
    [site.id],
  )
  const { last, count } = rows[0]!
  const block = (lines: string, to = last) => ({ from: 0, to, keywords: count, lines })
  const held = new LastBlocks(10)
  held.set('a', block('12345'))
  held.set('b', block('12345'))
  expect(await held.get(pool, site.id, 'a')).toEqual(block('12345'))
  held.set('c', block('123'))
  expect(await held.get(pool, site.id, 'b')).toBeUndefined()
  expect((await held.get(pool, site.id, 'a'))?.lines).toBe('12345')
  held.set('d', block('longer than all that fits'))
  expect(await held.get(pool, site.id, 'd')).toBeUndefined()
  held.set('e', block('12', last - 1))
  expect(await held.get(pool, site.id, 'e')).toBeUndefined()
})
