import type { Endpoint } from '@dew-trail/contract/endpoint'
import { requestParts } from '@dew-trail/contract/endpoint'
import { addAlertRule } from '@dew-trail/contract/alerts'
import { createReport, issueReport } from '@dew-trail/contract/reports'
import { startCrawl } from '@dew-trail/contract/crawl'
import type { Uploaded } from '@dew-trail/contract/imports'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { allEndpoints, samples } from '@dew-trail/contract/all-endpoints'
import { filledSite, type Things } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let db: pg.Client
let own: Things
let foreign: Things

beforeAll(async () => {
  server = await testServer()
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  // Ids are counted by site: those of the second begin elsewhere, so that none of them happens to be one of the first.
  await db.query(`create function begin_higher() returns trigger language plpgsql as $$ begin
      insert into site_counter (site_id, counted, last)
        select new.id, t, 5000 from unnest(array['market', 'gathering', 'page_plan', 'list', 'import', 'crawl',
          'note', 'act', 'keyword_grouping', 'theme', 'find_list', 'find_item', 'report', 'report_issue',
          'alert_rule']) t
        on conflict (site_id, counted) do update set last = 5000;
      perform setval('keyword_id_site_' || new.id, 5000);
      return null;
    end $$;
    create trigger must_begin_higher after insert on site for each row when (new.domain = 'second.example')
      execute function begin_higher()`)
  const things: Things[] = []
  for (const domain of ['first.example', 'second.example']) things.push(await fill(domain))
  ;[own, foreign] = things as [Things, Things]
})
afterAll(async () => {
  await db.end()
  await server.close()
})

async function fill(domain: string): Promise<Things> {
  const things = await filledSite(server, domain)
  const siteId = Number(things.siteId)
  const file = (await server.upload(siteId, 'keywords', 'keyword\nkiln shelf\n')) as Uploaded
  const { crawls } = await server.call(startCrawl, { siteId, domains: [domain], mostPages: 1 })
  await server.finish(crawls[0]!.jobId)
  const { jobId: _, ...others } = things
  const marketId = Number(things.marketId)
  const report = await server.call(createReport, { siteId, marketId, name: 'A report', template: 'empty' })
  const issue = await server.call(issueReport, { siteId, reportId: report.id })
  const { id: ruleId } = await server.call(addAlertRule, { siteId, kind: 'shift' })
  return {
    ...others,
    importId: file.importId,
    crawlId: crawls[0]!.crawlId,
    marketIds: [marketId],
    reportId: report.id,
    issueId: issue.id,
    ruleId,
  }
}

const ask = async (spec: Endpoint, input: Record<string, unknown>) => {
  const { url, body } = requestParts(spec, input)
  return server.raw(url, {
    method: spec.method,
    ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
  })
}
/** Everything that the endpoints can change of a site. */
async function stored(siteId: number): Promise<string> {
  const tables = [
    'keyword',
    'gathering',
    'page_plan',
    'page_plan_keyword',
    'list',
    'list_keyword',
    'tracked_keyword',
    'import',
    'crawl',
    'market',
    'brand_word',
    'note',
    'act',
    'keyword_grouping',
    'theme',
    'theme_keyword',
    'find_list',
    'find_item',
    'report',
    'report_issue',
    'alert_rule',
    'secret_link',
  ]
  const all = []
  for (const table of tables)
    all.push(
      (await db.query(`select to_jsonb(t) from ${table} t where site_id = $1 order by to_jsonb(t)::text`, [siteId]))
        .rows,
    )
  return JSON.stringify(all)
}

/** Every endpoint of a site with each id that it takes besides the site's. */
const cases = allEndpoints.flatMap(([name, spec]) =>
  Object.keys(samples[name] ?? {})
    .filter(key =>
      /^(lead|(market|keyword|page|gathering|parent|list|import|crawl|note|act|grouping|beside|theme|lead|findList|item|report|issue|rule)Ids?)$/.test(
        key,
      ),
    )
    .map(key => [name, key, spec] as const),
)

describe('every id in every input belongs to its site', () => {
  test('all endpoints have a sample, and all ids of samples are known', () => {
    expect(allEndpoints.map(([name]) => name).filter(name => !(name in samples))).toEqual([])
    expect(cases.length).toBeGreaterThan(30)
  })
  test.each(cases)('%s refuses a foreign %s and changes nothing', async (name, key, spec) => {
    const before = [await stored(Number(own.siteId)), await stored(Number(foreign.siteId))]
    const input = { ...samples[name], ...pick(own, samples[name]!), [key]: foreign[key] }
    const answer = await ask(spec, input)
    expect(answer.status, JSON.stringify(answer.body)).toBe(404)
    if (Array.isArray(foreign[key])) {
      const mixed = { ...input, [key]: [...(own[key] as number[]), (foreign[key] as number[])[0]] }
      expect((await ask(spec, mixed)).status).toBe(404)
    }
    expect([await stored(Number(own.siteId)), await stored(Number(foreign.siteId))]).toEqual(before)
  })
  test.each(allEndpoints.filter(([name]) => 'siteId' in (samples[name] ?? {})))(
    '%s refuses a site that is not there',
    async (name, spec) => {
      const answer = await ask(spec, { ...samples[name], ...pick(own, samples[name]!), siteId: 999_999 })
      expect(answer.status, JSON.stringify(answer.body)).toBe(404)
    },
  )
  test('no GET writes anything', async () => {
    // Blocks of rows are a copy of what is there, written down by whoever asks first; what a source is asked is counted.
    const { rows } = await db.query<{ name: string }>(
      `select table_name name from information_schema.tables
       where table_schema = 'public' and table_type = 'BASE TABLE' and table_name not like 'row_block%'
         and table_name <> 'source_use' order by 1`,
    )
    const all = async () => {
      const lines: string[] = []
      for (const { name } of rows) {
        const { rows: own } = await db.query(`select to_jsonb(t)::text line from "${name}" t order by 1`)
        lines.push(...own.map(row => `${name} ${row.line}`))
      }
      return lines
    }
    // What crawls began may still be computing.
    while ((await db.query('select from job where ended_at is null')).rowCount)
      await new Promise(resolve => setTimeout(resolve, 20))
    const before = await all()
    expect(before.length).toBeGreaterThan(50)
    for (const [name, spec] of allEndpoints)
      if (spec.method === 'GET') await ask(spec, { ...samples[name], ...pick(own, samples[name]!) })
    expect(await all()).toEqual(before)
  })
  test('so do the ways in and out that are no such endpoints', async () => {
    const post = (path: string) =>
      server.raw(path, { method: 'POST', body: 'keyword\nkiln\n', headers: { 'content-type': 'text/csv' } })
    const { siteId, importId } = own
    for (const path of [
      '/api/sites/999999/imports?kind=keywords',
      '/api/sites/999999/page-archives',
      '/api/sites/999999/web-graphs',
      `/api/sites/${siteId}/web-graphs/${foreign.importId}/edges`,
      `/api/sites/${siteId}/web-graphs/${importId}/edges`,
    ])
      expect((await post(path)).status, path).toBe(404)
    for (const path of [
      `/api/sites/${siteId}/keywords?marketId=${foreign.marketId}`,
      '/api/sites/999999/keywords?marketId=1',
      `/api/sites/${siteId}/imports/${foreign.importId}/errors.csv`,
      '/api/events?siteIds=999999',
    ])
      expect((await server.raw(path)).status, path).toBe(404)
  })
})

/** Of things those that a sample names. */
const pick = (things: Things, sample: Record<string, unknown>): Things =>
  Object.fromEntries(Object.entries(things).filter(([key]) => key in sample))
