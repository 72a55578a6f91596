import { undoAct } from '@dew-trail/contract/acts'
import { keepKeywords, pruneGathering, startGathering } from '@dew-trail/contract/gather'
import { runImport, takeBackImport, type Uploaded } from '@dew-trail/contract/imports'
import type { Site } from '@dew-trail/contract/sites'
import { listImports } from '@dew-trail/contract/sources'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { makeXlsx } from '../src/platform/files/make-workbook.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer({ IMPORT_MAX_BYTES: '200000' })
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())

const importKeywords = async (
  text: string | Buffer,
  more: Partial<{ mapping: Record<string, number>; keep: boolean }> = {},
) => {
  const file = (await server.upload(site.id, 'keywords', text)) as Uploaded
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId: file.importId,
    marketId,
    mapping: file.suggested,
    ...more,
  })
  return { file, job: await server.finish(jobId) }
}
const rowOf = async (phrase: string) => (await server.rows(site.id, marketId)).rows.find(row => row.phrase === phrase)

describe('keywords from a file', () => {
  test('other column names are recognised, figures land, missing ones stay unknown', async () => {
    const { file, job } = await importKeywords(
      'Search term;Avg. monthly searches;CPC;Remark\nGlaze  Chart;1.300;0,84;x\nwax resist;;;y\n"kiln ""wash""";0;-;z\n',
    )
    expect(file).toMatchObject({
      separator: ';',
      encoding: 'utf-8',
      header: ['Search term', 'Avg. monthly searches', 'CPC', 'Remark'],
      suggested: { phrase: 0, searches: 1, cpc: 2 },
    })
    expect(file.preview[0]).toEqual(['Glaze  Chart', '1.300', '0,84', 'x'])
    expect(job.result).toMatchObject({ lines: 3, wrong: 0, added: 3 })
    expect(await rowOf('glaze chart')).toMatchObject({ searches: 1300, cpc: 0.84, demandSource: 'import' })
    expect(await rowOf('wax resist')).toMatchObject({
      searches: null,
      cpc: null,
      demandState: 'notAsked',
      cameFrom: 'import',
    })
    expect(await rowOf('kiln "wash')).toMatchObject({ searches: 0, cpc: null, demandState: 'known' })
  })

  test('a number with one dot and three digits behind it is read as written', async () => {
    await importKeywords('keyword,volume,cpc\nslip trailer,"1,300",1.250\n')
    expect(await rowOf('slip trailer')).toMatchObject({ searches: 1300, cpc: 1.25 })
  })

  test('competition may be a word for a third of the scale, a share or a percentage', async () => {
    const { job } = await importKeywords(
      'Suchbegriff;Suchvolumen;Wettbewerb\ntop eins;10;niedrig\ntop zwei;10;Mittel\ntop drei;10;HIGH\ntop vier;10;37\ntop fünf;10;viel\n',
    )
    expect(job.result).toMatchObject({ lines: 5, wrong: 1, added: 4 })
    const found = await Promise.all(['top eins', 'top zwei', 'top drei', 'top vier'].map(rowOf))
    expect(found.map(row => row!.competition)).toEqual([0.17, 0.5, 0.83, 0.37])
  })

  test('wrong lines are listed by line and value, right ones are saved', async () => {
    const { file, job } = await importKeywords('keyword,volume\nraku tongs,many\n,10\nkiln gloves,90\nkiln mitts,-5\n')
    expect(job).toMatchObject({ state: 'done', result: { lines: 4, wrong: 3, total: 1 } })
    const list = await server.raw(`/api/sites/${site.id}/imports/${file.importId}/errors.csv`)
    expect(list.headers.get('content-type')).toContain('text/csv')
    expect(list.body.trim().split(/\r?\n/)).toEqual([
      'line,what,value',
      '2,searches is not a number,many',
      '3,The keyword is empty,',
      `5,searches is below 0,"'-5"`,
    ])
  })

  test('importing again changes figures and doubles nothing', async () => {
    await importKeywords('keyword,volume\nclay knife,10\n')
    const before = (await server.rows(site.id, marketId)).rows.length
    await importKeywords('keyword,volume\nClay Knife,20\nclay knife,30\n', { keep: true })
    expect((await server.rows(site.id, marketId)).rows.length).toBe(before)
    expect(await rowOf('clay knife')).toMatchObject({
      kept: true,
      searches: 30,
    })
  })

  test('a file with CPC alone leaves the searches what they were, with source and date', async () => {
    await importKeywords('keyword,volume,competition\nclay sieve,40,0.5\n')
    const client = new pg.Client({ connectionString: server.databaseUrl })
    await client.connect()
    await client.query(
      `update demand set source = 'ads', fetched_at = '2026-11-02' where site_id = $1 and average = 40`,
      [site.id],
    )
    await client.end()
    await importKeywords('keyword,cpc\nclay sieve,2.5\n')
    expect(await rowOf('clay sieve')).toMatchObject({
      searches: 40,
      demandSource: 'ads',
      demandDate: '2026-11-02',
      cpc: 2.5,
      cpcFrom: expect.stringMatching(/^import\|2/),
      competition: 0.5,
      competitionFrom: 'ads|2026-11-02',
    })
  })

  test('a blank cell in a later line or file erases no figure', async () => {
    const { job } = await importKeywords('keyword,volume,cpc\nclay bat,40,1.5\nClay Bat,,2\nclay bat,,\n')
    expect(job.result).toMatchObject({ lines: 3, total: 1, withDemand: 1 })
    expect(await rowOf('clay bat')).toMatchObject({ searches: 40, cpc: 2 })
    await importKeywords('keyword,volume,cpc\nclay bat,,\n')
    expect(await rowOf('clay bat')).toMatchObject({ searches: 40, cpc: 2, demandSource: 'import' })
  })

  test('is one of the ways of a keyword that was known already, and keeps it when the other is pruned', async () => {
    const { jobs } = await server.call(startGathering, {
      siteId: site.id,
      marketId,
      seeds: ['kiln'],
      mostIdeas: 20,
      ways: ['ads'],
    })
    await server.finish(jobs[0]!.jobId)
    const [known, other] = (await server.rows(site.id, marketId)).rows.filter(row => row.cameFrom === 'ads')
    await importKeywords(`keyword\n${known!.phrase}\n`)
    expect(await rowOf(known!.phrase)).toMatchObject({ cameFrom: 'ads|import' })
    await server.call(pruneGathering, { siteId: site.id, gatheringId: jobs[0]!.gatheringId, pruned: true })
    expect(await rowOf(known!.phrase)).toMatchObject({ cameFrom: 'import', pruned: false })
    expect(await rowOf(other!.phrase)).toMatchObject({ pruned: true })
  })

  test('Windows-1252, UTF-16 and tabs are read', async () => {
    await importKeywords(Buffer.from('keyword\tvolume\nt\xf6pferscheibe\t50\n', 'latin1'))
    expect(await rowOf('töpferscheibe')).toMatchObject({ searches: 50 })
    await importKeywords(
      Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('keyword,volume\nglasur größe,70\n', 'utf16le')]),
    )
    expect(await rowOf('glasur größe')).toMatchObject({ searches: 70 })
  })

  test('quoted line breaks across the parts of a long file keep their line numbers', async () => {
    const lines = Array.from({ length: 3_000 }, (_, i) =>
      i % 500 === 250 ? `"two\nlines ${i}",1` : `filler word ${i},${i}`,
    )
    const { job } = await importKeywords(`keyword,volume\n${lines.join('\n')}\n`)
    expect(job.result).toMatchObject({ lines: 3_000, wrong: 0, total: 3_000 })
    expect(await rowOf('two lines 250')).toMatchObject({ searches: 1 })
  })

  test('an empty file, one that is too large, a missing column and an unknown import are refused clearly', async () => {
    expect(await server.upload(site.id, 'keywords', '')).toMatchObject({
      error: { code: 'badInput', message: 'The file is empty' },
    })
    expect(await server.upload(site.id, 'keywords', 'x'.repeat(300_000))).toMatchObject({
      error: { code: 'tooLarge', message: expect.stringContaining('Nothing was imported') },
    })
    const file = (await server.upload(site.id, 'keywords', 'a,b\n1,2\n')) as Uploaded
    await expect(
      server.call(runImport, { siteId: site.id, importId: file.importId, marketId, mapping: {} }),
    ).rejects.toMatchObject({ code: 'badInput', message: 'Say which column holds: Keyword' })
    await expect(
      server.call(runImport, { siteId: site.id, importId: 9_999, marketId, mapping: { phrase: 0 } }),
    ).rejects.toMatchObject({ code: 'notFound' })
  })
})

describe('workbooks', () => {
  test('the first sheet of an XLSX file is imported like a CSV file, formulas by their result, dates as days', async () => {
    const text = (...values: string[]) => values.map(value => `<c t="str"><v>${value}</v></c>`).join('')
    const book = makeXlsx(
      `<row r="1">${text('Keyword', 'Volume', 'Seen')}</row><row r="2">${text('zz raku tongs')}<c><v>120</v></c><c s="1"><v>46300</v></c></row>` +
        `<row r="3">${text('zz, with "quotes"')}<c><f>60*2</f><v>120</v></c></row><row r="5">${text('')}<c><v>5</v></c></row>`,
      { styles: '<cellXfs><xf/><xf numFmtId="14"/></cellXfs>' },
    )
    const { body } = await server.raw(`/api/sites/${site.id}/imports?kind=keywords&fileName=words.xlsx`, {
      method: 'POST',
      body: new Uint8Array(book),
      headers: { 'content-type': 'text/csv' },
    })
    expect(body).toMatchObject({ header: ['Keyword', 'Volume', 'Seen'], suggested: { phrase: 0, searches: 1 } })
    expect(body.preview[0]).toEqual(['zz raku tongs', '120', '2026-10-05'])
    const { jobId } = await server.call(runImport, {
      siteId: site.id,
      importId: body.importId,
      marketId,
      mapping: body.suggested,
    })
    expect((await server.finish(jobId)).result).toMatchObject({ lines: 3, wrong: 1, added: 2 })
    const { rows } = await server.rows(site.id, marketId)
    expect(rows.find(row => row.phrase === 'zz, with "quotes')?.searches).toBe(120)
    const errors = await server.raw(`/api/sites/${site.id}/imports/${body.importId}/errors.csv`)
    expect(errors.body).toContain('5,The keyword is empty')
  })
  test('a file that only looks like a workbook is refused with a reason', async () => {
    const answer = await server.raw(`/api/sites/${site.id}/imports?kind=keywords&fileName=words.xlsx`, {
      method: 'POST',
      body: new Uint8Array([0x50, 0x4b, 3, 4, 1, 2, 3]),
      headers: { 'content-type': 'text/csv' },
    })
    expect(answer.status).toBe(400)
    expect(answer.body.error.message).toContain('workbook')
  })
})

describe('an import of keywords that is taken back', () => {
  const shown = async (phrase: string) => (await rowOf(phrase))?.pruned === false
  const take = (importId: number, on = true) => server.call(takeBackImport, { siteId: site.id, importId, on })
  const listed = async (importId: number) =>
    (await server.call(listImports, { siteId: site.id })).find(each => each.id === importId)!

  test('leaves out what it alone brought and nobody uses; undo and putting back bring it again', async () => {
    const { file } = await importKeywords(
      'keyword,volume\nmajolica sink,10\nmajolica lamp,20\nmajolica tile,30\nglaze chart,7\n',
    )
    const tile = (await rowOf('majolica tile'))!.id
    await server.call(keepKeywords, { siteId: site.id, keywordIds: [tile], kept: true })
    // A second file names one of them too, which then is nobody's alone.
    const other = await importKeywords('keyword,volume\nmajolica lamp,25\n')
    expect(await listed(file.importId)).toMatchObject({ brought: 2, takenBack: false })
    expect((await listed(other.file.importId)).brought).toBe(0)
    const { keywords, actId } = await take(file.importId)
    expect(keywords).toBe(1)
    const all = () => Promise.all(['majolica sink', 'majolica lamp', 'majolica tile', 'glaze chart'].map(shown))
    expect(await all()).toEqual([false, true, true, true])
    expect(await listed(file.importId)).toMatchObject({ takenBack: true })
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect(await all()).toEqual([true, true, true, true])
    await take(file.importId)
    expect((await take(file.importId, false)).keywords).toBe(1)
    expect(await all()).toEqual([true, true, true, true])
    // Brought again by another file after it was taken back.
    await take(file.importId)
    const again = await importKeywords('keyword,volume\nmajolica sink,11\n')
    expect(await shown('majolica sink')).toBe(true)
    expect((await listed(again.file.importId)).brought).toBe(1)
    await take(file.importId, false)
    await take(again.file.importId)
    expect(await shown('majolica sink')).toBe(false)
  })

  test('is told which imports cannot be', async () => {
    const waiting = (await server.upload(site.id, 'keywords', 'keyword\nnot run\n')) as Uploaded
    await expect(take(waiting.importId)).rejects.toMatchObject({ code: 'conflict' })
    await expect(take(999_999)).rejects.toMatchObject({ code: 'notFound' })
  })
})
