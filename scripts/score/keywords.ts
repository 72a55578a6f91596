import { saveBrands } from '@dew-trail/contract/brands'
import { askFigures } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { loadLog } from '@dew-trail/contract/log'
import { createSite } from '@dew-trail/contract/sites'
import { demandPattern } from '@dew-trail/core/demand/demand-pattern'
import { groupFamilies } from '@dew-trail/core/words/families'
import { callServer, finishJob, importPhrases, keywordRows } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

type Meaning = {
  phrase: string
  known: true
  need: number
  family: string
  intent: number[]
  monthly_growth: number
  season_depth: number
  peak_month: number | null
  shock_month: string | null
  monthly: Array<{ month: string; searches: number }>
}
type Row = Awaited<ReturnType<typeof keywordRows>>[number]
const intents = ['learn', 'compare', 'buy', 'go', 'near']
const share = (list: boolean[]): number => list.filter(Boolean).length / list.length

/** What the program says of keywords against what the stand-in knows: all English keywords of the world, figures asked, log loaded. */
export const keywordsScore = (seed: number): Entry => ({
  name: 'keywords',
  gives: [
    'family_precision',
    'family_recall',
    'demand_in_range',
    'hidden_precision',
    'hidden_recall',
    'intent_accuracy',
    'trend_accuracy',
    'season_accuracy',
    'trend_false',
    'season_false',
  ].map(name => `keywords.${name}`),
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      await callServer(server, saveBrands, {
        siteId: site.id,
        brands: ['clay harbour', 'the wheelhouse', 'glazeworks', 'pottery parcel', 'mud and fire'].map(word => ({
          owner: word,
          own: false,
          words: [word],
        })),
      })
      const phrases = (await (await fetch(`${truth}/keywords?language=en`)).json()) as string[]
      await importPhrases(server, site.id, marketId, phrases)
      const ids = (await keywordRows(server, site.id, marketId)).map(row => row.id)
      await finishJob(
        server,
        (await callServer(server, askFigures, { siteId: site.id, marketId, keywordIds: ids })).jobId,
      )
      const property = 'domain:kilnandtide.example'
      await finishJob(
        server,
        (await callServer(server, loadLog, { siteId: site.id, marketId, property, weeks: 8 })).jobId,
      )
      for (const job of await callServer(server, listJobs, { siteId: site.id })) await finishJob(server, job.id)

      const rows = (await keywordRows(server, site.id, marketId)).filter(row => phrases.includes(String(row.phrase)))
      const answer = await fetch(`${truth}/meanings`, {
        method: 'POST',
        body: JSON.stringify(rows.map(row => row.phrase)),
      })
      const meanings = (await answer.json()) as Meaning[]
      const both = rows.map((row, i) => ({ row, truth: meanings[i]! }))
      const families = familyScore(both)
      const hidden = hiddenScore(both)
      const measures: Array<[string, number, string]> = [
        ['family_precision', families.precision, 'share of pairs put together that mean the same'],
        ['family_recall', families.recall, 'share of close variants put together'],
        ['demand_in_range', inRange(both), 'share of families whose true searches lie in the stated range'],
        ['hidden_precision', hidden.precision, 'share of flagged keywords with 10 true searches a month or more'],
        ['hidden_recall', hidden.recall, 'share of searched keywords seen in the log without figures that are flagged'],
        [
          'intent_accuracy',
          share(
            both.map(({ row, truth: each }) => row.intent === intents[each.intent.indexOf(Math.max(...each.intent))]),
          ),
          'share with the true leading intent',
        ],
        ['trend_accuracy', trendAccuracy(both), 'share rightly called rising, falling or steady'],
        ['season_accuracy', seasonAccuracy(both), 'share rightly called seasonal, with a true peak month, or not'],
      ]
      const falseAlarms = onNoise(seed)
      return [
        ...measures.map(([name, value, unit]) => ({
          name: `keywords.${name}`,
          value,
          unit,
          better: 'higher' as const,
        })),
        {
          name: 'keywords.trend_false',
          value: falseAlarms.trend,
          unit: 'share of pure noise called rising or falling, the most of 14, 24, 36 and 48 months',
          better: 'lower' as const,
        },
        {
          name: 'keywords.season_false',
          value: falseAlarms.season,
          unit: 'share of pure noise called seasonal, the most of 24, 36 and 48 months',
          better: 'lower' as const,
        },
      ]
    } finally {
      await stack.close()
    }
  },
})

const [noiseSeries, noiseMonths] = [3_000, [14, 24, 36, 48]]
/** What is found in months without trend and season, which is none: log-normal noise of the size that months of one keyword have. */
function onNoise(seed: number): { trend: number; season: number } {
  let state = 1 + (seed % 2_147_483_646)
  const next = (): number => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
  const normal = (): number => Math.sqrt(-2 * Math.log(next())) * Math.cos(2 * Math.PI * next())
  const shares = noiseMonths.map(months => {
    let [trends, seasons] = [0, 0]
    for (let i = 0; i < noiseSeries; i++) {
      const of = Array.from({ length: months }, () => Math.round(2_000 * Math.exp(0.2 * normal())))
      const { trend, peaks } = demandPattern(of, 1 + (i % 12))
      if (trend !== 'steady') trends++
      if (peaks.length) seasons++
    }
    return { trend: trends / noiseSeries, season: seasons / noiseSeries }
  })
  return { trend: Math.max(...shares.map(each => each.trend)), season: Math.max(...shares.map(each => each.season)) }
}

type Both = Array<{ row: Row; truth: Meaning }>

/** Pairs within families: how many mean the same, and how many close variants (the source's own families) stand together. */
function familyScore(both: Both): { precision: number; recall: number } {
  const pairs = (key: (each: Both[number]) => string): Array<[Both[number], Both[number]]> => {
    const groups = new Map<string, Both>()
    for (const each of both) groups.set(key(each), [...(groups.get(key(each)) ?? []), each])
    return [...groups.values()].flatMap(group =>
      group.flatMap((a, i) => group.slice(i + 1).map((b): [Both[number], Both[number]] => [a, b])),
    )
  }
  const together = pairs(each => String(each.row.family))
  const variants = pairs(each => each.truth.family).filter(([a, b]) => a.truth.need === b.truth.need)
  return {
    precision: share(together.map(([a, b]) => a.truth.need === b.truth.need)),
    recall: share(variants.map(([a, b]) => a.row.family === b.row.family)),
  }
}

const lastYear = (meaning: Meaning): number =>
  meaning.monthly.slice(-12).reduce((sum, month) => sum + month.searches, 0) / 12

/** True searches of a family against the range of its figure; a figure that the source has withheld (all zero) is no statement. */
function inRange(both: Both): number {
  const families = groupFamilies(
    both.map(({ row }) => ({
      id: row.id,
      family: String(row.figures),
      searches: row.searches as number | null,
      months: row.months as number[] | null,
    })),
  )
  const byId = new Map(both.map(each => [each.row.id, each]))
  const checks: boolean[] = []
  for (const family of families.values()) {
    const members = family.members.map(id => byId.get(id)!)
    const { row } = byId.get(family.face)!
    if (!row.searches || (members.length > 1 && !family.oneFigure)) continue
    const searches = members.reduce((sum, each) => sum + lastYear(each.truth), 0)
    checks.push(searches >= Number(row.searchesLow) && searches <= Number(row.searchesHigh))
  }
  return share(checks)
}

function hiddenScore(both: Both): { precision: number; recall: number } {
  const searched = (each: Both[number]): boolean => lastYear(each.truth) >= 10
  const flagged = both.filter(({ row }) => row.hidden)
  const findable = both.filter(each => each.row.logImpressions !== null && !each.row.searches && searched(each))
  return { precision: share(flagged.map(searched)), recall: share(findable.map(({ row }) => row.hidden === true)) }
}

/** A true trend moves demand by a tenth a year or more; between none and that neither answer is wrong, so those do not count. */
function trendAccuracy(both: Both): number {
  const clear = both.filter(
    ({ row, truth }) =>
      row.trend !== null &&
      truth.shock_month === null &&
      (truth.monthly_growth === 0 || Math.abs(Math.expm1(truth.monthly_growth * 12)) >= 0.1),
  )
  return share(
    clear.map(
      ({ row, truth }) =>
        row.trend === (truth.monthly_growth === 0 ? 'steady' : truth.monthly_growth > 0 ? 'rising' : 'falling'),
    ),
  )
}

/** Seasonal with a peak within a month of the true one, or rightly without a season. Seasons between weak and clear do not count. */
function seasonAccuracy(both: Both): number {
  const gap = (a: number, b: number): number => Math.min((a - b + 12) % 12, (b - a + 12) % 12)
  const clear = both.filter(
    ({ row, truth }) =>
      row.season !== null && row.searches !== 0 && (truth.season_depth >= 0.25 || truth.season_depth <= 0.08),
  )
  return share(
    clear.map(({ row, truth }) => {
      const peaks = String(row.peaks ?? '')
        .split('|')
        .filter(Boolean)
        .map(Number)
      return truth.season_depth <= 0.08 ? !peaks.length : peaks.some(peak => gap(peak, truth.peak_month!) <= 1)
    }),
  )
}
