import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { makeAccessKey } from '@dew-trail/contract/access-keys'
import { createReport } from '@dew-trail/contract/reports'
import { createSite } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { runTrail } from '@dew-trail/scripts/lib/trail-commands'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let siteId: number
let marketId: number
let key: string
beforeAll(async () => {
  server = await testServer()
  const filled = await filledSite(server, 'kilnandtide.example')
  ;[siteId, marketId] = [Number(filled.siteId), Number(filled.marketId)]
  await server.call(trackKeywords, { siteId, keywordIds: [Number(filled.keywordId)], tracked: true })
  key = (await server.call(makeAccessKey, { siteId, name: 'Cron', role: 'editor' })).key
})
afterAll(() => server.close())

const trail = async (...args: string[]) => {
  let out = ''
  let log = ''
  const code = await runTrail(args, {
    env: { DEW_TRAIL_URL: server.url, DEW_TRAIL_KEY: key },
    out: { write: text => (out += text) },
    log: { write: text => (log += text) },
    cwd: server.context.config.DATA_DIR,
  })
  return { code, out, log }
}
const written = (name: string) => readFile(join(server.context.config.DATA_DIR, name))

test('gathers, weighs, groups and checks, with progress beside the result', async () => {
  const gathered = await trail('gather', 'glaze', '--ideas', '30')
  expect(gathered).toMatchObject({ code: 0, out: expect.stringMatching(/^\d+ keywords found\n$/) })
  expect(Number(gathered.out.split(' ')[0])).toBeGreaterThan(3)
  expect(gathered.log).toContain('glaze')
  const weighed = await trail('weigh', '--json')
  expect(weighed.code).toBe(0)
  expect(JSON.parse(weighed.out).weighed).toBeGreaterThanOrEqual(0)
  expect(await trail('weigh')).toMatchObject({ code: 0, out: 'Every kept keyword is weighed\n' })
  expect(await trail('group', '--name', 'By cron')).toMatchObject({
    code: 0,
    out: expect.stringMatching(/^"By cron": \d+ of \d+/),
  })
  expect(await trail('check')).toMatchObject({ code: 0, out: expect.stringMatching(/positions checked/) })
})

test('tables and reports come out as files, by their endings', async () => {
  expect((await trail('export', 'keywords', '--out', 'k.csv')).code).toBe(0)
  const lines = String(await written('k.csv'))
    .trim()
    .split('\n')
  const some = await trail('export', 'keywords', '--where', 'kept:yes')
  expect(some.out.trim().split('\n').length).toBeLessThan(lines.length)
  expect((await trail('export', 'keywords', '--out', 'k.xlsx')).code).toBe(0)
  expect(String((await written('k.xlsx')).subarray(0, 2))).toBe('PK')
  await server.call(createReport, { siteId, marketId, name: 'A month', template: 'positions' })
  expect(await trail('report', 'A month', '--out', 'r.pdf', '--json')).toMatchObject({ code: 0 })
  expect(String((await written('r.pdf')).subarray(0, 5))).toBe('%PDF-')
  const called = await trail('call', 'listNotes', JSON.stringify({ siteId }))
  expect(Array.isArray(JSON.parse(called.out))).toBe(true)
})

test('exit codes tell failure, wrong use and a closed door apart', async () => {
  expect(await trail('sites')).toMatchObject({ code: 0, out: expect.stringContaining('kilnandtide.example') })
  expect(await trail('--help')).toMatchObject({ code: 0, out: expect.stringContaining('Exit codes') })
  for (const wrong of [
    [],
    ['dance'],
    ['gather'],
    ['export', 'keywords', '--out', 'k.doc'],
    ['report', 'None'],
    ['--nonsense'],
  ])
    expect([wrong, (await trail(...wrong)).code]).toEqual([wrong, 2])
  expect((await trail('export', 'nothing')).code).toBe(1)
  expect(await trail('sites', '--url', 'http://127.0.0.1:1')).toMatchObject({
    code: 3,
    log: expect.stringContaining('Nothing answers'),
  })
  expect(await trail('sites', '--key', 'dew_wrong')).toMatchObject({ code: 3 })
  // The key is an editor's: it makes no keys.
  expect(await trail('call', 'makeAccessKey', JSON.stringify({ siteId, name: 'x', role: 'reader' }))).toMatchObject({
    code: 3,
  })
  await server.call(createSite, { domain: 'clayharbour.example', name: 'Clay Harbour' })
  expect(await trail('check', '--site', 'clayharbour.example')).toMatchObject({
    code: 2,
    log: expect.stringContaining('there are kilnandtide.example'),
  })
})
