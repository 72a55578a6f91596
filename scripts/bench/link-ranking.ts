import { join } from 'node:path'
import { listSiteRanking } from '@dew-trail/contract/link-lists'
import { createSite } from '@dew-trail/contract/sites'
import { callServer } from '../lib/client.ts'
import { run } from '../lib/install.mjs'
import { type Entry, few } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const ranked = 1_000_000

/** The ranking of a million known sites: its beginning, and a search in it. */
export const linkRankingBench: Entry = {
  name: 'links.ranking.1m',
  gives: ['links.ranking.1m', 'links.ranking.1m.search'],
  async run() {
    const stack = await startStack({ size: 0.1 })
    try {
      const site = await callServer(stack.server, createSite, { domain: 'site-77.example', name: 'Seventy-seven' })
      run(join(stack.postgres.binDir, 'psql'), [
        '-qAt',
        '-d',
        stack.databaseUrl,
        '-c',
        `insert into linked_site (graph_id, id, domain) select 1, i, 'site-' || i || '.example'
          from generate_series(1, ${ranked}) i`,
        '-c',
        `insert into graph_snapshot (graph_id, pages, sites, links, site_edges, page_floor, page_reference,
          site_floor, site_reference, vetted, read_ms, rank_ms, topics)
         values (1, 0, ${ranked}, 0, 0, 0.15, 1000, 0.15, 1000, 0, 0, 0,
         '[{"words": ["clay", "glaze"], "sites": 9}]')`,
        '-c',
        `insert into site_standing (graph_id, snapshot_id, site_id, rank, standing, position, cluster, linking_sites,
          links_to_sites, topic_shares)
         select 1, (select max(id) from graph_snapshot), i, 1.0 / i, 100.0 * (1 - i::real / ${ranked}), i, i % 9,
           i % 500, i % 70, '{0.7}' from generate_series(1, ${ranked}) i`,
        '-c',
        'vacuum analyze',
      ])
      const ask = (contains: string) => () => callServer(stack.server, listSiteRanking, { siteId: site.id, contains })
      const { total, met } = await ask('')()
      if (total !== ranked || met !== ranked) throw new Error(`only ${met} of ${total} sites are ranked`)
      const first = await few(ask(''))
      const search = await few(ask('te-77'))
      return [
        { name: 'links.ranking.1m', value: first, unit: 'ms over HTTP, the first 5,000 of a million', better: 'lower' },
        {
          name: 'links.ranking.1m.search',
          value: search,
          unit: 'ms, those with letters in their domain',
          better: 'lower',
        },
      ]
    } finally {
      await stack.close()
    }
  },
}
