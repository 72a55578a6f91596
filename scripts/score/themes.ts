import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import {
  createGrouping,
  type GroupedKeyword,
  listCompeting,
  listGroupedKeywords,
  readGrouping,
} from '@dew-trail/contract/group'
import { createSite } from '@dew-trail/contract/sites'
import { startSweep } from '@dew-trail/contract/sweeps'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { adjustedRand } from '@dew-trail/core/themes/rand-index'
import { familyKey } from '@dew-trail/core/words/family-key'
import { callServer, finishJob, keywordRows } from '../lib/client.ts'
import type { Entry, Measure } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const seeds = ['kiln', 'pottery wheel', 'glaze', 'air dry clay', 'pottery class', 'clay tools']
const [kept, deepest] = [600, 30]

type Meaning = { phrase: string; known: boolean; need?: number }

/** Themes against what keywords truly mean, and own pages that compete against the rule of the engine without its noise. */
export const themesScore = (seed: number): Entry => ({
  name: 'themes.pair_precision',
  gives: [
    'themes.pair_precision',
    'themes.pair_recall',
    'themes.rand',
    'themes.compete_precision',
    'themes.compete_recall',
  ],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const post = async <T>(path: string, body: unknown): Promise<T> =>
        (await (await fetch(`${truth}${path}`, { method: 'POST', body: JSON.stringify(body) })).json()) as T
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const at = { siteId: site.id, marketId: site.markets[0]!.id }
      for (const { jobId } of (await callServer(server, startGathering, { ...at, seeds, mostIdeas: 400 })).jobs)
        await finishJob(server, jobId)
      const keywordIds = (await keywordRows(server, at.siteId, at.marketId))
        .filter(row => typeof row.searches === 'number')
        .sort((a, b) => Number(b.searches) - Number(a.searches))
        .slice(0, kept)
        .map(row => row.id)
      await callServer(server, keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
      await finishJob(server, (await callServer(server, startSweep, { ...at, part: 'full' })).jobId)
      const made = await callServer(server, createGrouping, { ...at, from: { kind: 'kept' } })
      await finishJob(server, made.jobId)
      const one = { siteId: at.siteId, groupingId: made.groupingId }
      const { rows } = await callServer(server, listGroupedKeywords, one)
      const meanings = new Map(
        (
          await post<Meaning[]>(
            '/meanings',
            rows.map(row => row.phrase),
          )
        ).map(each => [each.phrase, each]),
      )
      const known = rows.filter(row => meanings.get(row.phrase)?.known)
      const needOf = (row: GroupedKeyword): number => meanings.get(row.phrase)!.need!
      const truths = numbered(known.map(row => String(needOf(row))))
      const ours = Int32Array.from(known, row => row.themeId ?? -1)
      const stems = numbered(known.map(row => familyKey(row.phrase, 'en')))
      const [found, reference] = [pairScore(ours, truths), pairScore(stems, truths)]
      const { grouping } = await callServer(server, readGrouping, one)
      const unit = (what: string): string => `${what}, ${known.length} keywords, threshold ${grouping.threshold}`

      const truePairs = await competingTruth(
        post,
        site.domain,
        known.map(row => ({ phrase: row.phrase, need: needOf(row) })),
      )
      const { rows: competing } = await callServer(server, listCompeting, one)
      const foundPairs = new Set(competing.map(row => pairOf(row.keep, row.give)))
      const right = [...foundPairs].filter(pair => truePairs.has(pair)).length

      return [
        {
          name: 'themes.pair_precision',
          value: found.precision,
          unit: unit('share of pairs in one theme that mean the same'),
          better: 'higher',
          reference: { what: 'equal word stems', value: reference.precision },
        },
        {
          name: 'themes.pair_recall',
          value: found.recall,
          unit: unit('share of pairs that mean the same in one theme'),
          better: 'higher',
          reference: { what: 'equal word stems', value: reference.recall },
        },
        {
          name: 'themes.rand',
          value: adjustedRand(ours, truths),
          unit: unit('adjusted Rand index against true meanings'),
          better: 'higher',
          reference: { what: 'equal word stems', value: adjustedRand(stems, truths) },
        },
        {
          name: 'themes.compete_precision',
          value: foundPairs.size ? right / foundPairs.size : 1,
          unit: `of ${foundPairs.size} pairs of own pages told`,
          better: 'higher',
        },
        {
          name: 'themes.compete_recall',
          value: truePairs.size ? right / truePairs.size : 1,
          unit: `of ${truePairs.size} pairs that truly stand within ${deepest} for one meaning`,
          better: 'higher',
        },
      ] satisfies Measure[]
    } finally {
      await stack.close()
    }
  },
})

type Order = { phrase: string; pages: Array<{ url: string; score: number }> }
const pairOf = (a: string, b: string): string => [a, b].sort().join(' ')

/** Pairs of own pages that both stand within thirty for keywords of one meaning of two keywords or more, by the rule without its noise. */
async function competingTruth(
  post: <T>(path: string, body: unknown) => Promise<T>,
  domain: string,
  keywords: ReadonlyArray<{ phrase: string; need: number }>,
): Promise<Set<string>> {
  const byNeed = new Map<number, string[]>()
  for (const { phrase, need } of keywords) byNeed.set(need, [...(byNeed.get(need) ?? []), phrase])
  const orders = new Map(
    (
      await post<Order[]>(
        '/orders',
        keywords.map(each => each.phrase),
      )
    ).map(each => [each.phrase, each.pages]),
  )
  const pairs = new Set<string>()
  for (const phrases of byNeed.values()) {
    if (phrases.length < 2) continue
    const own = new Set(
      phrases.flatMap(phrase =>
        orders
          .get(phrase)!
          .toSorted((a, b) => b.score - a.score)
          .slice(0, deepest)
          .filter(page => registrableDomain(page.url) === domain)
          .map(page => page.url),
      ),
    )
    for (const a of own) for (const b of own) if (a < b) pairs.add(pairOf(a, b))
  }
  return pairs
}

/** Equal texts as equal numbers. */
function numbered(texts: readonly string[]): Int32Array {
  const numbers = new Map<string, number>()
  return Int32Array.from(texts, text => {
    let number = numbers.get(text)
    if (number === undefined) numbers.set(text, (number = numbers.size))
    return number
  })
}

/** Of pairs in one group of `ours` (−1 = alone) those that are in one of `truth`, and the other way round. */
function pairScore(ours: Int32Array, truth: Int32Array): { precision: number; recall: number } {
  let [both, found, wanted] = [0, 0, 0]
  for (let i = 0; i < ours.length; i++)
    for (let j = 0; j < i; j++) {
      const [same, means] = [ours[i] === ours[j] && ours[i]! >= 0, truth[i] === truth[j]]
      if (same) found++
      if (means) wanted++
      if (same && means) both++
    }
  return { precision: found ? both / found : 1, recall: wanted ? both / wanted : 1 }
}
