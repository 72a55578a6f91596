import { existsSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { archivePath, readPage } from '@dew-trail/contract/crawl'
import { edgesPath, type ImportKind, runImport, type Uploaded, verticesPath } from '@dew-trail/contract/imports'
import type { Job } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { makeOds, makeXlsx, zipOf } from '../src/platform/files/make-workbook.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer({ FILE_MAX_LINE_BYTES: '5000', FILE_MAX_CELL_CHARS: '2000', FILE_SECONDS: '30' })
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())

type Read = { file: Uploaded; job: Job; wrong: string[] }
/** Uploads and imports a file; the lines that were listed, as "line what". */
async function read(kind: ImportKind, content: string | Buffer, mapping?: Record<string, number>): Promise<Read> {
  const file = (await server.upload(site.id, kind, content)) as Uploaded & { error?: { message: string } }
  if (file.error) throw new Error(file.error.message)
  const { importId } = file
  const input = { siteId: site.id, importId, marketId, mapping: mapping ?? file.suggested }
  const job = await server.finish((await server.call(runImport, input)).jobId)
  const list = await server.raw(`/api/sites/${site.id}/imports/${importId}/errors.csv`)
  const lines = String(list.body).trim().split(/\r?\n/).slice(1)
  return { file, job, wrong: lines.map(line => line.replaceAll('"', '').split(',').slice(0, 2).join(' ')) }
}
const rowsOf = async (): Promise<Map<string, Record<string, unknown>>> =>
  new Map((await server.rows(site.id, marketId)).rows.map(row => [String(row.phrase), row]))

describe('one bad value', () => {
  test('of keywords is listed with its line, and the rest goes in', async () => {
    const { job, wrong } = await read(
      'keywords',
      `keyword,volume,cpc\nbad nul\u0000 kept,10,1\nbad digits,${'9'.repeat(46)},1\nbad cpc,5,1e300\nbad half \ud800 kept,7,2\nbad none,,\nbad exact,20,1e-7\n`,
    )
    expect(job).toMatchObject({ state: 'done', error: null, result: { lines: 6, wrong: 2, total: 4 } })
    expect(wrong.map(line => line.slice(0, 14))).toEqual(['3 searches is ', '4 CPC is above'])
    const rows = await rowsOf()
    expect(rows.get('bad nul kept')).toMatchObject({ searches: 10 })
    expect(rows.get('bad half \ufffd kept')).toMatchObject({ searches: 7 })
    expect(rows.get('bad none')).toMatchObject({ searches: null, demandState: 'notAsked' })
    expect(rows.get('bad exact')).toMatchObject({ searches: 20, cpc: 0 })
  })
  test('of a query log is listed with its line, and the rest goes in', async () => {
    const { job, wrong } = await read(
      'log',
      'day,query,impressions,clicks,position\n2026-11-02,a\u0000 kiln,10,1,3\n2026-11-02,b,99999999999999,1,3\n0001-01-01,c,1,0,1\n9999-12-31,d,1,0,1\n2026-11-02,e,5,0,0\n2026-11-02,f,5,0,4\n',
    )
    expect(job).toMatchObject({ state: 'done', error: null, result: { lines: 6, wrong: 4 } })
    expect(wrong.map(line => line.split(' ')[0])).toEqual(['3', '4', '5', '6'])
  })
  test('of positions is listed with its line; days to come are none', async () => {
    const tomorrow = new Date(Date.now() + 3 * 86_400_000).toISOString().slice(0, 10)
    const { job, wrong } = await read(
      'positions',
      `date,keyword,position\n2026-11-02,pos kiln\u0000,3\n${tomorrow},pos kiln,3\n0001-01-01,pos kiln,3\n2026-11-03,pos kiln,99999999999\n2026-11-04,pos kiln,5\n`,
    )
    expect(job).toMatchObject({ state: 'done', error: null, result: { lines: 5, wrong: 3, saved: 2, keywords: 1 } })
    expect(wrong[0]).toBe('3 The date lies in the future')
  })
  test('of links is listed with its line, and a null character in an anchor is not', async () => {
    const { job, wrong } = await read(
      'links',
      'source,target,anchor,first seen\nhttps://a.example/1,https://b.example/,"an\u0000chor",2026-01-01\nhttps://a.example/2,https://b.example/,x,9999-01-01\nhttps://a.example/3\u0000,https://b.example/,x,\nhttp://,https://b.example/,x,\nhttps://a.example/4,https://b.example/,\ud800,2026-01-01\n',
    )
    expect(job).toMatchObject({ state: 'done', error: null, result: { lines: 5, wrong: 2 } })
    expect(wrong.map(line => line.split(' ')[0])).toEqual(['3', '5'])
  })
  test('of an archive is told with its record, and the rest goes in', async () => {
    const record = (url: string, date: string, body: string): Buffer => {
      const block = Buffer.from(`HTTP/1.1 200 OK\r\nContent-Type: text/html; charset=utf-8\r\n\r\n${body}`)
      const head = `WARC/1.0\r\nWARC-Type: response\r\nWARC-Target-URI: ${url}\r\nWARC-Date: ${date}\r\nContent-Length: ${block.length}\r\n\r\n`
      return Buffer.concat([Buffer.from(head), block, Buffer.from('\r\n\r\n')])
    }
    const page =
      '<title>a\u0000b&#0;c</title><h1>h\u0000</h1><p>text \u0000</p><a href="https://x.example/\u0000y">an\u0000chor</a>'
    const whole = Buffer.concat([
      record('https://nul.example/', '2026-11-01T10:00:00Z', page),
      record('https://old.example/', '0001-01-01T00:00:00Z', page),
      record('https://far.example/', '9999-01-01T00:00:00Z', page),
      record('https://cut.example/', '2026-11-01T10:00:00Z', page),
    ])
    const { body } = await server.raw(archivePath(site.id, 'a.warc'), {
      method: 'POST',
      body: whole.subarray(0, whole.length - 40) as unknown as string,
      headers: { 'content-type': 'application/warc' },
    })
    const job = await server.finish(body.jobId)
    expect(job).toMatchObject({ state: 'done', error: null, result: { pages: 1, other: 2, spoilt: 1 } })
    expect(job.warnings).toEqual([{ what: expect.stringMatching(/^Record 4: the archive is cut/), times: 1 }])
    const facts = await server.call(readPage, { siteId: site.id, url: 'https://nul.example/' })
    expect(facts!.title).toMatch(/^a.?b.?c$/)
    expect(facts!.links).toHaveLength(1)
  })
})

describe('a table', () => {
  const phrases = async (prefix: string): Promise<string[]> =>
    [...(await rowsOf()).keys()].filter(phrase => phrase.startsWith(prefix)).sort()

  test('with an odd number of bare quotes doubles no clicks and swallows no rows', async () => {
    const { job } = await read(
      'log',
      `day,query,impressions,clicks,position\n2026-10-05,qq 6" pot,10,1,3\n${Array.from({ length: 3_000 }, (_, i) => `2026-10-05,qq word ${i},2,1,3\n`).join('')}2026-10-05,"qq, last",4,2,1\n`,
    )
    expect(job.result).toMatchObject({ lines: 3_002, wrong: 0 })
    expect((await phrases('qq ')).length).toBeGreaterThan(3_000)
  })
  test('whose header ends otherwise than its rows, with lines above it, a hint, or in gzip is read whole', async () => {
    const rows = 'rr a,1\nrr b,2\nrr c,3\n'
    for (const [content, line] of [
      [`keyword,volume\r\n${rows}`, 1],
      [`Report of all words\n\nkeyword,volume\n${rows}`, 3],
      [`sep=,\nkeyword,volume\n${rows}`, 2],
      [gzipSync(`keyword,volume\n${rows}`), 1],
    ] as const) {
      const { file, job } = await read('keywords', content as string)
      expect(file.headerLine).toBe(line)
      expect(job.result).toMatchObject({ lines: 3, wrong: 0, total: 3 })
    }
    expect(await phrases('rr ')).toEqual(['rr a', 'rr b', 'rr c'])
  })
  test('with one line of Latin-1 far down keeps its letters', async () => {
    const filler = Array.from({ length: 20_000 }, (_, i) => `ll word ${i % 50},1\n`).join('')
    await read(
      'keywords',
      Buffer.concat([Buffer.from(`keyword,volume\n${filler}`), Buffer.from('ll töpfer,5\n', 'latin1')]),
    )
    expect((await rowsOf()).get('ll töpfer')).toMatchObject({ searches: 5 })
  })
  test('in UTF-16 without a mark is read', async () => {
    await read('keywords', Buffer.from('keyword,volume\nuu größe,70\n', 'utf16le'))
    expect((await rowsOf()).get('uu größe')).toMatchObject({ searches: 70 })
  })
  test('with a line or a cell over its bound lists it with its number', async () => {
    const { job, wrong } = await read(
      'keywords',
      `keyword,volume\nbb a,1\n${'x'.repeat(9_000)},1\n"bb ${'y'.repeat(3_000)}",2\nbb b,3\n`,
    )
    expect(job.result).toMatchObject({ total: 2 })
    expect(wrong.map(line => line.split(' ')[0])).toEqual(['3', '4'])
  })
  test('without any row says so', async () => {
    const { job } = await read('keywords', 'keyword,volume\n')
    expect(job).toMatchObject({
      state: 'done',
      result: { lines: 0 },
      warnings: [{ what: expect.stringContaining('no rows') }],
    })
  })
  test('as a workbook or an OpenDocument spreadsheet is read', async () => {
    const cell = (text: string) =>
      `<table:table-cell office:value-type="string"><text:p>${text}</text:p></table:table-cell>`
    const number = '<table:table-cell office:value-type="float" office:value="12"/>'
    await read(
      'keywords',
      makeOds(
        `<table:table-row>${cell('keyword')}${cell('volume')}</table:table-row><table:table-row>${cell('ods kiln')}${number}</table:table-row>`,
      ),
    )
    expect((await rowsOf()).get('ods kiln')).toMatchObject({ searches: 12 })
    const row = (a: string, b: string) => `<row><c t="str"><v>${a}</v></c><c t="str"><v>${b}</v></c></row>`
    await read('keywords', makeXlsx(row('keyword', 'volume') + row('xlsx kiln', '1.300'), { packed: false }))
    expect((await rowsOf()).get('xlsx kiln')).toMatchObject({ searches: 1300 })
  })
})

describe('a file that is none of its kind', () => {
  const sends: Array<[string, () => string, Buffer | string]> = [
    ['an empty table', () => `/api/sites/${site.id}/imports?kind=keywords`, ''],
    ['blanks', () => `/api/sites/${site.id}/imports?kind=keywords`, ' \n\n\t\n'],
    [
      'noise',
      () => `/api/sites/${site.id}/imports?kind=links`,
      Buffer.from(Array.from({ length: 9_000 }, (_, i) => (i * i * 7) & 255)),
    ],
    ['an old workbook', () => `/api/sites/${site.id}/imports?kind=log`, Buffer.from('d0cf11e0a1b11ae1', 'hex')],
    ['a document', () => `/api/sites/${site.id}/imports?kind=log`, Buffer.from('%PDF-1.7')],
    ['half a zip', () => `/api/sites/${site.id}/imports?kind=positions`, makeXlsx('<row/>').subarray(0, 60)],
    ['a zip of texts', () => `/api/sites/${site.id}/imports?kind=positions`, zipOf({ 'a.csv': 'a,b' }, true)],
    [
      'half a gzip',
      () => `/api/sites/${site.id}/imports?kind=keywords`,
      gzipSync('keyword,volume\nkiln,1\n'.repeat(500)).subarray(0, 40),
    ],
    ['a bomb', () => `/api/sites/${site.id}/imports?kind=keywords`, gzipSync(Buffer.alloc(60_000_000))],
    ['no archive', () => archivePath(site.id, 'x'), 'hello'],
  ]
  test.each(sends)('%s is refused with a reason', async (_name, path, body) => {
    const answer = await server.raw(path(), {
      method: 'POST',
      body: body as string,
      headers: { 'content-type': 'text/csv' },
    })
    expect([400, 413]).toContain(answer.status)
    expect(answer.body.error.message.length).toBeGreaterThan(15)
  })
  test('a graph of one endless line says so, and nothing hangs', async () => {
    const post = async (path: string, body: Buffer | string) =>
      (await server.raw(path, { method: 'POST', body: body as string, headers: { 'content-type': 'text/plain' } })).body
    const { importId } = await post(verticesPath(site.id, 'v.gz'), gzipSync(Buffer.alloc(30_000_000, 'x')))
    const { jobId } = await post(edgesPath(site.id, importId, 'e'), '0\t1\n')
    expect(await server.finish(jobId)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('times its size'),
    })
    expect((await server.raw('/api/health')).status).toBe(200)
  })
})

describe('an import', () => {
  test('asked for twice at once is one job, and its file is gone when it is done', async () => {
    const file = (await server.upload(site.id, 'keywords', 'keyword,volume\ntwice kiln,5\n')) as Uploaded
    const input = { siteId: site.id, importId: file.importId, marketId, mapping: file.suggested }
    const [first, second] = await Promise.all([server.call(runImport, input), server.call(runImport, input)])
    expect(second.jobId).toBe(first.jobId)
    expect(await server.finish(first.jobId)).toMatchObject({ state: 'done', result: { added: 1 } })
    const again = await server.finish((await server.call(runImport, input)).jobId)
    expect(again).toMatchObject({ state: 'failed', error: expect.stringContaining('upload it again') })
  })
  test('leaves no files behind: half received ones and those nobody ran go after a while, those of jobs stay', async () => {
    const folder = join(server.context.config.DATA_DIR, 'imports')
    const waiting = (await server.upload(site.id, 'keywords', 'keyword\nwaits\n')) as Uploaded
    const [kept] = (
      await server.context.pool.query<{ path: string }>('select file_path path from import where id = $1', [
        waiting.importId,
      ])
    ).rows
    const old = join(folder, 'half-received')
    const young = join(folder, 'still-coming')
    for (const path of [old, young]) writeFileSync(path, 'x')
    const hours = (count: number): Date => new Date(Date.now() - count * 3_600_000)
    utimesSync(old, hours(1), hours(1))
    utimesSync(kept!.path, hours(1), hours(1))
    await server.upload(site.id, 'keywords', 'keyword\nnext\n')
    expect([old, young, kept!.path].map(path => existsSync(path))).toEqual([false, true, true])
    await server.context.pool.query("update import set created_at = now() - interval '2 days' where id = $1", [
      waiting.importId,
    ])
    await server.upload(site.id, 'keywords', 'keyword\nlast\n')
    expect(existsSync(kept!.path)).toBe(false)
    const input = { siteId: site.id, importId: waiting.importId, marketId, mapping: { phrase: 0 } }
    expect(await server.finish((await server.call(runImport, input)).jobId)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('upload it again'),
    })
  })
  test('finds no room when what waits takes the quota', async () => {
    const small = await testServer({ UPLOADS_MAX_BYTES: '60000' }, server.databaseUrl)
    expect(await small.upload(site.id, 'keywords', `keyword\n${'kiln\n'.repeat(8_000)}`)).toHaveProperty('importId')
    expect(await small.upload(site.id, 'keywords', `keyword\n${'kiln\n'.repeat(8_000)}`)).toMatchObject({
      error: { code: 'tooLarge', message: expect.stringContaining('UPLOADS_MAX_BYTES') },
    })
    await small.close()
  })
})
