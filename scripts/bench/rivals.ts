import {
  listLandingPages,
  listOverlap,
  listRankedKeywords,
  readOverlap,
  readRivalProfiles,
} from '@dew-trail/contract/rivals'
import { createSite } from '@dew-trail/contract/sites'
import { openPool } from '@dew-trail/server/db/pool'
import type { ResultPage } from '@dew-trail/server/results/queries'
import { saveResults } from '@dew-trail/server/results/save-results'
import { callServer } from '../lib/client.ts'
import { type Entry, type Measure, median } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { draw, fillResults, filled } from './fill-results.ts'

const known = 2_000_000
/** For how many known keywords the first sites stand by the feed. */
const standsFor = [400_000, ...Array<number>(9).fill(200_000)]
const swept = { keywords: 2_000, depth: 100, atATime: 80 }
const times = 4

const sweepPage = (keywordId: number): ResultPage => ({
  keywordId,
  day: '2026-10-02',
  depth: swept.depth,
  results: Array.from({ length: swept.depth }, (_, i) => {
    const page = (keywordId * 7 + i * 13) % 60_000
    return { position: i + 1, url: `https://site-${page % 3_000}.example/page/${page}` }
  }),
})

/** Rivals over ten million results and two million known keywords, asked over HTTP; the first call, which reads the sites into memory, does not count: `rivals.read` and `rivals.read5` tell what it costs. */
export const rivalsBench: Entry = {
  name: 'rivals',
  gives: [
    'rivals.profile',
    'rivals.keywords',
    'rivals.keywords.listed',
    'rivals.read',
    'rivals.read5',
    'rivals.pages',
    'rivals.overlap',
    'rivals.overlap10',
    'rivals.overlap_rows',
    'rivals.sweep',
  ],
  async run() {
    const stack = await startStack()
    const pool = openPool(stack.databaseUrl)
    try {
      const site = await callServer(stack.server, createSite, { domain: 'large.example', name: 'Large' })
      const market = site.markets[0]!
      await fillResults(pool, site.id, market)
      await pool.query(
        `insert into result_head (site_id, market_id, keyword_id, day, depth, results, source)
         select $1, $2, i, '2026-10-01', 100, 100, 'engines' from generate_series(1, ${filled.keywords}) i`,
        [site.id, market.id],
      )
      await pool.query(
        `insert into keyword (site_id, id, revision, language, phrase, family, kind, intent, intent_share, words)
         select $1, i, 1, $2, 'fetched ' || i, 'fetched ' || i, 'seed', 'learn', 1, 2
           from generate_series(1, ${filled.keywords}) i`,
        [site.id, market.language],
      )
      await pool.query(
        `insert into known_keyword (site_id, id, language, place, phrase, family, searches, cpc)
         select $1, i, $2, $3, 'known ' || i, 'known ' || i, i % 5000, 1 from generate_series(1, ${known}) i`,
        [site.id, market.language, market.place],
      )
      for (const [i, count] of standsFor.entries())
        await pool.query(
          `insert into known_ranking select $1, $2, $3, k,
            1 + floor(${draw('k', String(i))} * ${filled.addresses - 1})::integer,
             1 + floor(${draw('k', String(i + 50))} * 99)::integer
           from (select 1 + (j * 5 + ${i}) % ${known} k from generate_series(1, ${count}) j) s`,
          [site.id, market.id, i + 1],
        )
      await pool.query('analyze')
      const at = { siteId: site.id, marketId: market.id }
      const sites = standsFor.map((_, i) => `site-${i + 1}.example`)
      const timed = async (work: () => Promise<unknown>): Promise<number> => {
        const taken: number[] = []
        for (let i = 0; i < times; i++) {
          const startedMs = performance.now()
          await work()
          taken.push(performance.now() - startedMs)
        }
        return median(taken.slice(1))
      }
      const { server } = stack
      const target = sites[0]!
      const five = sites.slice(1, 6)
      const measures: Array<[name: string, unit: string, work: () => Promise<unknown>]> = [
        [
          'rivals.profile',
          'ms, a site with 400,000 keywords',
          () => callServer(server, readRivalProfiles, { ...at, targets: [target] }),
        ],
        [
          'rivals.keywords',
          'ms, the first 200 of a site with 400,000, sorted and filtered',
          () =>
            callServer(server, listRankedKeywords, {
              ...at,
              target,
              most: 200,
              where: ['searches:from:100', 'now:to:30', 'phrase:has:7'],
              sort: '-searches',
            }),
        ],
        [
          'rivals.keywords.listed',
          'ms, the 50,000 of them that a screen lists',
          () => callServer(server, listRankedKeywords, { ...at, target }),
        ],
        [
          'rivals.pages',
          'ms, the first 200 pages of that site',
          () => callServer(server, listLandingPages, { ...at, target, most: 200 }),
        ],
        [
          'rivals.overlap',
          'ms, five sites with 200,000 keywords each',
          () => callServer(server, readOverlap, { ...at, targets: five, within: 10 }),
        ],
        [
          'rivals.overlap10',
          'ms, ten sites with 200,000 keywords or more each',
          () => callServer(server, readOverlap, { ...at, targets: sites, within: 10 }),
        ],
        [
          'rivals.overlap_rows',
          'ms, keywords of five sites where the first is below the first page',
          () => callServer(server, listOverlap, { ...at, targets: five, masks: null }),
        ],
      ]
      const out: Measure[] = []
      // What a site's rankings cost when they are read for the first time, or again after a change.
      const readMs = performance.now()
      await callServer(server, readRivalProfiles, { ...at, targets: [target] })
      out.push({
        name: 'rivals.read',
        value: performance.now() - readMs,
        unit: 'ms, the profile of that site, read for the first time',
        better: 'lower',
      })
      const read5Ms = performance.now()
      await callServer(server, readOverlap, { ...at, targets: five, within: 10 })
      out.push({
        name: 'rivals.read5',
        value: performance.now() - read5Ms,
        unit: 'ms, the overlap of five sites with 200,000 keywords each, read for the first time',
        better: 'lower',
      })
      for (const [name, unit, work] of measures) out.push({ name, value: await timed(work), unit, better: 'lower' })
      const startedMs = performance.now()
      for (let from = 0; from < swept.keywords; from += swept.atATime)
        await saveResults(
          pool,
          { ...at, source: 'engines' },
          Array.from({ length: swept.atATime }, (_, i) => sweepPage(from + i + 1)),
        )
      out.push({
        name: 'rivals.sweep',
        value: (swept.keywords * swept.depth) / ((performance.now() - startedMs) / 1000),
        unit: 'rows/s written as a sweep writes them',
        better: 'higher',
      })
      return out
    } finally {
      await pool.end()
      await stack.close()
    }
  },
}
