import { randomInt } from 'node:crypto'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import pg from 'pg'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { LinkBatches } from '../src/features/links/imports/link-batches.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { AddressBook } from '../src/domain/graph/address-book.ts'
import { sumLinks } from '../src/domain/graph/queries.ts'
import type { FoundLink } from '../src/domain/graph/link-lines.ts'
import { saveLinks } from '../src/domain/graph/save-links.ts'
import { type TestServer, testServer } from './test-server.ts'

const graphId = 77
let server: TestServer
let pool: pg.Pool
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl, max: 4 })
})
afterAll(async () => {
  await pool.end()
  await server.close()
})
beforeEach(async () => {
  for (const table of [
    'link',
    'linked_page',
    'linked_site',
    'anchor_text',
    'link_unsummed',
    'linking_site',
    'link_total',
  ])
    await pool.query(`delete from ${table} where graph_id = $1`, [graphId])
})

const link = (source: string, target: string, more: Partial<FoundLink> = {}): FoundLink => ({
  source: `https://${source}`,
  target: `https://${target}`,
  anchor: 'kilns',
  rel: 0,
  kind: 'text',
  region: null,
  linkedAround: null,
  around: null,
  firstSeen: '2026-03-01',
  lastSeen: '2026-04-01',
  goneOn: null,
  ...more,
})
const load = async (links: FoundLink[], atATime: number, from: Pick<pg.Pool, 'connect'> = pool): Promise<number> => {
  const batches = new LinkBatches({ pool: from as pg.Pool }, graphId, randomInt(1, 2 ** 31), atATime)
  for (const each of links) await batches.add(each)
  await batches.finish()
  return batches.saved
}
const stored = async (): Promise<object[]> =>
  (
    await pool.query<object>(
      `select s.url source, t.url target, a.text anchor, l.rel, l.first_seen "first", l.last_seen "last",
        l.seen_by "seenBy" from link l
       join linked_page s on s.graph_id = l.graph_id and s.id = l.source_page_id and s.site_id = l.source_site_id
         join linked_page t on t.graph_id = l.graph_id and t.id = l.target_page_id and t.site_id = l.target_site_id
       join anchor_text a on a.graph_id = l.graph_id and a.id = l.anchor_id where l.graph_id = $1 order by 1, 2, 3, 4`,
      [graphId],
    )
  ).rows

/** Links of which some come again with other days, other anchors or another rel. */
const some = Array.from({ length: 60 }, (_, i) =>
  link(`linker-${i % 7}.example/p/${i % 11}`, `potter.example/${i % 5}`, {
    anchor: i % 9 ? 'kilns' : `kiln ${i % 4}`,
    rel: i % 13 ? 0 : 1,
    firstSeen: `2026-03-${10 + (i % 17)}`,
    lastSeen: `2026-05-${10 + (i % 17)}`,
  }),
)

test('the size of batches makes no difference, nor does a second time', async () => {
  expect(await load(some, 1_000)).toBe(60)
  const whole = await stored()
  expect(whole.length).toBeGreaterThan(40)
  expect(await load(some, 7)).toBe(60)
  expect(await stored()).toEqual(whole)
  for (const table of ['link', 'linked_page', 'linked_site', 'anchor_text'])
    await pool.query(`delete from ${table} where graph_id = $1`, [graphId])
  await load(some, 4)
  expect(await stored()).toEqual(whole)
})

test('a link that comes again in a later batch widens its days', async () => {
  await load(
    [
      link('a.example/', 'potter.example/'),
      link('b.example/', 'potter.example/'),
      link('a.example/', 'potter.example/', { firstSeen: '2025-01-01', lastSeen: '2026-09-09' }),
    ],
    2,
  )
  expect(await stored()).toMatchObject([
    { source: 'https://a.example/', first: '2025-01-01', last: '2026-09-09' },
    { source: 'https://b.example/', first: '2026-03-01' },
  ])
})

const allSums = async (): Promise<object> => ({
  bySite: (
    await pool.query(
      `select t.domain target, s.domain source, links, there, follow, pages, first_seen, last_seen from linking_site l
        join linked_site t on t.graph_id = $1 and t.id = target_site_id
       join linked_site s on s.graph_id = $1 and s.id = source_site_id where l.graph_id = $1 order by 1, 2`,
      [graphId],
    )
  ).rows,
  totals: (
    await pool.query(
      `select domain, links, there, follow, linking_pages, linking_sites from link_total t
        join linked_site s on s.graph_id = $1 and s.id = target_site_id where t.graph_id = $1 order by 1`,
      [graphId],
    )
  ).rows,
})
const unsummed = async (): Promise<string[]> =>
  (
    await pool.query<{ domain: string }>(
      `select domain from link_unsummed u join linked_site s on s.graph_id = u.graph_id and s.id = target_site_id
        where u.graph_id = $1 order by 1`,
      [graphId],
    )
  ).rows.map(row => row.domain)
const sumFromTable = (): Promise<number> =>
  inTransaction(pool, async db => {
    await db.query(
      `insert into link_unsummed select distinct graph_id, target_site_id from link where graph_id = $1
        on conflict do nothing`,
      [graphId],
    )
    return sumLinks(db, graphId, 1_000)
  })

test.each([3, 7, 1_000])('sums of sites that a list brings are those of the table, %i at a time', async atATime => {
  // Of one site links to itself, of one without days.
  const own = link('potter.example/1', 'potter.example/2')
  const undated = link('dayless.example/', 'potter.example/1', { firstSeen: null, lastSeen: null })
  await load([...some, own, undated], atATime)
  expect(await unsummed()).toEqual([])
  const loaded = await allSums()
  expect(loaded).toMatchObject({ totals: [{ domain: 'potter.example', linking_sites: 8 }] })
  await sumFromTable()
  expect(await allSums()).toEqual(loaded)
})

test('sums of sites that were known, or that someone else links to meanwhile, are left to be reckoned', async () => {
  await load([link('a.example/', 'potter.example/')], 10)
  await load([link('b.example/', 'potter.example/'), link('b.example/', 'shop.example/')], 10)
  expect(await unsummed()).toEqual(['potter.example'])

  const batches = new LinkBatches({ pool }, graphId, randomInt(1, 2 ** 31), 2)
  await batches.add(link('a.example/', 'kiln.example/'))
  await batches.add(link('a.example/', 'clay.example/'))
  await batches.add(link('b.example/', 'kiln.example/'))
  await batches.add(link('b.example/', 'clay.example/'))
  const [other, book] = [link('c.example/', 'clay.example/'), new AddressBook(graphId)]
  await expect
    .poll(
      async () => (await stored()).filter(each => 'target' in each && each.target === 'https://clay.example/').length,
    )
    .toBe(2)
  await inTransaction(pool, db => saveLinks(db, graphId, book, seenByBits.crawl, [other]))
  await batches.add(link('c.example/', 'kiln.example/'))
  await batches.finish()
  expect(await unsummed()).toEqual(['clay.example', 'potter.example'])
  const kiln = { target: 'kiln.example', there: 1 }
  expect(await allSums()).toMatchObject({
    bySite: expect.arrayContaining([expect.objectContaining({ ...kiln, source: 'c.example' })]),
  })
})

test('two lists that bring links of one site at a time do not sum it by halves', async () => {
  const [one, two] = [
    new LinkBatches({ pool }, graphId, randomInt(1, 2 ** 31), 1),
    new LinkBatches({ pool }, graphId, randomInt(1, 2 ** 31), 1),
  ]
  await one.add(link('a.example/', 'potter.example/'))
  await expect.poll(async () => (await stored()).length).toBe(1)
  await two.add(link('b.example/', 'potter.example/'))
  await two.finish()
  await one.add(link('c.example/', 'potter.example/'))
  await one.finish()
  expect(await unsummed()).toEqual(['potter.example'])
})

test('a link that someone else writes between learning and merging is merged', async () => {
  let connections = 0
  const slyly = {
    async connect() {
      // The first connection learns addresses, the second merges.
      if (++connections === 2)
        await pool.query(
          `insert into link (graph_id, target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel,
            kind, seen_by, first_seen, last_seen)
           select $1, t.site_id, t.id, s.site_id, s.id, a.id, 0, 0, 1, '2024-01-01', '2026-01-01'
             from linked_page t, linked_page s, anchor_text a
           where t.graph_id = $1 and t.url = 'https://potter.example/' and s.graph_id = $1
             and s.url = 'https://a.example/' and a.graph_id = $1`,
          [graphId],
        )
      return pool.connect()
    },
  }
  await load([link('a.example/', 'potter.example/'), link('b.example/', 'potter.example/')], 10, slyly as never)
  expect(await stored()).toMatchObject([
    { source: 'https://a.example/', first: '2024-01-01', last: '2026-04-01', seenBy: 9 },
    { source: 'https://b.example/', first: '2026-03-01', seenBy: 8 },
  ])
})

test('an error reaches who adds, and nothing half is left', async () => {
  let connections = 0
  const broken = {
    async connect() {
      if (++connections === 2) throw new Error('no connection')
      return pool.connect()
    },
  }
  await expect(load([link('a.example/', 'potter.example/')], 10, broken as never)).rejects.toThrow('no connection')
  expect(await stored()).toEqual([])
})

test('a site that was linked and summed meanwhile by someone else is left to be reckoned', async () => {
  const batches = new LinkBatches({ pool }, graphId, randomInt(1, 2 ** 31), 1)
  await batches.add(link('a.example/', 'kiln.example/'))
  await expect.poll(async () => (await stored()).length).toBe(1)
  // A crawl finds the site and its sums are made before the list comes to it.
  await inTransaction(pool, db =>
    saveLinks(db, graphId, new AddressBook(graphId), seenByBits.crawl, [link('b.example/', 'clay.example/')]),
  )
  await inTransaction(pool, db => sumLinks(db, graphId, 1_000))
  await batches.add(link('c.example/', 'clay.example/'))
  await batches.finish()
  expect(await unsummed()).toEqual(['clay.example'])
  await sumFromTable()
  expect(await allSums()).toMatchObject({
    totals: [
      { domain: 'clay.example', linking_sites: 2 },
      { domain: 'kiln.example', linking_sites: 1 },
    ],
  })
})

test('pages that someone else made of a site made meanwhile are found, not made again', async () => {
  const [one, other] = [new AddressBook(graphId), new AddressBook(graphId)]
  const learn = (book: AddressBook, ...paths: string[]) =>
    inTransaction(pool, async db => {
      await book.learn(
        db,
        paths.map(path => `https://${path}`),
      )
    })
  await learn(one, 'first.example/')
  await learn(other, 'second.example/', 'second.example/a')
  await learn(one, 'third.example/')
  await learn(one, 'second.example/a', 'third.example/b', 'first.example/c')
  expect(one.page('https://second.example/a')).toBe(other.page('https://second.example/a'))
  await learn(other, 'first.example/c', 'third.example/b')
  expect(other.page('https://third.example/b')).toBe(one.page('https://third.example/b'))
})
