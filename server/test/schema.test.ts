import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
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

const large = [
  ...[
    'keyword',
    'demand',
    'weighing',
    'finding',
    'gathering',
    'result_row',
    'result_head',
    'result_month',
    'result_page',
  ],
  ...['result_address', 'tracked_keyword', 'position_day', 'position_year', 'page_found', 'feature_found', 'log_week'],
  ...['log_page_week', 'log_sum', 'page_plan', 'page_plan_keyword', 'list_keyword', 'theme', 'theme_keyword'],
  ...['link', 'linked_site', 'linked_page', 'anchor_text', 'page_content', 'linking_site', 'link_total'],
]
/** A join with a large table and its condition, up to the next clause. */
const joinPattern = new RegExp(
  `\\bjoin\\s+(${large.join('|')})\\s+(\\w+)?\\s*(?:on|using)\\s*([\\s\\S]*?)(?=\\bjoin\\b|\\bwhere\\b|\\bgroup by\\b|\\border by\\b|\\bon conflict\\b|\\breturning\\b|\\bunion\\b|\`|'\\s*,)`,
  'gi',
)
const filesIn = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter(name => /(?<!\.test)\.ts$/.test(name))
    .map(name => join(folder, name))

/** Tables of this server itself: they stay when a site moves. */
const ofTheServer = ['job']

test("every key of a site's data begins with the site, so that a site can be moved to another server", async () => {
  const { rows } = await pool.query<{ name: string; key: string[] | null; counted: boolean }>(
    `select c.relname name,
       (select array_agg(a.attname::text order by k.at) from pg_constraint p cross
       join unnest(p.conkey) with ordinality k (attnum, at)
          join pg_attribute a on a.attrelid = c.oid and a.attnum = k.attnum
            where p.conrelid = c.oid and p.contype = 'p') "key",
       exists (select from pg_attribute a left join pg_attrdef d on d.adrelid = c.oid and d.adnum = a.attnum
          where a.attrelid = c.oid and (a.attidentity <> '' or pg_get_expr(d.adbin,
            d.adrelid) like 'nextval%')) counted
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
       and confrelid in ('market'::regclass, 'gathering'::regclass, 'page_plan'::regclass)
         and cardinality(conkey) < 2`,
  )
  expect(refers).toEqual([])
})

test('every unique index and every foreign key between tables of sites carries the site, of the graph the graph', async () => {
  const spread = (table: string) =>
    `exists (select from pg_attribute a where a.attrelid = ${table} and a.attname in ('site_id', 'graph_id')
      and not a.attisdropped)`
  const { rows: unique } = await pool.query<{ name: string }>(
    `select i.indexrelid::regclass::text name from pg_index i join pg_class c on c.oid = i.indrelid
     where i.indisunique and c.relkind in ('r', 'p') and not c.relispartition
       and c.relnamespace = 'public'::regnamespace
       and ${spread('c.oid')} and pg_get_indexdef(i.indexrelid) !~ '(site_id|graph_id)'`,
  )
  // Jobs are of this server, and a token is drawn at random so that no two are alike.
  expect(unique.map(row => row.name).sort()).toEqual(['job_pkey', 'secret_link_token_key'])
  const { rows: refers } = await pool.query<{ name: string }>(
    `select conrelid::regclass::text || ' to ' || confrelid::regclass::text name from pg_constraint p
     where contype = 'f' and conparentid = 0 and ${spread('conrelid')} and ${spread('confrelid')}
       and not exists (select from pg_attribute a where a.attrelid = conrelid and a.attnum = any(conkey)
         and a.attname in ('site_id', 'graph_id'))`,
  )
  expect(refers.map(row => row.name).sort()).toEqual([])
})

test('every join with a large table goes by the site or the graph', () => {
  const joins = filesIn(join(import.meta.dirname, '../src')).flatMap(file =>
    [...readFileSync(file, 'utf8').matchAll(joinPattern)].map(match => ({ file, on: match[3]! })),
  )
  expect(joins.length).toBeGreaterThan(200)
  expect(joins.filter(({ on }) => !/site_id|graph_id|siteId|\$\{/.test(on))).toEqual([])
})

test('ids of two sites are counted apart', async () => {
  const first = await demoSite(server)
  const second = await server.call(createSite, { domain: 'clayharbour.example', name: 'Clay Harbour' })
  expect(second.markets.map(market => market.id)).toEqual(first.markets.map(market => market.id))
  for (const { id } of [first, second])
    await pool.query(
      `insert into keyword (site_id, id, revision, language, phrase, family, kind, intent, intent_share, words)
       values ($1, nextval('keyword_id_site_' || $1::bigint), nextval('keyword_revision_site_' || $1::bigint), 'en',
       'clay', 'clay', 'seed', 'learn', 1, 1)`,
      [id],
    )
  const { rows } = await pool.query('select id, revision from keyword order by site_id')
  expect(rows).toEqual([
    { id: 1, revision: 1 },
    { id: 1, revision: 1 },
  ])
})
