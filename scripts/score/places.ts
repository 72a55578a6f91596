import { loadFeeds, rankLinks } from '@dew-trail/contract/links'
import { createPlaceGrid, listDoubtfulListings, listTowns, readTown } from '@dew-trail/contract/places'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, finishJob } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { truthOf } from './publishing.ts'

const seeds = 3
type TrueBusiness = { id: number; doubt?: string; alike?: string }

/** Listings that are flagged in all towns against those that are false, pooled over three worlds. */
export const placesScore = (seed: number): Entry => ({
  name: 'places.spam_precision',
  gives: ['places.spam_precision', 'places.spam_recall'],
  async run() {
    const sum = { right: 0, flagged: 0, wanted: 0, alike: 0, alikeFlagged: 0 }
    for (let i = 0; i < seeds; i++) await judgeWorld(seed + i, sum)
    const { right, flagged, wanted, alike, alikeFlagged } = sum
    return [
      {
        name: 'places.spam_precision',
        value: right / flagged,
        unit: `of ${flagged} flagged; ${alikeFlagged} of ${alike} innocent look-alikes are among them`,
        better: 'higher',
      },
      { name: 'places.spam_recall', value: right / wanted, unit: `of ${wanted} false listings`, better: 'higher' },
    ]
  },
})

async function judgeWorld(
  seed: number,
  sum: { right: number; flagged: number; wanted: number; alike: number; alikeFlagged: number },
): Promise<void> {
  const stack = await startStack({ seed })
  try {
    const { server } = stack
    const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
    const siteId = site.id
    // What the program knows of sites when links were loaded once, as on any site that is worked on.
    const feeds = await callServer(server, loadFeeds, { siteId, domains: [site.domain, 'clayharbour.example'] })
    await finishJob(server, feeds.jobId!)
    await finishJob(server, (await callServer(server, rankLinks, { siteId })).jobId)
    for (const town of await callServer(server, listTowns, { siteId })) {
      const { businesses } = await callServer(server, readTown, { siteId, town: town.code })
      await callServer(server, createPlaceGrid, {
        siteId,
        town: town.code,
        engine: 'lantern',
        language: town.language,
        keywords: town.language === 'de' ? ['töpferkurs', 'keramik workshop'] : ['pottery class', 'pottery workshop'],
        businesses: [businesses[0]!.id],
        ...{ latitude: town.latitude, longitude: town.longitude },
        size: 3,
        spacing: 500,
      })
      const { rows } = await callServer(server, listDoubtfulListings, { siteId, town: town.code })
      const flagged = new Set(rows.map(row => row.id))
      const truth = await truthOf(stack.truth)<TrueBusiness[]>(`/businesses?town=${town.code}`)
      // Those that the source does not list yet cannot be found.
      const listed = new Set(businesses.map(each => each.id))
      for (const each of truth.filter(({ id }) => listed.has(`b${id}`))) {
        const isFlagged = flagged.has(`b${each.id}`)
        if (isFlagged) sum.flagged++
        if (each.doubt) sum.wanted++
        if (each.alike) sum.alike++
        if (each.alike && isFlagged) sum.alikeFlagged++
        if (each.doubt && isFlagged) sum.right++
      }
    }
  } finally {
    await stack.close()
  }
}
