import { startCrawl } from '@dew-trail/contract/crawl'
import { loadFeeds, rankLinks, readStandings } from '@dew-trail/contract/links'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, finishJob } from '../lib/client.ts'
import { rivals } from '../lib/demo.mjs'
import { type Entry, spearman } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

/** Standing of sites against the true authority: links are found from the own site and its rivals outwards, twice, as a user would load them. */
export const linksScore = (seed: number): Entry => ({
  name: 'links.standing_spearman',
  gives: ['links.standing_spearman', 'links.network_precision', 'links.network_recall'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const { crawls } = await callServer(server, startCrawl, {
        siteId: site.id,
        domains: [site.domain, ...rivals],
        mostPages: 400,
      })
      for (const { jobId } of crawls) await finishJob(server, jobId)
      let domains = [site.domain, ...rivals]
      for (let round = 0; round < 3; round++) {
        const { jobId } = await callServer(server, loadFeeds, { siteId: site.id, domains })
        await finishJob(server, jobId!)
        const rank = await callServer(server, rankLinks, { siteId: site.id })
        await finishJob(server, rank.jobId)
        domains = (await callServer(server, readStandings, { siteId: site.id })).map(each => each.domain)
      }
      const standings = new Map(
        (await callServer(server, readStandings, { siteId: site.id })).map(each => [each.domain, each]),
      )
      const sites = (await (await fetch(`${truth}/sites`)).json()) as Array<{
        domain: string
        kind: string
        network: boolean
        authority: number
        linking_sites: number
      }>
      const suspected = [...standings.values()].filter(each => each.network !== null).map(each => each.domain)
      const members = new Set(sites.filter(each => each.network).map(each => each.domain))
      const rightly = suspected.filter(domain => members.has(domain)).length
      const known = sites.filter(each => standings.has(each.domain) && each.kind !== 'parked')
      const truths = known.map(each => each.authority)
      return [
        {
          name: 'links.standing_spearman',
          value: spearman(
            known.map(each => standings.get(each.domain)!.standing),
            truths,
          ),
          unit: `rank correlation with the true authority over ${known.length} sites`,
          better: 'higher',
          reference: {
            what: 'number of linking sites alone',
            value: spearman(
              known.map(each => standings.get(each.domain)!.linkingSites),
              truths,
            ),
          },
        },
        {
          name: 'links.network_precision',
          // Nobody suspected is nobody wronged.
          value: suspected.length ? rightly / suspected.length : 1,
          unit: `of ${suspected.length} suspected sites`,
          better: 'higher',
        },
        {
          name: 'links.network_recall',
          value: rightly / members.size,
          unit: `of ${members.size} sites of the network`,
          better: 'higher',
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
