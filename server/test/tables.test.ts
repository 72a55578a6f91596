import { keepKeywords } from '@dew-trail/contract/gather'
import { tablePath } from '@dew-trail/contract/tables'
import readXlsxFile from 'read-excel-file/node'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let siteId: number
let marketId: number
let keywordIds: number[]
beforeAll(async () => {
  server = await testServer()
  const filled = await filledSite(server, 'potter.example')
  siteId = filled.siteId as number
  marketId = filled.marketId as number
  keywordIds = filled.keywordIds
})
afterAll(() => server.close())

type Shown = Partial<Parameters<typeof tablePath>[3]>
const get = (table: string, shown: Shown = {}) =>
  fetch(server.url + tablePath(siteId, marketId, table, { format: 'csv', columns: [], where: [], sort: '', ...shown }))
const textOf = async (table: string, shown: Shown = {}) => {
  const body = await (await get(table, shown)).arrayBuffer()
  return new TextDecoder('utf-8', { ignoreBOM: true }).decode(body)
}
const keptRows = async () =>
  (await server.rows(siteId, marketId)).rows
    .filter(row => row.kept && row.searches !== null)
    .sort((a, b) => b.searches! - a.searches!)

test('keywords as CSV have the columns, conditions and order that are asked for', async () => {
  await server.call(keepKeywords, { siteId, keywordIds, kept: true })
  const answer = await get('keywords', {
    columns: ['phrase', 'searches', 'searchesLow'],
    where: ['kept:yes', 'searches:known'],
    sort: '-searches',
  })
  expect(answer.headers.get('content-disposition')).toBe('attachment; filename="keywords.csv"')
  const lines = (await answer.text()).trim().split('\r\n')
  const rows = await keptRows()
  expect(rows.length).toBeGreaterThan(1)
  // A range is two columns of a file.
  expect(lines).toEqual([
    'Keyword,Searches,Searches from,Searches to',
    ...rows.map(row => [row.phrase, row.searches, row.searchesLow, row.searchesHigh].join(',')),
  ])
})

test('JSON Lines have keys and null for unknown; a workbook has the same rows', async () => {
  const shown: Shown = { columns: ['phrase', 'difficulty'], where: ['kept:yes', 'searches:known'], sort: '-searches' }
  const rows = await keptRows()
  const lines = (await textOf('keywords', { ...shown, format: 'jsonl' })).trim().split('\n')
  expect(lines.map(line => JSON.parse(line))).toEqual(rows.map(row => ({ phrase: row.phrase, difficulty: null })))
  const [sheet] = await readXlsxFile(
    Buffer.from(await (await get('keywords', { ...shown, format: 'xlsx' })).arrayBuffer()),
  )
  expect(sheet!.data).toEqual([['Keyword', 'Difficulty'], ...rows.map(row => [row.phrase, null])])
})

test('the plan and positions are tables too', async () => {
  const plan = await textOf('plan', { columns: ['title', 'keywords'] })
  expect(plan.split('\r\n')[0]).toBe('\ufeffPage,Keywords,Which keywords')
  expect(plan).toContain('A page,3,')
  expect(await textOf('positions', { columns: ['phrase', 'now'] })).toBe(
    '\ufeffKeyword,Now,Days before the last day\r\n',
  )
})

test('what is not there is refused with what is', async () => {
  const message = async (table: string, shown: Shown) =>
    ((await (await get(table, shown)).json()) as { error: { message: string } }).error.message
  expect(await message('wells', {})).toBe('There is no table "wells"; there are keywords, positions, plan')
  expect(await message('keywords', { columns: ['phrase', 'odd'] })).toBe('columns: the table has no column "odd"')
  expect(await message('keywords', { where: ['odd:from:1'] })).toContain('no column "odd" for conditions or order')
  expect(await message('keywords', { where: ['searches:about:1'] })).toContain('"searches:about:1" is no condition')
})
