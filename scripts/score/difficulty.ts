import { createSite } from '@dew-trail/contract/sites'
import { getFirstPage, getStrengths, learnStrengths, putPageBeside, startWeighing } from '@dew-trail/contract/weigh'
import { pairAccuracy } from '@dew-trail/core/results/learn-strength'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { callServer, finishJob, importPhrases, keywordRows } from '../lib/client.ts'
import { type Entry, median, quantile, spearman } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { splitKeywords } from './split-keywords.ts'

/** Keywords that strengths are learnt from, and others that they are judged by. */
const learntFrom = 1_000
const judgedBy = 240
/** Of how many keywords a result is put beside its own page. */
const putBeside = 60
/** Keywords that are weighed before anything is learnt. */
const weighedEarly = 25

type Order = { phrase: string; pages: Array<{ url: string; score: number | null }> }

/** Share of pairs ordered as the engine did; without pairs there is none. */
const share = (pages: number[][]): number => pairAccuracy(pages) ?? Number.NaN

export const difficultyScore = (seed: number): Entry => ({
  name: 'difficulty.spearman',
  gives: [
    'difficulty.spearman',
    'difficulty.error',
    'difficulty.spread',
    'difficulty.jump',
    'beside.position_error',
    'pairs.accuracy',
  ],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const ask = async <T>(path: string, body?: unknown): Promise<T> =>
        (
          await fetch(truth + path, body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) })
        ).json() as T
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      const phrases = await ask<string[]>('/keywords?language=en&every=1')
      const { training, held } = splitKeywords(phrases, learntFrom, judgedBy)
      await importPhrases(server, site.id, marketId, training, true)
      // Some are weighed by the default weights first, as a user's first ones are, to see how far learning moves them.
      const early = (await keywordRows(server, site.id, marketId)).slice(0, weighedEarly).map(row => row.id)
      const first = await callServer(server, startWeighing, { siteId: site.id, marketId, keywordIds: early })
      await finishJob(server, first.jobId!)
      const difficulties = async (): Promise<Map<number, number>> =>
        new Map(
          (await keywordRows(server, site.id, marketId)).flatMap(row =>
            early.includes(row.id) && row.difficulty !== null ? [[row.id, row.difficulty as number]] : [],
          ),
        )
      const before = await difficulties()
      const { jobId } = await callServer(server, learnStrengths, { siteId: site.id, marketId })
      await finishJob(server, jobId)
      const [strengths] = await callServer(server, getStrengths, { siteId: site.id })
      if (!strengths!.report) throw new Error('nothing was learnt')
      const after = await difficulties()
      const moved = [...before].map(([id, was]) => Math.abs(after.get(id)! - was))
      // Only now come the keywords that it is judged by.
      await importPhrases(server, site.id, marketId, held, true)
      const isHeld = new Set(held)
      const ids = (await keywordRows(server, site.id, marketId))
        .filter(row => isHeld.has(String(row.phrase)))
        .map(row => row.id)
      const weighing = await callServer(server, startWeighing, { siteId: site.id, marketId, keywordIds: ids })
      await finishJob(server, weighing.jobId!)
      const rows = (await keywordRows(server, site.id, marketId)).filter(
        row => isHeld.has(String(row.phrase)) && row.difficulty !== null,
      )
      const hurdles = await ask<Array<{ hurdle: number | null }>>(
        '/hurdles',
        rows.map(row => row.phrase),
      )
      const truths = hurdles.map(each => each.hurdle ?? Number.NaN)
      const orders = new Map(
        (
          await ask<Order[]>(
            '/orders',
            rows.map(row => row.phrase),
          )
        ).map(order => [order.phrase, order.pages]),
      )
      const means: number[] = []
      const ours: number[][] = []
      const oracle: number[][] = []
      const standings: number[][] = []
      for (const row of rows) {
        const page = (await callServer(server, getFirstPage, { siteId: site.id, keywordId: row.id, marketId }))!
        const known = page.results.map(result => result.siteLevel).filter(value => value !== null)
        means.push(known.reduce((sum, value) => sum + value, 0) / Math.max(1, known.length))
        const scoreOf = new Map(orders.get(String(row.phrase))!.map(each => [each.url, each.score]))
        const results = page.results.filter(result => scoreOf.get(result.url) != null)
        ours.push(results.map(result => result.strength))
        standings.push(results.map(result => result.siteLevel ?? 0))
        oracle.push(results.map(result => scoreOf.get(result.url)!))
      }
      // Difficulty is the share of the market's sites that stand below the hurdle: those seen to place 60, by their true weight.
      const authorities = new Map(
        (await ask<Array<{ domain: string; authority: number }>>('/sites')).map(each => [each.domain, each.authority]),
      )
      const seen = new Set(
        (await ask<Order[]>('/orders', training)).flatMap(order =>
          order.pages.map(page => registrableDomain(page.url)),
        ),
      )
      const weights = [...seen].flatMap(domain => authorities.get(domain) ?? [])
      const shares = truths.map(hurdle => (100 * weights.filter(weight => weight < hurdle).length) / weights.length)
      // Pages that stand are put beside their own result page, as a user puts theirs: one a keyword, from all over the page.
      const misses: number[] = []
      for (const [i, row] of rows.slice(0, putBeside).entries()) {
        const key = { siteId: site.id, keywordId: row.id, marketId }
        const page = (await callServer(server, getFirstPage, key))!
        const { url, position } = page.results.find(result => result.own) ?? page.results[i % page.results.length]!
        misses.push(Math.abs((await callServer(server, putPageBeside, { ...key, url })).position - position))
      }
      // Of the same keywords as the accuracy that is learnt: other ones would add their own luck.
      const learntOrders = await ask<Order[]>('/orders', training)
      const deepOracle = learntOrders.map(order => order.pages.flatMap(page => page.score ?? []))
      const estimates = rows.map(row => row.difficulty as number)
      // Difficulty stops at 0 and 100; ties there cost rank correlation just as they cost the user.
      return [
        {
          name: 'pairs.accuracy',
          value: strengths!.report.pairAccuracy,
          unit: `of pairs 60 deep, by what was learnt from other keywords; site standing alone ${strengths!.report.standingAccuracy.toFixed(3)}`,
          better: 'higher',
          reference: { what: 'pairs.oracle, the rule without noise', value: share(deepOracle) },
        },
        {
          name: 'pairs.first_page',
          value: share(ours),
          unit: `of pairs of first pages; site standing alone ${share(standings).toFixed(3)}`,
          better: 'higher',
          reference: { what: 'pairs.oracle, the rule without noise', value: share(oracle) },
        },
        {
          name: 'difficulty.error',
          value: median(estimates.map((estimate, i) => Math.abs(estimate - shares[i]!))),
          unit: `points between difficulty and the true share of ${weights.length} sites below the hurdle, median (≤ 10)`,
          better: 'lower',
          reference: { what: '50 for every keyword', value: median(shares.map(share => Math.abs(share - 50))) },
        },
        {
          name: 'difficulty.spread',
          value:
            (quantile(estimates, 0.9) - quantile(estimates, 0.1)) / (quantile(shares, 0.9) - quantile(shares, 0.1)),
          unit: `90th less 10th percentile, ${quantile(estimates, 0.1).toFixed(0)} to ${quantile(estimates, 0.9).toFixed(0)}, by the truth's, ${quantile(shares, 0.1).toFixed(0)} to ${quantile(shares, 0.9).toFixed(0)} (0.8 to 1.2)`,
          better: 'higher',
        },
        {
          name: 'difficulty.jump',
          value: quantile(moved, 0.9),
          unit: `points by which learning moved ${moved.length} keywords, 90th percentile; median ${median(moved).toFixed(1)} (≤ 15)`,
          better: 'lower',
        },
        {
          name: 'beside.position_error',
          value: median(misses),
          unit: `places between where a page is expected and where it stands, of ${misses.length} put beside their own result page (≤ 3)`,
          better: 'lower',
        },
        {
          name: 'chance.reliability',
          value: strengths!.report.calibrationError,
          unit: 'mean error of the first-page chance of ranking pages kept out of the fit',
          better: 'lower',
        },
        {
          name: 'difficulty.spearman',
          value: spearman(estimates, truths),
          unit: 'rank correlation with the true hurdle, on keywords that came after the fit',
          better: 'higher',
          reference: { what: 'mean site standing alone', value: spearman(means, truths) },
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
