import { startGathering } from '@dew-trail/contract/gather'
import { undoAct } from '@dew-trail/contract/acts'
import {
  addList,
  changeList,
  type ListKind,
  listLists,
  removeList,
  renameList,
  valueLabel,
} from '@dew-trail/contract/lists'
import { changeSite, type Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let ids: number[]
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const requests = { siteId: site.id, marketId: 1, seeds: ['kiln'], mostIdeas: 10, ways: ['ads' as const] }
  await server.finish((await server.call(startGathering, requests)).jobs[0]!.jobId)
  ids = (await server.rows(site.id, 1)).rows.slice(0, 3).map(row => row.id)
})
afterAll(() => server.close())

const add = (kind: ListKind, name: string) => server.call(addList, { siteId: site.id, kind, name })
const put = async (listId: number, on: boolean, keywordIds = ids): Promise<number[]> =>
  (await server.call(changeList, { siteId: site.id, listId, keywordIds, on })).changed.sort((a, b) => a - b)
const sorted = () => [...ids].sort((a, b) => a - b)
/** What rows say of their lists, by keyword. */
const valuesOf = async (column: 'lists' | 'labels') =>
  new Map((await server.rows(site.id, 1)).rows.filter(row => row[column]).map(row => [row.id, row[column]]))

test('keywords go on a shortlist and come off; the rows say on which they are', async () => {
  const list = await add('shortlist', 'Spring')
  expect((await add('shortlist', 'Spring')).id).toBe(list.id)
  expect(await put(list.id, true)).toEqual(sorted())
  expect(await put(list.id, true)).toEqual([])
  expect(await valuesOf('lists')).toEqual(new Map(ids.map(id => [id, String(list.id)])))
  expect(await put(list.id, false, [ids[0]!])).toEqual([ids[0]])
  expect(await server.call(listLists, { siteId: site.id })).toEqual([{ ...list, keywords: 2 }])
  await server.call(removeList, { siteId: site.id, listId: list.id })
  expect(await valuesOf('lists')).toEqual(new Map())
  await expect(put(list.id, true)).rejects.toMatchObject({ status: 404 })
})

test('labels stand in the rows by their names, in order, and under a new name at once', async () => {
  const [wood, clay] = [await add('label', 'wood'), await add('label', 'Clay')]
  // A shortlist may have the name of a label.
  expect((await add('shortlist', 'wood')).id).not.toBe(wood.id)
  await put(wood.id, true)
  await put(clay.id, true, [ids[1]!])
  expect(await valuesOf('labels')).toEqual(
    new Map([
      [ids[0], 'wood'],
      [ids[1], 'Clay|wood'],
      [ids[2], 'wood'],
    ]),
  )
  expect(await valuesOf('lists')).toEqual(new Map())
  await server.call(renameList, { siteId: site.id, listId: wood.id, name: 'Ash' })
  expect((await valuesOf('labels')).get(ids[1]!)).toBe('Ash|Clay')
  await expect(server.call(renameList, { siteId: site.id, listId: wood.id, name: 'Clay' })).rejects.toThrow(
    'Another one is called "Clay"',
  )
  await expect(add('label', 'a|b')).rejects.toThrow('A name has no "|"')
  await expect(add('label', '  ')).rejects.toThrow('Give it a name')
  expect((await server.call(listLists, { siteId: site.id })).map(each => [each.kind, each.name])).toEqual([
    ['shortlist', 'wood'],
    ['label', 'Ash'],
    ['label', 'Clay'],
  ])
})

test('a label says what a visit by its keywords is worth, before the site and CPC; of several the most; it can be undone', async () => {
  const worths = async () =>
    new Map(
      (await server.rows(site.id, 1)).rows
        .filter(row => row.visitsFirst !== null && ids.includes(row.id))
        .map(row => [row.id, row.worthFirst / row.visitsFirst]),
    )
  const before = await worths()
  const known = [...before.keys()]
  expect(known.length).toBeGreaterThan(1)
  const [dear, cheap] = [await add('label', 'dear'), await add('label', 'cheap')]
  await put(dear.id, true, [known[0]!])
  await put(cheap.id, true, known.slice(0, 2))
  await server.call(changeSite, { siteId: site.id, visitWorth: 9 })
  const value = (listId: number, visitWorth: number | null) =>
    server.call(valueLabel, { siteId: site.id, listId, visitWorth })
  await value(cheap.id, 2)
  const { actId } = await value(dear.id, 30)
  expect((await server.call(listLists, { siteId: site.id })).find(each => each.id === dear.id)!.visitWorth).toBe(30)
  const now = await worths()
  expect([now.get(known[0]!), now.get(known[1]!)]).toEqual([expect.closeTo(30, 1), expect.closeTo(2, 1)])
  for (const id of known.slice(2)) expect(now.get(id)).toBeCloseTo(9, 1)
  await server.call(undoAct, { siteId: site.id, actId: actId! })
  expect((await worths()).get(known[0]!)).toBeCloseTo(2, 1)
  // A label that comes back has its worth again.
  const removed = await server.call(removeList, { siteId: site.id, listId: cheap.id })
  expect((await worths()).get(known[1]!)).toBeCloseTo(9, 1)
  await server.call(undoAct, { siteId: site.id, actId: removed.actId! })
  expect((await worths()).get(known[1]!)).toBeCloseTo(2, 1)
  await server.call(changeSite, { siteId: site.id, visitWorth: null })
  await value(cheap.id, null)
  for (const [id, each] of await worths()) expect(each).toBeCloseTo(before.get(id)!, 1)
  await expect(value((await add('shortlist', 'short')).id, 3)).rejects.toThrow('a worth is said of a label')
})
