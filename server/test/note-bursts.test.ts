import { listNotes, removeNote } from '@dew-trail/contract/notes'
import type { Site } from '@dew-trail/contract/sites'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { AddressBook } from '../src/domain/graph/address-book.ts'
import { saveLinks } from '../src/domain/graph/save-links.ts'
import { noteBursts } from '../src/features/links/note-bursts.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
})
afterAll(() => server.close())

let linker = 0
/** So many new sites link to the own site, as a file or our crawl says since a day. */
const linked = (count: number, day: string, seenBy: number = seenByBits.file) =>
  inTransaction(server.context.pool, db =>
    saveLinks(
      db,
      1,
      new AddressBook(1),
      seenBy,
      Array.from({ length: count }, () => ({
        source: `https://linker-${++linker}.example/`,
        target: `https://${site.domain}/`,
        anchor: 'kilns',
        rel: 0,
        kind: 'text' as const,
        region: null,
        linkedAround: null,
        around: null,
        firstSeen: day,
        lastSeen: '2026-11-20',
        goneOn: null,
      })),
    ),
  )
const notes = async () =>
  (await server.call(listNotes, { siteId: site.id })).map(({ day, text, touches }) => ({ day, text, touches }))
const today = '2026-11-20'

test('links that come in a burst are noted on the day of most of them, once, also where they are told late', async () => {
  // Two a week from June on.
  for (let week = 0; week < 24; week++)
    await linked(2, new Date(Date.UTC(2026, 5, 1 + week * 7)).toISOString().slice(0, 10))
  expect(await noteBursts(server.context, today)).toBe(0)
  await linked(3, '2026-10-26')
  await linked(9, '2026-10-28')
  expect(await noteBursts(server.context, today)).toBe(1)
  const expected = {
    day: '2026-10-28',
    text: '14 sites began to link within a week, where 2 a week is usual',
    touches: {},
  }
  expect(await notes()).toEqual([expected])
  expect(await noteBursts(server.context, today)).toBe(0)
  // One that somebody took away does not come again.
  const listed = await server.call(listNotes, { siteId: site.id })
  await server.call(removeNote, { siteId: site.id, noteId: listed[0]!.id })
  expect(await noteBursts(server.context, today)).toBe(0)
  expect(await notes()).toEqual([])
})

test('what our crawl found on a day did not begin on it; the week under way is not over', async () => {
  await linked(60, '2026-11-11', seenByBits.crawl)
  await linked(40, '2026-11-18')
  expect(await noteBursts(server.context, today)).toBe(0)
  expect(await noteBursts(server.context, '2026-11-24')).toBe(1)
  expect((await notes())[0]).toMatchObject({ day: '2026-11-18' })
})
