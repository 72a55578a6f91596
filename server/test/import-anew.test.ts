import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { createSite, type Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { addKeywords } from '../src/features/gather/imports/add-keywords.ts'
import { reserveKeywordIds, shareKeywordIds } from '../src/domain/sites/queries.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let db: pg.Client
beforeAll(async () => {
  server = await testServer({ IMPORT_ANEW_FROM: '900' })
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
})
afterAll(async () => {
  await db.end()
  await server.close()
})

const importLines = async (site: Site, header: string, lines: string[], keep = false): Promise<object> => {
  const file = (await server.upload(site.id, 'keywords', `${header}\n${lines.join('\n')}\n`)) as Uploaded
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId: file.importId,
    marketId: site.markets[0]!.id,
    mapping: file.suggested,
    keep,
  })
  return (await server.finish(jobId)).result as object
}
/** Everything that is stored of a site's keywords and figures but ids, revisions and the hour. */
const stored = async (site: Site): Promise<object[]> =>
  (
    await db.query<object>(
      `select phrase, language, family, kind, intent, intent_share, words, kept_at is not null kept, d.place, source,
        state, months, average, cpc, competition, trend, d.low,
         cpc_source, cpc_at is not null cpc_dated, competition_source, competition_at is not null competition_dated
       from keyword k left join demand d on d.site_id = k.site_id and d.keyword_id = k.id where k.site_id = $1
         order by phrase, d.place`,
      [site.id],
    )
  ).rows
/** One keyword with figures of months from elsewhere, in the site's own place and in another. */
const addGathered = async (site: Site, phrase: string): Promise<void> => {
  for (const place of [site.markets[0]!.place, 'Elsewhere'])
    await db.query(
      `insert into demand (site_id, keyword_id, place, source, state, months, average, cpc, competition, trend, low,
        fetched_at)
       select site_id, id, $3, 'ads', 'known', '{4,5,6}', 5, 0.5, 0.4, 'steady', 4, '2026-01-01' from keyword
         where site_id = $1 and phrase = $2`,
      [site.id, phrase, place],
    )
}
const partitions = async (site: Site): Promise<object[]> =>
  (
    await db.query<object>(
      `select inhparent::regclass::text parent, (select count(*) from pg_index where indrelid = inhrelid) indexes,
         (select count(*) from pg_index i join pg_inherits h on h.inhrelid = i.indexrelid
         where i.indrelid = p.inhrelid) attached
       from pg_inherits p where inhrelid::regclass::text like '%_site_' || $1::text
         and inhparent::regclass::text in ('keyword', 'demand') order by 1`,
      [site.id],
    )
  ).rows

describe('a large import, which writes a site anew', () => {
  const many = 900
  const first = Array.from({ length: many }, (_, i) => `glaze ${i} chart,${i % 7 === 0 ? '' : i},${i % 90}`)
  // Some twice, some new, some with figures missing that are known.
  const second = Array.from({ length: many }, (_, i) => {
    const at = i < 30 ? 500 : i + 300
    return `Glaze ${at} chart,${i % 5 ? at + 1 : ''},${i % 3 ? 0.25 : ''},${i % 11 ? '' : 0.5}`
  })

  test('stores what small imports of the same lines store, in sound partitions', async () => {
    const [anew, bit, other] = await Promise.all(
      ['anew.example', 'bit.example', 'other.example'].map(domain => server.call(createSite, { domain, name: domain })),
    )
    const header = 'keyword,searches,cpc'
    await importLines(other!, header, first.slice(0, 50))
    const before = await stored(other!)

    expect(await importLines(anew!, header, first)).toMatchObject({ added: many, total: many, withDemand: many })
    for (let at = 0; at < many; at += 350) await importLines(bit!, header, first.slice(at, at + 350))
    expect(await stored(anew!)).toEqual(await stored(bit!))

    for (const site of [anew!, bit!])
      for (const phrase of ['glaze 7 chart', 'glaze 501 chart', 'glaze 600 chart'])
        await db.query(
          `delete from demand where site_id = $1 and keyword_id in (select id from keyword
            where site_id = $1 and phrase = $2)`,
          [site.id, phrase],
        )
    for (const site of [anew!, bit!]) {
      await addGathered(site, 'glaze 7 chart')
      await addGathered(site, 'glaze 600 chart')
    }
    const distinct = new Set(second.map(line => line.split(',')[0])).size
    const secondHeader = 'keyword,searches,cpc,competition'
    expect(await importLines(anew!, secondHeader, second, true)).toMatchObject({ total: distinct })
    for (let at = 0; at < many; at += 350) await importLines(bit!, secondHeader, second.slice(at, at + 350), true)
    expect(await stored(anew!)).toEqual(await stored(bit!))
    expect(await stored(other!)).toEqual(before)

    expect(await partitions(anew!)).toEqual([
      { parent: 'demand', indexes: 2, attached: 2 },
      { parent: 'keyword', indexes: 4, attached: 4 },
    ])
    // Keys hold in the new partitions: a known keyword is found, not doubled.
    expect(await importLines(anew!, header, ['glaze 1 chart,9,9'])).toMatchObject({ added: 0, total: 1 })
  })

  test('a browser that has the rows gets those that changed, once', async () => {
    const site = await server.call(createSite, { domain: 'again.example', name: 'Again' })
    const market = site.markets[0]!.id
    await importLines(site, 'keyword,searches', ['raku tongs,10', 'slip trailer,20'])
    const { revision } = await server.rows(site.id, market)
    await importLines(site, 'keyword,searches', ['raku tongs,30', ...first.map(line => line.split(',')[0]!)])
    const { rows } = await server.rows(site.id, market, revision)
    expect(rows.length).toBe(many + 1)
    expect(rows.filter(row => row.phrase === 'raku tongs')).toMatchObject([{ searches: 30 }])
    expect(rows.some(row => row.phrase === 'slip trailer')).toBe(false)
  })

  test("what a killed import left is in nobody's way, and nothing is left behind", async () => {
    const site = await server.call(createSite, { domain: 'killed.example', name: 'Killed' })
    await db.query(
      `create table keyword_site_${site.id}_next (a int); create table demand_site_${site.id}_next (a int)`,
    )
    expect(await importLines(site, 'keyword,searches', first)).toMatchObject({ added: many })
    const left = "select relname from pg_class where relname ~ '_next$|^keyword_(stage|settled)'"
    expect((await db.query(left)).rows).toEqual([])
  })

  test('a site that goes takes its partitions along', async () => {
    const site = await server.call(createSite, { domain: 'gone.example', name: 'Gone' })
    expect(await partitions(site)).toHaveLength(2)
    await db.query('delete from site where id = $1', [site.id])
    expect(await partitions(site)).toEqual([])
  })
})

test('an import that is stopped midway leaves its connections and tables as they were', async () => {
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 })
  const [reader, writer] = [await pool.connect(), await pool.connect()]
  try {
    await reader.query(
      `create table settled_phrases as select n id, true is_new, $$glaze $$ || n phrase
        from generate_series(1, 60000) n`,
    )
    await writer.query('create table described_phrases (like keyword_site_1 including defaults)')
    let parts = 0
    const add = (most: number): Promise<number> =>
      addKeywords(
        { reader, writer },
        { siteId: 1, language: 'en', keep: false, from: 'settled_phrases', into: 'described_phrases', importId: 1 },
        async () => {
          if (++parts > most) throw new Error('stopped')
        },
      )
    await expect(add(2)).rejects.toThrow('stopped')
    for (const client of [reader, writer])
      expect((await client.query('select count(*)::integer many from described_phrases')).rows[0].many).toBe(0)
    expect(await add(Number.POSITIVE_INFINITY)).toBe(60_000)
    const { rows } = await reader.query(
      `select count(*)::integer many, count(distinct phrase)::integer different, min(words) words
        from described_phrases`,
    )
    expect(rows).toEqual([{ many: 60_000, different: 60_000, words: 2 }])
  } finally {
    reader.release()
    writer.release()
    await pool.query('drop table settled_phrases, described_phrases')
    await pool.end()
  }
})

test('a run of ids waits for who takes single ones, so that the sequence never goes back', async () => {
  const pool = new pg.Pool({ connectionString: server.databaseUrl })
  const [one, run] = [await pool.connect(), await pool.connect()]
  try {
    await one.query('begin')
    await shareKeywordIds(one, 1)
    await run.query("begin; set local lock_timeout = '50ms'")
    await expect(reserveKeywordIds(run, 1, 5)).rejects.toThrow('lock timeout')
    await run.query('rollback')
    const { rows } = await one.query("select nextval('keyword_id_site_1')::integer id")
    await one.query('commit')
    await run.query('begin')
    expect(Number(await reserveKeywordIds(run, 1, 5))).toBe(rows[0].id + 6)
    await run.query('commit')
    expect((await one.query("select nextval('keyword_id_site_1')::integer id")).rows[0].id).toBe(rows[0].id + 7)
  } finally {
    one.release()
    run.release()
    await pool.end()
  }
})
