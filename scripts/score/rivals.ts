import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listRivals, loadRankings, readRivalProfiles, type RivalProfile } from '@dew-trail/contract/rivals'
import { createSite } from '@dew-trail/contract/sites'
import { startSweep } from '@dew-trail/contract/sweeps'
import { startWeighing } from '@dew-trail/contract/weigh'
import { callServer, finishJob, keywordRows } from '../lib/client.ts'
import { type Entry, median, spearman } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const seeds = ['kiln', 'pottery wheel', 'glaze', 'air dry clay', 'pottery class', 'clay tools']
const [kept, leastVisits, viewpoints, found, atOnce] = [400, 100, 5, 10, 10]

type Sum = { domain: string; visits: number }
type Truth = { sites: Sum[]; shared: Array<{ domain: string; with: Sum[] }> }

/** Visits of sites, and who a site's rivals are, against the truth: with the rankings feed, and beside it without. */
export const rivalsScore = (seed: number): Entry => ({
  name: 'rivals.visits_error',
  gives: ['rivals.visits_error', 'rivals.visits_spearman', 'rivals.found_precision', 'rivals.found_recall'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
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
      await finishJob(server, (await callServer(server, startWeighing, { ...at, keywordIds })).jobId!)

      await finishJob(server, (await callServer(server, startSweep, { ...at, part: 'full' })).jobId)

      const ask = async (domains: string[]): Promise<Truth> =>
        (await (await fetch(`${truth}/visits`, { method: 'POST', body: JSON.stringify(domains) })).json()) as Truth
      const all = (await ask([])).sites.filter(each => each.visits >= leastVisits)
      const seen = [site.domain, ...all.map(each => each.domain).filter(domain => domain !== site.domain)].slice(
        0,
        viewpoints,
      )
      const { shared } = await ask(seen)

      const estimate = async (): Promise<Map<string, RivalProfile>> => {
        const profiles = new Map<string, RivalProfile>()
        for (let from = 0; from < all.length; from += atOnce) {
          const targets = all.slice(from, from + atOnce).map(each => each.domain)
          for (const profile of (await callServer(server, readRivalProfiles, { ...at, targets })).profiles)
            profiles.set(profile.domain, profile)
        }
        return profiles
      }
      const visitsOf = (profiles: ReadonlyMap<string, RivalProfile>): number[] =>
        all.map(each => profiles.get(each.domain)?.visits ?? 0)
      const errorOf = (visits: readonly number[]): number =>
        median(all.map((each, i) => Math.abs(visits[i]! - each.visits) / each.visits))
      const without = visitsOf(await estimate())
      for (let from = 0; from < all.length; from += atOnce) {
        const targets = all.slice(from, from + atOnce).map(each => each.domain)
        await finishJob(server, (await callServer(server, loadRankings, { ...at, targets, months: 0 })).jobId)
      }
      const withFeed = visitsOf(await estimate())

      let [right, rightReference, named, wanted] = [0, 0, 0, 0]
      for (const viewpoint of shared) {
        const true10 = new Set(viewpoint.with.slice(0, found).map(each => each.domain))
        const { rivals } = await callServer(server, listRivals, {
          ...at,
          ...(viewpoint.domain === site.domain ? {} : { of: viewpoint.domain }),
        })
        const proposed = rivals.slice(0, found).map(each => each.domain)
        const frequent = rivals.toSorted((a, b) => b.keywords - a.keywords).slice(0, found)
        named += proposed.length
        wanted += true10.size
        right += proposed.filter(domain => true10.has(domain)).length
        rightReference += frequent.filter(each => true10.has(each.domain)).length
      }
      const truths = all.map(each => each.visits)
      return [
        {
          name: 'rivals.visits_error',
          value: errorOf(withFeed),
          unit: `median relative error over ${all.length} sites with at least ${leastVisits} visits a month`,
          better: 'lower',
          reference: { what: 'without the feed', value: errorOf(without) },
        },
        {
          name: 'rivals.visits_spearman',
          value: spearman(withFeed, truths),
          unit: 'rank correlation with true visits',
          better: 'higher',
          reference: { what: 'without the feed', value: spearman(without, truths) },
        },
        {
          name: 'rivals.found_precision',
          value: right / named,
          unit: `of the first ${found} proposed for each of ${shared.length} sites`,
          better: 'higher',
          reference: { what: 'most frequent domains', value: rightReference / named },
        },
        {
          name: 'rivals.found_recall',
          value: right / wanted,
          unit: `of the ${found} sites that share most true visits with each`,
          better: 'higher',
          reference: { what: 'most frequent domains', value: rightReference / wanted },
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
