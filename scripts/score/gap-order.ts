import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listOverlap, listRivals, type OverlapKeyword } from '@dew-trail/contract/rivals'
import { createSite } from '@dew-trail/contract/sites'
import { learnStrengths, startWeighing } from '@dew-trail/contract/weigh'
import { callServer, finishJob, keywordRows } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { trueVisits, truthOf } from './publishing.ts'

const domain = 'kilnandtide.example'
const seeds = ['kiln', 'pottery wheel', 'glaze', 'air dry clay', 'pottery class', 'clay tools', 'ceramic mug', 'raku']
const [weighed, pool, proposed, rivals] = [900, 300, 50, 4]

/**
 * Whether the order of a gap is the order of what is in it: for 300 keywords where rivals are on the first page and the own site is not, a
 * new page each is published in the stand-in and its true visits 90 days on are multiplied with what a click costs.
 */
export const gapOrderScore = (seed: number): Entry => ({
  name: 'rivals.gap_order',
  gives: ['rivals.gap_order'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server } = stack
      const ask = truthOf(stack.truth)
      const site = await callServer(server, createSite, { domain, name: 'Kiln & Tide' })
      const at = { siteId: site.id, marketId: site.markets[0]!.id }
      for (const { jobId } of (await callServer(server, startGathering, { ...at, seeds, mostIdeas: 600 })).jobs)
        await finishJob(server, jobId)
      const keywordIds = (await keywordRows(server, at.siteId, at.marketId))
        .filter(row => typeof row.searches === 'number')
        .sort((a, b) => Number(b.searches) - Number(a.searches))
        .slice(0, weighed)
        .map(row => row.id)
      await callServer(server, keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
      await finishJob(server, (await callServer(server, startWeighing, { ...at, keywordIds })).jobId!)
      await finishJob(server, (await callServer(server, learnStrengths, at)).jobId)
      const found = (await callServer(server, listRivals, at)).rivals.slice(0, rivals).map(rival => rival.domain)
      const { rows } = await callServer(server, listOverlap, { ...at, targets: [domain, ...found], masks: null })
      const gap = rows.filter(row => row.worth !== null).slice(0, pool)
      const visits = await trueVisits(
        ask,
        domain,
        gap.map(row => row.phrase),
      )
      const worth = new Map(gap.map(row => [row.id, visits.get(row.phrase)! * row.cpc!]))
      const sum = (ids: readonly number[]): number => ids.reduce((all, id) => all + worth.get(id)!, 0)
      const first = (order: readonly OverlapKeyword[]): number => sum(order.slice(0, proposed).map(row => row.id))
      const best = sum(
        [...worth]
          .sort(([, a], [, b]) => b - a)
          .map(([id]) => id)
          .slice(0, proposed),
      )
      return [
        {
          name: 'rivals.gap_order',
          value: first(gap) / best,
          unit: `of what the best ${proposed} of ${gap.length} pages bring, the first ${proposed} proposed bring so much`,
          better: 'higher',
          reference: { what: 'by searches', value: first(gap.toSorted((a, b) => b.searches! - a.searches!)) / best },
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
