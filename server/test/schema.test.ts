import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { createSite } from '@dew-trail/contract/sites'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let pool: pg.Pool
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl })
})
afterAll(async () => {
  await pool.end()
  await server.close()
})

/** Tables of this server itself: they stay when a site moves. */
const ofTheServer = ['job']

test("every key of a site's data begins with the site, so that a site can be moved to another server", async () => {
  const { rows } = await pool.query<{ name: string; key: string[] | null; counted: boolean }>(
    `select c.relname name,
       (select array_agg(a.attname::text order by k.at) from pg_constraint p cross join unnest(p.conkey) with ordinality k (attnum, at)
          join pg_attribute a on a.attrelid = c.oid and a.attnum = k.attnum where p.conrelid = c.oid and p.contype = 'p') "key",
       exists (select from pg_attribute a left join pg_attrdef d on d.adrelid = c.oid and d.adnum = a.attnum
          where a.attrelid = c.oid and (a.attidentity <> '' or pg_get_expr(d.adbin, d.adrelid) like 'nextval%')) counted
     from pg_class c join pg_attribute s on s.attrelid = c.oid and s.attname = 'site_id' and not s.attisdropped
     where c.relkind in ('r', 'p') and not c.relispartition and c.relnamespace = 'public'::regnamespace
       and not exists (select from pg_attribute g where g.attrelid = c.oid and g.attname = 'graph_id') order by 1`,
  )
  const own = rows.filter(row => !ofTheServer.includes(row.name))
  expect(own.map(row => row.name)).toContain('keyword')
  expect(own.filter(row => row.counted).map(row => row.name)).toEqual([])
  expect(own.filter(row => row.key && row.key[0] !== 'site_id').map(row => row.name)).toEqual([])
  const { rows: refers } = await pool.query<{ name: string }>(
    `select conrelid::regclass::text name from pg_constraint where contype = 'f' and conparentid = 0
       and confrelid in ('market'::regclass, 'gathering'::regclass, 'page_plan'::regclass) and cardinality(conkey) < 2`,
  )
  expect(refers).toEqual([])
})

test('ids of two sites are counted apart', async () => {
  const first = await demoSite(server)
  const second = await server.call(createSite, { domain: 'clayharbour.example', name: 'Clay Harbour' })
  expect(second.markets.map(market => market.id)).toEqual(first.markets.map(market => market.id))
  for (const { id } of [first, second])
    await pool.query(
      `insert into keyword (site_id, id, revision, language, phrase, family, kind, intent, intent_share, words)
       values ($1, nextval('keyword_id_site_' || $1::bigint), nextval('keyword_revision_site_' || $1::bigint), 'en', 'clay', 'clay', 'seed', 'learn', 1, 1)`,
      [id],
    )
  const { rows } = await pool.query('select id, revision from keyword order by site_id')
  expect(rows).toEqual([
    { id: 1, revision: 1 },
    { id: 1, revision: 1 },
  ])
})
