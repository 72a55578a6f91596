import { undoAct } from '@dew-trail/contract/acts'
import {
  changeFindList,
  listFindLists,
  putOnFindList,
  readFinds,
  remarkFind,
  removeFindList,
  takeOffFindList,
} from '@dew-trail/contract/finds'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
})
afterAll(() => server.close())
const put = (kind: 'sites' | 'pages' | 'links', name: string, ...items: Array<{ what: string; target?: string }>) =>
  server.call(putOnFindList, { siteId: site.id, kind, name, items })
const held = async (findListId: number) =>
  (await server.call(readFinds, { siteId: site.id, findListId })).map(each => [each.what, each.target, each.domain])
const undo = (actId: number | null) => server.call(undoAct, { siteId: site.id, actId: actId! })

test('sites are kept by their domain, once; undo takes a list that it made away', async () => {
  const first = await put('sites', 'Good ones', { what: 'https://www.clay.example/x' }, { what: 'clay.example' })
  expect(first.added).toBe(1)
  expect(await held(first.findListId)).toEqual([['clay.example', null, 'clay.example']])
  expect((await put('sites', 'Good ones', { what: 'clay.example' }, { what: 'kiln.example' })).added).toBe(1)
  const other = await put('pages', 'Good ones', { what: 'https://clay.example/a' })
  expect(
    (await server.call(listFindLists, { siteId: site.id })).map(each => [each.kind, each.name, each.items]),
  ).toEqual([
    ['pages', 'Good ones', 1],
    ['sites', 'Good ones', 2],
  ])
  await undo(other.actId)
  expect((await server.call(listFindLists, { siteId: site.id })).map(each => each.kind)).toEqual(['sites'])
})

test('links have both ends, also where an address is very long', async () => {
  const long = `https://clay.example/${'a'.repeat(1_900)}`
  const { findListId } = await put('links', 'Links', { what: long, target: 'https://kilnandtide.example/' })
  expect(await held(findListId)).toEqual([[long, 'https://kilnandtide.example/', 'clay.example']])
  await expect(put('links', 'Links', { what: 'https://clay.example/b' })).rejects.toThrow(/names no page/)
  await expect(put('sites', 'Sites', { what: 'no site at all' })).rejects.toThrow(/"no site at all" is no site/)
})

test('what is taken off, remarked on, renamed or removed comes back by undo', async () => {
  const { findListId } = await put('sites', 'Here', { what: 'one.example' }, { what: 'two.example' })
  const [one] = await server.call(readFinds, { siteId: site.id, findListId })
  const at = { siteId: site.id, findListId }
  await server.call(remarkFind, { ...at, itemId: one!.id, remark: 'Friendly' })
  const off = await server.call(takeOffFindList, { ...at, itemIds: [one!.id] })
  expect(await held(findListId)).toEqual([['two.example', null, 'two.example']])
  await undo(off.actId)
  const back = (await server.call(readFinds, at)).find(each => each.what === 'one.example')!
  expect(back.remark).toBe('Friendly')
  const renamed = await server.call(changeFindList, { ...at, name: 'There' })
  const removed = await server.call(removeFindList, at)
  expect((await server.call(listFindLists, { siteId: site.id })).some(each => each.id === findListId)).toBe(false)
  await undo(removed.actId)
  await undo(renamed.actId)
  const list = (await server.call(listFindLists, { siteId: site.id })).find(each => each.id === findListId)
  expect(list).toMatchObject({ name: 'Here', items: 2 })
  await put('sites', 'There', { what: 'x.example' })
  await expect(server.call(changeFindList, { ...at, name: 'There' })).rejects.toThrow(/called "There" already/)
})
