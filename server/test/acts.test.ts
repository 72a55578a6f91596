import { listActs, undoAct } from '@dew-trail/contract/acts'
import { listBrands, saveBrands } from '@dew-trail/contract/brands'
import { keepKeywords, listGatherings, pruneGathering } from '@dew-trail/contract/gather'
import { listVetted, vetSite } from '@dew-trail/contract/links'
import { addList, changeList, listLists, removeList, renameList } from '@dew-trail/contract/lists'
import { addNote, changeNote, listNotes, removeNote } from '@dew-trail/contract/notes'
import { assignKeywords, changePage, createPage, listPages } from '@dew-trail/contract/plan'
import { trackKeywords } from '@dew-trail/contract/track'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let siteId: number
let marketId: number
let ids: number[]
beforeAll(async () => {
  server = await testServer()
  const filled = await filledSite(server, 'potter.example')
  siteId = filled.siteId as number
  marketId = filled.marketId as number
  // Those that no page of the made site holds.
  ids = (await server.rows(siteId, marketId)).rows
    .map(row => row.id)
    .filter(id => !filled.keywordIds.includes(id))
    .slice(0, 4)
})
afterAll(() => server.close())

const undo = ({ actId }: { actId: number | null }) => server.call(undoAct, { siteId, actId: actId! })
const rowOf = async (id: number) => (await server.rows(siteId, marketId)).rows.find(row => row.id === id)!
const titles = async () => (await server.call(listActs, { siteId })).map(act => act.title)

test('acts are listed newest first; each is undone once, whichever came after it', async () => {
  await server.call(keepKeywords, { siteId, keywordIds: [ids[0]!], kept: true })
  const second = await server.call(keepKeywords, { siteId, keywordIds: ids.slice(0, 3), kept: true })
  expect(second.changed.sort()).toEqual([ids[1], ids[2]].sort())
  const third = await server.call(trackKeywords, { siteId, keywordIds: [ids[1]!], tracked: true })
  expect((await titles()).slice(0, 3)).toEqual(['1 keyword sent to tracking', '2 keywords kept', '1 keyword kept'])
  const undone = await undo(second)
  expect([undone.title, undone.undoneAt === null]).toEqual(['2 keywords kept', false])
  expect([(await rowOf(ids[0]!)).kept, (await rowOf(ids[1]!)).kept]).toEqual([true, false])
  expect((await rowOf(ids[1]!)).tracked).toBe(true)
  await expect(undo(second)).rejects.toMatchObject({ code: 'conflict', message: 'This is undone already' })
  await undo(third)
  expect((await rowOf(ids[1]!)).tracked).toBe(false)
})

test('what changes nothing is no act', async () => {
  const before = await titles()
  const again = await server.call(keepKeywords, { siteId, keywordIds: [ids[0]!], kept: true })
  expect(again).toEqual({ changed: [], actId: null })
  expect(await titles()).toEqual(before)
})

test('a pruned branch is put back, but not what was pruned before it', async () => {
  const gatheringId = (await server.call(listGatherings, { siteId }))[0]!.id
  const pruned = await server.call(pruneGathering, { siteId, gatheringId, pruned: true })
  await undo(pruned)
  expect((await server.call(listGatherings, { siteId }))[0]!.pruned).toBe(false)
  expect((await server.call(pruneGathering, { siteId, gatheringId, pruned: false })).actId).toBeNull()
})

describe('the plan', () => {
  const pageOf = async (pageId: number) =>
    (await server.call(listPages, { siteId, marketId, today: '2026-11-20' })).find(page => page.id === pageId)
  test('keywords go back where they stood, those alone that nobody moved since', async () => {
    const one = await server.call(createPage, { siteId, title: 'One', keywordIds: ids.slice(0, 2) })
    const two = await server.call(createPage, { siteId, title: 'Two' })
    const moved = await server.call(assignKeywords, { siteId, pageId: two.id, keywordIds: ids.slice(0, 2) })
    await server.call(assignKeywords, { siteId, pageId: null, keywordIds: [ids[1]!] })
    await undo(moved)
    expect([(await rowOf(ids[0]!)).page, (await rowOf(ids[1]!)).page]).toEqual(['One', null])
    await undo(one)
    expect(await pageOf(one.id)).toBeUndefined()
    expect((await rowOf(ids[0]!)).page).toBeNull()
  })
  test('a change of a page is taken back unless it changed again', async () => {
    const { id } = await server.call(createPage, { siteId, title: 'Kilns' })
    const first = await server.call(changePage, { siteId, pageId: id, remarks: 'with a table', state: 'writing' })
    await undo(first)
    expect(await pageOf(id)).toMatchObject({ remarks: '', state: 'idea' })
    const second = await server.call(changePage, { siteId, pageId: id, remarks: 'short' })
    await server.call(changePage, { siteId, pageId: id, remarks: 'long' })
    await expect(undo(second)).rejects.toThrow('The page was changed or removed since')
    expect(await pageOf(id)).toMatchObject({ remarks: 'long' })
  })
})

test('lists come back with their keywords; an old name only where nobody gave another', async () => {
  const list = await server.call(addList, { siteId, kind: 'shortlist', name: 'Spring' })
  const put = await server.call(changeList, { siteId, listId: list.id, keywordIds: ids.slice(0, 2), on: true })
  const renamed = await server.call(renameList, { siteId, listId: list.id, name: 'May' })
  await server.call(renameList, { siteId, listId: list.id, name: 'June' })
  await expect(undo(renamed)).rejects.toThrow('It was renamed again meanwhile and is called "June" now')
  const removed = await server.call(removeList, { siteId, listId: list.id })
  await expect(undo(put)).rejects.toThrow('The list is no longer there')
  await undo(removed)
  // Under the id it had, which conditions of saved views hold.
  expect(await server.call(listLists, { siteId })).toContainEqual({
    id: list.id,
    kind: 'shortlist',
    name: 'June',
    keywords: 2,
    visitWorth: null,
  })
})

test('notes, vetted sites and brand words go back to what they were', async () => {
  const added = await server.call(addNote, { siteId, day: '2026-11-01', text: 'New shop' })
  const changed = await server.call(changeNote, {
    siteId,
    noteId: added.id,
    day: '2026-11-02',
    text: 'Old shop',
    version: 1,
  })
  await expect(undo(added)).rejects.toThrow('changed or removed since')
  await undo(changed)
  expect((await server.call(listNotes, { siteId }))[0]).toMatchObject({ day: '2026-11-01', text: 'New shop' })
  const removed = await server.call(removeNote, { siteId, noteId: added.id })
  await undo(removed)
  expect((await server.call(listNotes, { siteId }))[0]).toMatchObject({ day: '2026-11-01', text: 'New shop' })
  const vetted = await server.call(vetSite, { siteId, domain: 'guild.example', kind: 'institution' })
  await undo(vetted)
  expect((await server.call(listVetted, { siteId })).map(each => each.domain)).not.toContain('guild.example')
  const before = await server.call(listBrands, { siteId })
  const brands = await server.call(saveBrands, {
    siteId,
    brands: [{ owner: 'clay.example', own: false, words: ['clay house'] }],
  })
  expect(brands.brands.map(each => each.owner)).toContain('clay.example')
  await undo(brands)
  expect(await server.call(listBrands, { siteId })).toEqual(before)
})

test('an act of another site is not there', async () => {
  await expect(server.call(undoAct, { siteId, actId: 9_999 })).rejects.toMatchObject({ status: 404 })
})
