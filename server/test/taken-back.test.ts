import { listGroupings } from '@dew-trail/contract/group'
import { runImport, takeBackImport, type Uploaded } from '@dew-trail/contract/imports'
import { readLinkProfile } from '@dew-trail/contract/link-profile'
import { readLinkFigures } from '@dew-trail/contract/link-lists'
import { readClickCurves, readLogState } from '@dew-trail/contract/log'
import type { Site } from '@dew-trail/contract/sites'
import { listImports } from '@dew-trail/contract/sources'
import { keywordHistory, listPositions } from '@dew-trail/contract/track'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())

const bring = async (kind: string, text: string, name = 'file.csv'): Promise<number> => {
  const file = (await server.upload(site.id, kind, text, name)) as Uploaded
  const run = { siteId: site.id, importId: file.importId, marketId, mapping: file.suggested }
  const ended = await server.finish((await server.call(runImport, run)).jobId)
  expect(ended.error).toBeNull()
  return file.importId
}
/** Takes an import back or puts it back; gives the state the job ended in and what it said. */
const take = async (importId: number, on: boolean) => {
  const { jobId } = await server.call(takeBackImport, { siteId: site.id, importId, on })
  const { state, error, result } = await server.finish(jobId!)
  return { state, error, result }
}
const listed = async (importId: number) =>
  (await server.call(listImports, { siteId: site.id })).find(each => each.id === importId)!
const shown = async (phrase: string) =>
  (await server.rows(site.id, marketId)).rows.find(row => row.phrase === phrase && !row.pruned)

describe('an import of positions', () => {
  const tracked = async () => (await server.call(listPositions, { siteId: site.id, marketId })).rows
  /** Day, position and page of the one keyword that both files name. */
  const history = async (phrase: string) => {
    const { id: keywordId } = (await server.rows(site.id, marketId)).rows.find(row => row.phrase === phrase)!
    const { markets, pages, from } = await server.call(keywordHistory, { siteId: site.id, keywordId })
    const day = (i: number) => new Date(Date.parse(from!) + i * 86_400_000).toISOString().slice(0, 10)
    const values = markets.find(each => each.marketId === marketId)?.positions ?? []
    const positions = values
      .map((position, i): [string, number] => [day(i), position])
      .filter(([, position]) => position !== 0)
    return { positions, pages: pages.map(each => [each.day, each.url]) }
  }
  const url = (name: string) => `https://kilnandtide.example/${name}`

  test('leaves what was found before it, and what was found since; and stands again as it was', async () => {
    const first = await bring(
      'positions',
      `date,keyword,rank,url\n2026-03-01,ash glaze,8,${url('a')}\n2026-03-03,ash glaze,9,${url('a')}\n`,
    )
    const before = await history('ash glaze')
    const second = await bring(
      'positions',
      `date,keyword,rank,url\n2026-03-02,ash glaze,3,${url('b')}\n2026-03-03,ash glaze,4,${url('b')}\n2026-03-02,moon jar,5,${url('m')}\n`,
    )
    const after = await history('ash glaze')
    expect(after.positions).toEqual([
      ['2026-03-01', 8],
      ['2026-03-02', 3],
      ['2026-03-03', 4],
    ])
    expect((await tracked()).map(row => row.phrase).sort()).toEqual(['ash glaze', 'moon jar'])
    // What a later file wrote over comes back only with that file.
    expect(await take(first, true)).toMatchObject({
      state: 'failed',
      error: '"file.csv" was imported later and wrote over the same. Take that one back first.',
    })
    expect(await take(second, true)).toMatchObject({ state: 'done', result: { positions: 3, keywords: 1 } })
    expect(await history('ash glaze')).toEqual(before)
    expect((await tracked()).map(row => row.phrase)).toEqual(['ash glaze'])
    expect(await shown('moon jar')).toBeUndefined()
    expect(await listed(second)).toMatchObject({ takenBack: true, canTakeBack: true })
    await take(second, false)
    expect(await history('ash glaze')).toEqual(after)
    expect((await tracked()).map(row => row.phrase).sort()).toEqual(['ash glaze', 'moon jar'])
    await take(second, true)
    await take(first, true)
    expect((await history('ash glaze')).positions).toEqual([])
  })

  test('a page that a later check went on finding is said of that day', async () => {
    const early = await bring('positions', `date,keyword,rank,url\n2026-04-01,crackle glaze,8,${url('c')}\n`)
    await bring('positions', `date,keyword,rank,url\n2026-04-05,crackle glaze,7,${url('c')}\n`)
    expect((await history('crackle glaze')).pages).toEqual([['2026-04-01', url('c')]])
    await take(early, true)
    expect(await history('crackle glaze')).toEqual({
      positions: [['2026-04-05', 7]],
      pages: [['2026-04-05', url('c')]],
    })
  })
})

describe('an import of a query log', () => {
  const state = async () => (await server.call(readLogState, { siteId: site.id })).loaded.map(each => each.impressions)
  const fitted = async () =>
    (await server.call(readClickCurves, { siteId: site.id })).filter(each => each.fittedAt !== null).length
  const log = (clicks: number) =>
    `Date,Query,Impressions,Clicks,Position\n2026-05-04,slip casting,1000,${clicks},1.2\n2026-05-05,slip casting,500,1,1.4\n`

  test('gives back the weeks that it replaced; without any the keywords and the curves go', async () => {
    const right = await bring('log', log(300), 'may.csv')
    const wrong = await bring('log', log(3).replaceAll('1000', '9000'), 'may.csv')
    expect(await state()).toEqual([9_500])
    expect((await take(right, true)).error).toContain('Take that one back first')
    expect((await take(wrong, true)).result).toMatchObject({ weeks: 1, keywords: 1 })
    expect(await state()).toEqual([1_500])
    expect(await fitted()).toBe(1)
    await take(right, true)
    expect(await state()).toEqual([0])
    expect(await fitted()).toBe(0)
    expect(await shown('slip casting')).toBeUndefined()
    await take(right, false)
    expect(await state()).toEqual([1_500])
    expect(await shown('slip casting')).toMatchObject({ logImpressions: 6_428.6 })
  })
})

describe('an import of links', () => {
  const there = async () =>
    (await server.call(readLinkProfile, { siteId: site.id, url: 'taken.example', scope: 'site' })).linkingPages
  const head = 'source url,target url,anchor\n'

  test('takes away what it alone brought, and merges what it puts back', async () => {
    const one = await bring(
      'links',
      `${head}https://a.example/1,https://taken.example/,x\nhttps://b.example/1,https://taken.example/,x\n`,
    )
    const two = await bring(
      'links',
      `${head}https://b.example/1,https://taken.example/,x\nhttps://c.example/1,https://taken.example/,x\n`,
    )
    expect(await there()).toBe(3)
    expect((await take(one, true)).result).toMatchObject({ links: 1 })
    expect(await there()).toBe(2)
    // Found again by another file while it was away: it is nobody's alone then.
    const three = await bring('links', `${head}https://a.example/1,https://taken.example/,x\n`)
    expect((await take(one, false)).result).toMatchObject({ links: 1 })
    expect(await there()).toBe(3)
    expect((await take(three, true)).result).toMatchObject({ links: 0 })
    await take(two, true)
    expect(await there()).toBe(2)
    await take(two, false)
    expect(await there()).toBe(3)
  })
})

test('a list of popular sites gives its place back to the one before', async () => {
  const rankOf = async (): Promise<number | null> =>
    (await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'] })).figures[0]!.popularity
  await bring('popularity', 'rank,domain\n12,big.example\n')
  const second = await bring('popularity', 'rank,domain\n40,big.example\n')
  expect(await rankOf()).toBe(40)
  await take(second, true)
  expect(await rankOf()).toBe(12)
  await take(second, false)
  expect(await rankOf()).toBe(40)
})

test('an import of themes takes its grouping along', async () => {
  const names = async () => (await server.call(listGroupings, { siteId: site.id, marketId })).map(each => each.name)
  const id = await bring('themes', 'keyword,theme\nwheel head,Wheels\nsplash pan,Wheels\n', 'wheels.csv')
  expect(await names()).toEqual(['wheels.csv'])
  expect(await listed(id)).toMatchObject({ brought: 2 })
  await take(id, true)
  expect(await names()).toEqual([])
  expect(await shown('wheel head')).toBeUndefined()
  await take(id, false)
  expect(await names()).toEqual(['wheels.csv'])
  expect(await shown('wheel head')).toBeDefined()
})
