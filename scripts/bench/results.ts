import { createSite } from '@dew-trail/contract/sites'
import { openPool } from '@dew-trail/server/db/pool'
import { manySitePlaces, type ResultPage } from '@dew-trail/server/results/queries'
import { saveResults } from '@dew-trail/server/results/save-results'
import { callServer } from '../lib/client.ts'
import { type Entry, median } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const keywords = 100_000
const results = 10_000_000
const addresses = 2_000_000
const sites = 50_000
const written = { keywords: 2_000, depth: 100, days: 2, atATime: 100 }
const daily = { keywords: 200, depth: 20, days: 30 }

/** A draw from 0 up to 1 in SQL, a hash of two expressions. */
const draw = (a: string, b: string): string => `((hashint8((${a}) * 131 + (${b}) * 7919) & 16777215) / 16777216.0)`

/** Results as days bring them: most pages stay, some change their positions, few are new. */
function pageOf(keywordId: number, day: number, depth: number): ResultPage {
  const urlAt = (at: number): string => {
    const page = (keywordId * 7 + at * 13 + ((keywordId + at + day) % 12 === 0 ? day : 0)) % 60_000
    return `https://site-${page % 3_000}.example/page/${page}`
  }
  const shift = (keywordId + day) % 5
  return {
    keywordId,
    day: `2026-10-${String(day).padStart(2, '0')}`,
    depth,
    results: Array.from({ length: depth }, (_, i) => ({ position: i + 1, url: urlAt(i ^ (i % 7 === shift ? 1 : 0)) })),
  }
}

/** Ten million results of a hundred thousand keywords: asked for one site's, written, and kept by day. */
export const resultsBench: Entry = {
  name: 'results',
  gives: ['results.by_domain', 'results.write', 'results.bytes'],
  async run() {
    const stack = await startStack()
    const pool = openPool(stack.databaseUrl)
    try {
      const site = await callServer(stack.server, createSite, { domain: 'large.example', name: 'Large' })
      const market = site.markets[0]!
      await pool.query(
        `insert into result_site select $1, i, 'site-' || i || '.example' from generate_series(1, ${sites}) i`,
        [site.id],
      )
      await pool.query(
        `insert into result_address select $1, i, md5(i::text)::uuid, 1 + floor(${draw('i', '1')} ^ 3 * ${sites - 1})::integer, 'https://site.example/' || i
         from generate_series(1, ${addresses}) i`,
        [site.id],
      )
      await pool.query(
        `insert into result_row select $1, $2, k, a.id, a.on_site, p, p from generate_series(1, ${keywords}) k
         cross join generate_series(1, ${results / keywords}) p
         join result_address a on a.site_id = $1 and a.id = 1 + floor(${draw('k', 'p')} * ${addresses - 1})::integer on conflict do nothing`,
        [site.id, market.id],
      )
      await pool.query(
        `insert into demand (site_id, keyword_id, place, source, state, average, fetched_at)
         select $1, i, $2, 'x', 'known', i, now() from generate_series(1, ${keywords}) i`,
        [site.id, market.place],
      )
      await pool.query('analyze')
      await pool.query('select setval($1, $2)', [`result_page_id_site_${site.id}`, addresses])
      await pool.query('select setval($1, $2)', [`result_site_id_site_${site.id}`, sites])
      const { rows: kept } = await pool.query<{ count: number }>('select count(*) count from result_row')
      // Its share is among the largest: about 40,000 positions.
      const times: number[] = []
      let positions = 0
      for (let i = 0; i < 6; i++) {
        const startedMs = performance.now()
        const places = await manySitePlaces(pool, site.id, market, ['site-5.example'])
        times.push(performance.now() - startedMs)
        positions = places.reduce((sum, each) => sum + each.keywords, 0)
      }

      const of = { siteId: site.id, marketId: 2, source: 'engines' }
      const startedMs = performance.now()
      for (let day = 1; day <= written.days; day++)
        for (let at = 0; at < written.keywords; at += written.atATime) {
          const ids = Array.from({ length: written.atATime }, (_, i) => at + i + 1)
          await saveResults(
            pool,
            of,
            ids.map(id => pageOf(id, day, written.depth)),
          )
        }
      const seconds = (performance.now() - startedMs) / 1000

      const sized = async (): Promise<number> => {
        const { rows } = await pool.query<{ bytes: number }>(
          `select sum(pg_relation_size(inhrelid)) bytes from pg_inherits where inhparent = 'result_month'::regclass`,
        )
        return Number(rows[0]!.bytes)
      }
      await pool.query('truncate result_month')
      for (let day = 1; day <= daily.days; day++) {
        const ids = Array.from({ length: daily.keywords }, (_, i) => i + 1)
        await saveResults(
          pool,
          { ...of, marketId: 3 },
          ids.map(id => pageOf(id, day, daily.depth)),
        )
      }
      await pool.query('vacuum full result_month')
      const bytes = await sized()
      return [
        {
          name: 'results.by_domain',
          value: median(times.slice(1)),
          unit: `ms, a site with ${positions} positions among ${kept[0]!.count} results`,
          better: 'lower',
        },
        {
          name: 'results.write',
          value: (written.keywords * written.depth * written.days) / seconds,
          unit: 'rows/s, half of them new, half of another day',
          better: 'higher',
        },
        {
          name: 'results.bytes',
          value: bytes / (daily.keywords * daily.depth * daily.days),
          unit: 'bytes a result of a month of days',
          better: 'lower',
        },
      ]
    } finally {
      await pool.end()
      await stack.close()
    }
  },
}
