import { execFile } from 'node:child_process'
import { readdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import {
  bringBackSite,
  readKeeping,
  removeBackup,
  setBackupPlan,
  setRetention,
  startBackup,
} from '@dew-trail/contract/keeping'
import { listJobs } from '@dew-trail/contract/jobs'
import { addNote, listNotes } from '@dew-trail/contract/notes'
import { createSite, listSites, removeSite } from '@dew-trail/contract/sites'
import { listSources, setSourceKey, testSource } from '@dew-trail/contract/sources'
import { startWeighing } from '@dew-trail/contract/weigh'
import { decodeMonth, encodeMonth } from '@dew-trail/core/results/month-results'
import { unzipSync } from 'fflate'
import pg from 'pg'
import { afterAll, beforeAll, expect, test, vi } from 'vitest'
import { keepingFeature } from '../src/features/keeping/index.ts'
import { nextBackup, startDueBackup } from '../src/features/keeping/backups.ts'
import { manyMonths, upsertMonths } from '../src/domain/results/queries.ts'
import { shortenMonths } from '../src/domain/results/shorten-months.ts'
import { restoreDump } from '../src/platform/db/dump.ts'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let siteId: number
let marketId: number
let keywordId: number
beforeAll(async () => {
  server = await testServer()
  const filled = await filledSite(server, 'kilnandtide.example')
  ;[siteId, marketId, keywordId] = [Number(filled.siteId), Number(filled.marketId), Number(filled.keywordId)]
})
afterAll(() => server.close())

const rowsOf = async (databaseUrl: string): Promise<Record<string, string>> => {
  const pool = new pg.Pool({ connectionString: databaseUrl })
  const { rows: tables } = await pool.query<{ name: string }>(
    `select c.relname name from pg_class c where c.relkind in ('r', 'p') and not c.relispartition
       and c.relnamespace = 'public'::regnamespace order by 1`,
  )
  const found: Record<string, string> = {}
  for (const { name } of tables) {
    const { rows } = await pool.query<{ all: string }>(
      `select count(*) || ' ' || coalesce(md5(string_agg(t::text, '|' order by t::text)), '') "all" from "${name}" t`,
    )
    found[name] = rows[0]!.all
  }
  await pool.end()
  return found
}

test('a backup made while the program runs brings everything back into an empty database', async () => {
  for (const open of await server.call(listJobs, { siteId })) await server.finish(open.id)
  const job = await server.finish((await server.call(startBackup, {})).id)
  expect(job).toMatchObject({ state: 'done', siteId: null })
  const { backups, folder } = await server.call(readKeeping, {})
  expect(backups).toHaveLength(1)
  expect(backups[0]).toMatchObject({ name: job.result!.name, bytes: job.result!.bytes })
  expect(await readdir(folder)).toEqual([backups[0]!.name])
  const before = await rowsOf(server.databaseUrl)
  const name = `t_restored_${Date.now()}`
  const admin = new pg.Client({ connectionString: server.databaseUrl.replace(/\/[^/]+$/, '/postgres') })
  await admin.connect()
  await admin.query(`create database ${name}`)
  const restored = server.databaseUrl.replace(/\/[^/]+$/, `/${name}`)
  await restoreDump(restored, join(folder, backups[0]!.name))
  const after = await rowsOf(restored)
  // The job that made it was still under way in it, and was noted only afterwards; use of sources is written down every two seconds.
  const { job: _, activity: __, source_use: ___, ...rest } = before
  expect(Object.keys(after)).toEqual(Object.keys(before))
  expect(after).toMatchObject(rest)
  expect(Number(before.keyword!.split(' ')[0])).toBeGreaterThan(5)
  // Another program takes it up.
  const other = await testServer({}, restored)
  expect((await other.call(listSites, {})).map(each => each.domain)).toEqual(['kilnandtide.example'])
  await other.close()
  await admin.query(`drop database ${name} with (force)`)
  await admin.end()
})

test('what is no backup of ours is neither given out nor removed', async () => {
  const { folder, backups } = await server.call(readKeeping, {})
  await writeFile(join(folder, 'mine.txt'), 'mine')
  for (const name of ['mine.txt', '..%2Fsecret-key', 'dew-trail-20200101T000000.dump']) {
    expect((await server.raw(`/api/backups/${name}`)).status).toBe(404)
    await expect(server.call(removeBackup, { name: decodeURIComponent(name) })).rejects.toMatchObject({
      code: 'notFound',
    })
  }
  const got = await fetch(`${server.url}/api/backups/${backups[0]!.name}`)
  expect((await got.arrayBuffer()).byteLength).toBe(backups[0]!.bytes)
  await server.call(removeBackup, { name: backups[0]!.name })
  expect((await server.call(readKeeping, {})).backups).toEqual([])
  expect(await readdir(folder)).toEqual(['mine.txt'])
})

test('backups come round by the plan, a missed one once, and only so many are kept', async () => {
  const plan = { every: 'week', hour: 3, weekday: 7, keep: 2 } as const
  expect(nextBackup(plan, new Date('2026-11-20T12:00:00Z'))?.toISOString()).toBe('2026-11-22T03:00:00.000Z')
  expect(nextBackup(plan, new Date('2026-11-22T03:00:00Z'))?.toISOString()).toBe('2026-11-29T03:00:00.000Z')
  expect(nextBackup({ ...plan, every: 'day' }, new Date('2026-11-20T02:00:00Z'))?.toISOString()).toBe(
    '2026-11-20T03:00:00.000Z',
  )
  expect(nextBackup({ ...plan, every: 'never' }, new Date())).toBeNull()
  await server.call(setBackupPlan, { ...plan, every: 'day' })
  expect(await startDueBackup(server.context)).toBe(false)
  const later = (days: number) => new Date(Date.now() + days * 86_400_000)
  for (let i = 0; i < 3; i++) {
    expect(await startDueBackup(server.context, later(5))).toBe(true)
    const { rows } = await server.context.pool.query<{ id: number }>(`select max(id) id from job
      where kind = 'backup'`)
    await server.finish(rows[0]!.id)
    // Names are to the second.
    await vi.waitFor(() => expect(new Date().getMilliseconds()).toBeLessThan(100), { timeout: 3_000, interval: 20 })
  }
  const { backups } = await server.call(readKeeping, {})
  expect(backups.filter(each => each.name.endsWith('-auto.dump'))).toHaveLength(2)
  await server.call(setBackupPlan, { ...plan, every: 'never' })
  expect(await startDueBackup(server.context, later(50))).toBe(false)
})

test('everything of a site comes out in open formats, positions unpacked, no secret in it', async () => {
  const { jobId } = await server.call(startWeighing, { siteId, marketId, keywordIds: [keywordId] })
  await server.finish(jobId!)
  const answer = await fetch(`${server.url}/api/sites/${siteId}/everything.zip`)
  const files = unzipSync(new Uint8Array(await answer.arrayBuffer()))
  const text = (name: string): string => new TextDecoder().decode(files[name])
  const names = Object.keys(files)
  expect(names).toContain('README.txt')
  expect(names.filter(name => name.startsWith('shown/')).length).toBeGreaterThanOrEqual(3)
  const { rows } = await server.context.pool.query<{ n: number }>(
    `select count(*) n from keyword
    where site_id = $1`,
    [siteId],
  )
  expect(text('rows/keyword.csv').trim().split('\n').length).toBe(rows[0]!.n + 1)
  const positions = names.filter(name => name.startsWith('positions/')).map(text)
  expect(positions[0]!.split('\n')[0]).toBe('day,keyword,position,not_found_within')
  const results = names
    .filter(name => name.startsWith('results/'))
    .flatMap(name => text(name).trim().split('\n').slice(1))
  const { rows: latest } = await server.context.pool.query<{ n: number }>(
    'select count(*) n from result_row where site_id = $1 and now is not null',
    [siteId],
  )
  // Everything was fetched once, so that the latest results are all there are.
  expect(results.length).toBe(latest[0]!.n)
  const addresses = new Set(
    text('rows/result_address.csv')
      .trim()
      .split('\n')
      .map(line => line.split(',')[1]),
  )
  const [day, , , position, page] = results[0]!.split(',')
  expect([day!.length, position, addresses.has(page)]).toEqual([10, '1', true])
  expect(names.some(name => /secret|session|account|access_key|position_day/.test(name))).toBe(false)
  for (const name of names.filter(each => each.startsWith('rows/')))
    expect(text(name).split('\n')[0]).toMatch(/site_id/)
})

test('a removed site is not there, can be brought back for a day, and then goes for good', async () => {
  const gone = await server.call(createSite, { domain: 'clayharbour.example', name: 'Clay Harbour' })
  await server.call(addNote, { siteId: gone.id, day: '2026-11-20', text: 'Opened' })
  const remove = () => server.call(removeSite, { siteId: gone.id, domain: 'clayharbour.example' })
  await remove()
  expect((await server.call(listSites, {})).map(each => each.id)).toEqual([siteId])
  await expect(server.call(listNotes, { siteId: gone.id })).rejects.toMatchObject({ code: 'notFound' })
  await expect(server.call(createSite, { domain: 'clayharbour.example', name: 'Again' })).rejects.toThrow(
    /bring it back/,
  )
  expect((await server.call(readKeeping, {})).removed).toMatchObject([{ domain: 'clayharbour.example' }])
  await server.call(bringBackSite, { removedId: gone.id })
  expect(await server.call(listNotes, { siteId: gone.id })).toMatchObject([{ text: 'Opened' }])
  await remove()
  const purge = () => keepingFeature.minutely!['removed-sites']!(server.context)
  await purge()
  expect((await server.call(readKeeping, {})).removed).toHaveLength(1)
  await server.context.pool.query("update site set removed_at = now() - interval '25 hours' where id = $1", [gone.id])
  await purge()
  const { rows } = await server.context.pool.query('select from site where id = $1', [gone.id])
  expect(rows).toEqual([])
  await expect(server.call(bringBackSite, { removedId: gone.id })).rejects.toMatchObject({ code: 'notFound' })
})

test('what is kept no longer goes at night, what is kept for ever stays; space is told by kind', async () => {
  const { pool } = server.context
  const night = () => keepingFeature.nightly!['nightly-retention']!(server.context)
  await pool.query("update job set ended_at = ended_at - interval '40 days' where ended_at is not null")
  const jobs = async () => (await pool.query('select from job where ended_at is not null')).rowCount
  const before = await jobs()
  await night()
  expect(await jobs()).toBe(before)
  const forEver = { resultTexts: null, results30: null, results10: null, results: null, activity: null }
  await server.call(setRetention, { ...forEver, pageTexts: 30, workLog: 30 })
  await night()
  expect(await jobs()).toBe(0)
  expect((await server.call(readKeeping, {})).retention).toEqual({
    ...forEver,
    pageTexts: 30,
    workLog: 30,
  })
  const { space } = await server.call(readKeeping, {})
  expect(space.find(each => each.kind === 'keywords')!.bytes).toBeGreaterThan(0)
  const { rows } = await pool.query<{ all: number }>('select pg_database_size(current_database())::float8 "all"')
  const sum = space.reduce((total, each) => total + each.bytes, 0)
  expect(sum / rows[0]!.all).toBeGreaterThan(0.5)
  expect(sum).toBeLessThanOrEqual(rows[0]!.all)
})

test('results of months gone by are kept to the depth and for the days that are set, and do not say "not found" of what went', async () => {
  const { pool } = server.context
  const kept = { resultTexts: null, pageTexts: null, workLog: null, activity: null }
  const pages = Array.from({ length: 100 }, (_, i) => i + 1)
  const of = { siteId, marketId, source: 'engines' }
  const months = ['2025-01-01', '2025-03-01', '2025-05-01', '2025-06-01']
  const write = (month: string) =>
    upsertMonths(pool, of, [{ keywordId, month, days: encodeMonth([{ day: 3, depth: 100, pages }]) }])
  for (const month of months) await write(month)
  const { within10, within30, beyond30 } = (await server.call(readKeeping, {})).resultDepths
  expect(beyond30).toBeGreaterThan(within30)
  expect(within30).toBeGreaterThan(0)
  expect(within10).toBeGreaterThan(0)
  await server.call(setRetention, { ...kept, results30: 10, results10: 50, results: 120 })
  // June 2025 is under way.
  const night = () =>
    shortenMonths(pool, { ...kept, results30: 10, results10: 50, results: 120 }, new Date('2025-06-20'))
  const depths = async () => {
    const read = await manyMonths(
      pool,
      of,
      months.map(month => ({ keywordId, month })),
    )
    return months.map(month => {
      const bytes = read.get(`${keywordId} ${month}`)
      const day = bytes && decodeMonth(bytes)[0]!
      return day ? [day.depth, day.pages.length] : null
    })
  }
  expect(await night()).toBe(3)
  expect(await depths()).toEqual([null, [10, 10], [30, 30], [100, 100]])
  expect(await night()).toBe(0)
  // What is brought of such a month later is shortened in the next night.
  await write('2025-05-01')
  expect(await night()).toBe(1)
  expect(await depths()).toEqual([null, [10, 10], [30, 30], [100, 100]])
})

test('the key of a source is typed in, sealed, used at once and after a start, and never shown', async () => {
  const stateOf = async (at: TestServer) =>
    (await at.call(listSources, { siteId })).find(each => each.key === 'registry')
  expect(await server.call(testSource, { siteId, key: 'registry' })).toMatchObject({ works: true, what: null })
  await server.call(setSourceKey, { key: 'registry', secret: 'not-the-key-of-the-registry' })
  expect(await stateOf(server)).toMatchObject({ keyFrom: 'typed' })
  const refused = await server.call(testSource, { siteId, key: 'registry' })
  expect(refused).toMatchObject({ works: false })
  expect(refused.what).not.toContain('not-the-key')
  expect(JSON.stringify(await server.call(listSources, { siteId }))).not.toContain('not-the-key')
  const { rows } = await server.context.pool.query<{ sealed: Buffer }>('select sealed from sealed_secret')
  expect(rows[0]!.sealed.toString('latin1')).not.toContain('not-the-key')
  // Another installation with the same data (a restored backup) does not have the key that seals.
  const elsewhere = await testServer({}, server.databaseUrl)
  expect(await stateOf(elsewhere)).toMatchObject({ keyFrom: 'unreadable' })
  expect((await elsewhere.call(readKeeping, {})).unreadableSecrets).toBe(1)
  await elsewhere.close()
  await server.call(setSourceKey, { key: 'registry', secret: null })
  expect(await stateOf(server)).toMatchObject({ keyFrom: 'configuration' })
  expect(await server.call(testSource, { siteId, key: 'registry' })).toMatchObject({ works: true })
})

test('npm run backup and restore: one file, refused where it would overwrite or mix', async () => {
  const run = promisify(execFile)
  const folder = server.context.config.DATA_DIR
  const file = join(folder, 'whole.dump')
  const script = (name: string, databaseUrl: string, path = file) =>
    run(process.execPath, ['--import', 'tsx', `scripts/${name}.ts`, path], {
      env: { ...process.env, DATABASE_URL: databaseUrl, DATA_DIR: folder },
    }).then(
      ({ stdout }) => ({ code: 0, said: stdout }),
      (error: { code: number; stderr: string }) => ({ code: error.code, said: error.stderr }),
    )
  expect(await script('backup', server.databaseUrl)).toMatchObject({
    code: 0,
    said: expect.stringContaining('whole.dump'),
  })
  expect(await script('backup', server.databaseUrl)).toMatchObject({
    code: 1,
    said: expect.stringContaining('there already'),
  })
  expect(await script('restore', server.databaseUrl)).toMatchObject({
    code: 1,
    said: expect.stringContaining('not empty'),
  })
  await writeFile(join(folder, 'other.dump'), 'no backup')
  expect(await script('restore', server.databaseUrl, join(folder, 'other.dump'))).toMatchObject({
    code: 1,
    said: expect.stringContaining('cannot be read as a backup'),
  })
})
