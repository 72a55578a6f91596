import { createSite } from '@dew-trail/contract/sites'
import { openPool } from '@dew-trail/server/db/pool'
import { manySitePositions, type ResultPage } from '@dew-trail/server/results/queries'
import { saveResults } from '@dew-trail/server/results/save-results'
import { callServer } from '../lib/client.ts'
import { type Entry, median } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { fillResults } from './fill-results.ts'

const written = { keywords: 2_000, depth: 100, days: 2, atATime: 100 }
const daily = { keywords: 200, depth: 20, days: 30 }

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
      await fillResults(pool, site.id, market)
      const { rows: kept } = await pool.query<{ count: number }>('select count(*) count from result_row')
      // Its share is among the largest: about 40,000 positions.
      const times: number[] = []
      let positions = 0
      for (let i = 0; i < 6; i++) {
        const startedMs = performance.now()
        const found = await manySitePositions(pool, site.id, market, ['site-5.example'])
        times.push(performance.now() - startedMs)
        positions = found.reduce((sum, each) => sum + each.keywords, 0)
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
