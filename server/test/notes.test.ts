import { addNote, changeNote, listNotes, removeNote } from '@dew-trail/contract/notes'
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

test('notes are kept by day with what they touch, changed, and removed', async () => {
  const siteId = site.id
  const first = await server.call(addNote, {
    siteId,
    day: '2026-10-02',
    text: '  New shop  ',
    marketId: site.markets[0]!.id,
  })
  const second = await server.call(addNote, { siteId, day: '2026-11-05', text: 'Prices' })
  expect(await server.call(listNotes, { siteId })).toEqual([
    { id: second.id, day: '2026-11-05', text: 'Prices', touches: {}, about: null, version: 1 },
    {
      id: first.id,
      day: '2026-10-02',
      text: 'New shop',
      touches: { marketId: site.markets[0]!.id },
      about: null,
      version: 1,
    },
  ])
  const change = { siteId, noteId: second.id, day: '2026-09-01', text: 'New prices' }
  expect(await server.call(changeNote, { ...change, version: 1 })).toMatchObject({ day: '2026-09-01', version: 2 })
  // Of two who opened the same note, the later does not wipe what the earlier wrote.
  await expect(server.call(changeNote, { ...change, text: 'Other', version: 1 })).rejects.toThrow('Somebody changed')
  expect((await server.call(listNotes, { siteId })).map(each => each.text)).toEqual(['New shop', 'New prices'])
  await server.call(removeNote, { siteId, noteId: first.id })
  expect((await server.call(listNotes, { siteId })).map(each => each.text)).toEqual(['New prices'])
  await expect(server.call(addNote, { siteId, day: '2026-11-05', text: '   ' })).rejects.toThrow('Write what happened')
  await expect(server.call(addNote, { siteId, day: '2026-13-05', text: 'x' })).rejects.toThrow('is not a day')
})
