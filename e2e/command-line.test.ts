import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeAccessKey } from '@dew-trail/contract/access-keys'
import { keepKeywords } from '@dew-trail/contract/gather'
import { createReport } from '@dew-trail/contract/reports'
import { createSite } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { callServer, keywordRows } from '@dew-trail/scripts/lib/client'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import { runTrail } from '@dew-trail/scripts/lib/trail-commands'
import { afterAll, beforeAll, expect, test } from 'vitest'

let stack: Stack
let siteId: number
let marketId: number
let key: string
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20' })
  const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  ;[siteId, marketId] = [site.id, site.markets[0]!.id]
  key = (await callServer(stack.server, makeAccessKey, { siteId, name: 'Cron', role: 'editor' })).key
})
afterAll(() => stack?.close())

const trail = async (...args: string[]) => {
  let out = ''
  let log = ''
  const code = await runTrail(args, {
    env: { DEW_TRAIL_URL: stack.server, DEW_TRAIL_KEY: key },
    out: { write: text => (out += text) },
    log: { write: text => (log += text) },
    cwd: stack.folder,
  })
  return { code, out, log }
}
const written = (name: string) => readFileSync(join(stack.folder, name))

test('gathers, weighs, groups and checks, with progress beside the result', async () => {
  const gathered = await trail('gather', 'glaze', '--ideas', '30')
  expect(gathered).toMatchObject({ code: 0, out: expect.stringMatching(/^\d+ keywords found\n$/) })
  expect(Number(gathered.out.split(' ')[0])).toBeGreaterThan(3)
  expect(gathered.log).toContain('glaze')
  const keywordIds = (await keywordRows(stack.server, siteId, marketId)).slice(0, 4).map(row => row.id)
  await callServer(stack.server, keepKeywords, { siteId, keywordIds, kept: true })
  await callServer(stack.server, trackKeywords, { siteId, keywordIds: keywordIds.slice(0, 2), tracked: true })
  const weighed = await trail('weigh', '--json')
  expect(weighed.code).toBe(0)
  expect(JSON.parse(weighed.out)).toEqual({ weighed: 4 })
  expect(await trail('weigh')).toMatchObject({ code: 0, out: 'Every kept keyword is weighed\n' })
  expect(await trail('group', '--name', 'By cron')).toMatchObject({
    code: 0,
    out: expect.stringMatching(/^"By cron": \d+ of \d+/),
  })
  expect(await trail('check')).toMatchObject({ code: 0, out: expect.stringMatching(/positions checked/) })
})

test('tables and reports come out as files, by their endings', async () => {
  expect((await trail('export', 'keywords', '--out', 'k.csv')).code).toBe(0)
  const lines = String(written('k.csv')).trim().split('\n')
  const some = await trail('export', 'keywords', '--where', 'kept:yes')
  expect(some.out.trim().split('\n').length).toBeLessThan(lines.length)
  expect((await trail('export', 'keywords', '--out', 'k.xlsx')).code).toBe(0)
  expect(String(written('k.xlsx').subarray(0, 2))).toBe('PK')
  await callServer(stack.server, createReport, { siteId, marketId, name: 'A month', template: 'positions' })
  expect(await trail('report', 'A month', '--out', 'r.pdf', '--json')).toMatchObject({ code: 0 })
  expect(String(written('r.pdf').subarray(0, 5))).toBe('%PDF-')
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
  await callServer(stack.server, createSite, { domain: 'clayharbour.example', name: 'Clay Harbour' })
  expect(await trail('check', '--site', 'clayharbour.example')).toMatchObject({
    code: 2,
    log: expect.stringContaining('there are kilnandtide.example'),
  })
})
