import { rankLinks, vetSite } from '@dew-trail/contract/links'
import type { Site } from '@dew-trail/contract/sites'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { AddressBook } from '../src/domain/graph/address-book.ts'
import { saveLinks } from '../src/domain/graph/save-links.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

const folder = mkdtempSync(join(tmpdir(), 'dew-trail-ranks-'))
let server: TestServer
let site: Site
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const draw = seededDraw(3)
  const page = (n: number): string => `https://site-${n % 40}.example/${Math.floor(n / 40)}`
  await inTransaction(server.context.pool, db =>
    saveLinks(
      db,
      1,
      new AddressBook(1),
      seenByBits.file,
      Array.from({ length: 6_000 }, () => ({
        source: page(Math.floor(draw() * 800)),
        target: page(Math.floor(draw() ** 2 * 1_000)),
        anchor: 'kilns',
        rel: draw() < 0.1 ? 1 : 0,
        kind: 'text' as const,
        region: null,
        linkedAround: null,
        around: null,
        firstSeen: '2026-03-01',
        lastSeen: '2026-04-01',
        goneOn: null,
      })),
    ),
  )
  await server.call(vetSite, { siteId: site.id, domain: 'site-3.example', kind: 'institution' })
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true, force: true })
})

/** Ranks pages on a server and gives what its snapshot holds, by page. */
async function ranked(of: TestServer) {
  const job = await of.finish((await of.call(rankLinks, { siteId: site.id })).jobId)
  const { rows } = await of.context.pool.query<{ id: number; rank: number; trust: number; out: number }>(
    `select page_id id, rank::float8, trust::float8, links_out "out" from page_standing where graph_id = 1
       and snapshot_id = (select max(id) from graph_snapshot) order by 1`,
  )
  return { job, rows }
}

test('ranks and trust of a graph that is said not to fit into memory are those computed in memory', async () => {
  const inMemory = await ranked(server)
  const beyond = await testServer({ RANK_MEMORY_LINKS: '1', DATA_DIR: folder }, server.databaseUrl)
  const fromDisk = await ranked(beyond)
  await beyond.close()
  expect(fromDisk.job.result).toMatchObject({
    pages: inMemory.job.result!.pages,
    links: inMemory.job.result!.links,
  })
  expect(inMemory.rows.length).toBeGreaterThan(900)
  expect(fromDisk.rows.map(row => [row.id, row.out])).toEqual(inMemory.rows.map(row => [row.id, row.out]))
  expect(inMemory.rows.some(row => row.trust > 0)).toBe(true)
  for (const [i, row] of fromDisk.rows.entries()) {
    expect(Math.abs(row.rank - inMemory.rows[i]!.rank)).toBeLessThan(1e-9)
    expect(Math.abs(row.trust - inMemory.rows[i]!.trust)).toBeLessThan(0.01)
  }
  // What it worked with is gone again.
  expect(existsSync(folder) ? readdirSync(folder).filter(name => name.startsWith('ranks-')) : []).toEqual([])
})
