import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { addressWords } from '@dew-trail/core/links/page-address'
import { findNetworks } from '@dew-trail/core/links/site-networks'
import { siteClusters } from '@dew-trail/core/links/site-clusters'
import { findTopics, topicShares } from '@dew-trail/core/links/site-topics'
import { floorOf, positionsOf, standingOf } from '@dew-trail/core/links/standing'
import { siteEdgeWeight, trustAndDoubt, type WeightedGraph, weightedRank } from '@dew-trail/core/links/weighted-rank'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { pageRanks, type RankSpace } from './page-ranks.ts'
import { denseIndex, readInts } from './read-edges.ts'

export type RankSettings = { graphId: number; pageReference: number; siteReference: number; space: RankSpace }
export type RankReport = {
  snapshotId: number
  pages: number
  sites: number
  links: number
  siteEdges: number
  vetted: number
  readMs: number
  rankMs: number
  writtenMs: number
}

const linesAtATime = 50_000
const snapshotsOfPages = 2
/** From what topics are told: the sites linked by most, so many pages of each, so many characters of a page's title and description. */
const sitesWithTopics = 3_000
const pagesOfSite = 40
const longestText = 300

/**
 * Computes standing of all pages and sites of a graph, trust, doubt and clusters of its sites, and writes them as a new snapshot. Runs on
 * a connection of its own, in a thread of its own.
 */
export async function rankGraph(client: pg.Client, settings: RankSettings): Promise<RankReport> {
  const { graphId, pageReference, siteReference } = settings
  const graph = Number(graphId)
  const began = performance.now()
  const [targetSites, sourceSites, linkingPages] = (await readInts(
    client,
    `select target_site_id, source_site_id, pages from linking_site where graph_id = ${graph} and follow > 0`,
    3,
  )) as [Int32Array, Int32Array, Int32Array]
  const vettedIds = (
    await client.query<{ id: number }>(
      `select s.id from vetted_site v join linked_site s on s.graph_id = v.graph_id and s.domain = v.domain
        where v.graph_id = $1 and not v.refused`,
      [graphId],
    )
  ).rows.map(row => row.id)
  const addresses = (
    await client.query<{ siteId: number; addresses: string[] }>(
      'select site_id "siteId", array_agg(host(address)) addresses from site_address where graph_id = $1 group by 1',
      [graphId],
    )
  ).rows
  const vettedPages = (
    await client.query<{ pages: number[] }>(
      'select array_agg(id) pages from linked_page where graph_id = $1 and site_id = any($2) group by site_id',
      [graphId, vettedIds],
    )
  ).rows
  const allSites = (await client.query<{ id: number }>('select id from linked_site where graph_id = $1', [graphId]))
    .rows
  const texts = (
    await client.query<{ siteId: number; language: string; pages: Array<{ title: string | null; url: string }> }>(
      `select s.id "siteId", coalesce(mode() within group (order by p.language), 'en') language,
        json_agg(json_build_object('title', p.texts, 'url', p.url)) pages
       from (select s.id from linked_site s left join link_total t on t.graph_id = $1
         and t.target_site_id = s.id where s.graph_id = $1 order by t.linking_sites desc nulls last, s.id limit $2) s
       cross join lateral (select p.url, c.language, left(concat_ws(' ', c.title, c.description), $3) texts
         from linked_page p left join page_content c on c.graph_id = $1 and c.page_id = p.id and c.status = 200
         and c.title is not null
         where p.graph_id = $1 and p.site_id = s.id order by p.url_key limit $4) p group by 1 order by 1`,
      [graphId, sitesWithTopics, longestText, pagesOfSite],
    )
  ).rows
  const otherReadMs = performance.now() - began

  const rankBegan = performance.now()
  const pages = await pageRanks(
    client,
    graph,
    vettedPages.map(row => row.pages),
    settings.space,
  )
  const { rank: pageRanksOf, trust: trustOfPages } = pages
  const readMs = otherReadMs + pages.readMs
  const sites = denseIndex(Int32Array.from(allSites, row => row.id))
  const siteGraph: WeightedGraph = {
    nodes: sites.ids.length,
    from: sourceSites.map(id => sites.index[id]!),
    to: targetSites.map(id => sites.index[id]!),
    weight: Float64Array.from(linkingPages, siteEdgeWeight),
  }
  const siteRanks = weightedRank(siteGraph).rank
  const vetted = vettedIds.map(id => sites.index[id]!)
  const judged = vetted.length ? trustAndDoubt(siteGraph, siteRanks, vetted) : null
  const clusters = siteClusters(siteGraph)
  const linkingSites = new Int32Array(siteGraph.nodes)
  const linksToSites = new Int32Array(siteGraph.nodes)
  for (let i = 0; i < siteGraph.from.length; i++) {
    linkingSites[siteGraph.to[i]!]!++
    linksToSites[siteGraph.from[i]!]!++
  }
  /** Of a site that nobody is known to link to, nothing is known to doubt: its rank is what every site begins with. */
  const doubtOf = (i: number): number | null => (judged && linkingSites[i] ? judged.doubt[i]! : null)
  const linksTo = [...sites.ids].map(() => new Map<number, number>())
  for (let i = 0; i < siteGraph.from.length; i++) linksTo[siteGraph.from[i]!]!.set(siteGraph.to[i]!, linkingPages[i]!)
  const addressesOf = new Map(addresses.map(row => [sites.index[row.siteId], row.addresses]))
  const networks = findNetworks(
    linksTo.map((to, i) => ({ addresses: addressesOf.get(i) ?? [], doubt: doubtOf(i), linksTo: to })),
  )
  const networkOf = new Map(
    networks.flatMap(({ members, reasons }, number) =>
      members.map((i): [number, [number, string[]]] => [i, [number, reasons]]),
    ),
  )
  const topics = findTopics(
    texts.map(({ siteId, language, pages }) => ({
      node: sites.index[siteId]!,
      language,
      texts: pages.map(({ title, url }) => title || lastWords(url)),
    })),
  )
  const shares = topicShares(siteGraph, topics)
  const rankMs = performance.now() - rankBegan - pages.readMs

  const writeBegan = performance.now()
  const pageFloor = pages.ids.length ? floorOf(pageRanksOf) : 0
  const siteFloor = sites.ids.length ? floorOf(siteRanks) : 0
  await client.query('begin')
  try {
    const { rows } = await client.query<{ id: number }>(
      `insert into graph_snapshot (graph_id, pages, sites, links, site_edges, page_floor, page_reference, site_floor,
        site_reference, vetted, read_ms, rank_ms, topics)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) returning id`,
      [
        graphId,
        pages.ids.length,
        sites.ids.length,
        pages.links,
        siteGraph.from.length,
        pageFloor,
        pageReference,
        siteFloor,
        siteReference,
        vetted.length,
        Math.round(readMs),
        Math.round(rankMs),
        JSON.stringify(topics.map(({ words, members }) => ({ words, sites: members.length }))),
      ],
    )
    const snapshotId = Number(rows[0]!.id)
    const scale = (rank: number, nodes: number, floor: number, reference: number): string =>
      standingOf(rank, nodes, floor, Math.max(reference, floor * 1.001)).toFixed(3)
    const standings = Float64Array.from(siteRanks, rank =>
      standingOf(rank, sites.ids.length, siteFloor, Math.max(siteReference, siteFloor * 1.001)),
    )
    const positions = positionsOf(siteRanks)
    const bands = new Int32Array(5 * siteGraph.nodes)
    for (let i = 0; i < siteGraph.from.length; i++)
      bands[5 * siteGraph.to[i]! + Math.min(4, Math.floor(standings[siteGraph.from[i]!]! / 20))]!++
    await copyLines(
      client,
      'site_standing (graph_id, snapshot_id, site_id, rank, standing, position, trust, doubt, cluster, linking_sites, links_to_sites, network, network_reasons, linking_bands, topic_shares)',
      sites.ids.length,
      i => {
        const trust = judged ? scale(judged.trust[i]!, sites.ids.length, siteFloor, siteReference) : '\\N'
        const doubt = doubtOf(i)?.toFixed(4) ?? '\\N'
        const rank = siteRanks[i]!
        const found = networkOf.get(i)
        const network = found
          ? `${found[0]}\t{${found[1].map(reason => JSON.stringify(reason)).join(',')}}`
          : '\\N\t\\N'
        return `${graph}\t${snapshotId}\t${sites.ids[i]}\t${rank}\t${scale(rank, sites.ids.length, siteFloor, siteReference)}\t${positions[i]}\t${trust}\t${doubt}\t${clusters[i]}\t${linkingSites[i]}\t${linksToSites[i]}\t${network}\t{${bands.subarray(5 * i, 5 * i + 5).join(',')}}\t${sharesText(shares.subarray(i * topics.length, (i + 1) * topics.length))}\n`
      },
    )
    await copyLines(
      client,
      'page_standing (graph_id, snapshot_id, page_id, rank, standing, links_out, trust)',
      pages.ids.length,
      i => {
        const scaled = (rank: number): string => scale(rank, pages.ids.length, pageFloor, pageReference)
        const trust = trustOfPages ? scaled(trustOfPages[i]!) : '\\N'
        return `${graph}\t${snapshotId}\t${pages.ids[i]}\t${pageRanksOf[i]!.toPrecision(7)}\t${scaled(pageRanksOf[i]!)}\t${pages.outDegree[i]}\t${trust}\n`
      },
    )
    await client.query(
      `delete from page_standing where graph_id = $1 and snapshot_id not in (select id from graph_snapshot
        where graph_id = $1 order by id desc limit $2)`,
      [graphId, snapshotsOfPages],
    )
    const writtenMs = performance.now() - writeBegan
    await client.query('update graph_snapshot set written_ms = $3 where graph_id = $1 and id = $2', [
      graphId,
      snapshotId,
      Math.round(writtenMs),
    ])
    await client.query('commit')
    return {
      snapshotId,
      pages: pages.ids.length,
      sites: sites.ids.length,
      links: pages.links,
      siteEdges: siteGraph.from.length,
      vetted: vetted.length,
      readMs,
      rankMs,
      writtenMs,
    }
  } catch (error) {
    await client.query('rollback').catch(() => undefined)
    throw error
  }
}

/** Shares of topics as an array of COPY, to four digits. */
const sharesText = (shares: Float64Array): string =>
  !shares.length || Number.isNaN(shares[0]!) ? '\\N' : `{${Array.from(shares, share => share.toFixed(4)).join(',')}}`

/** What the address of a page that was not read tells of its subject: its last part. Those before it sort pages by kind. */
const lastWords = (url: string): string =>
  addressWords(url.replace(/[?#].*$/, '').replace(/^(https?:\/\/[^/]+\/).*?([^/]*)\/?$/, '$1$2'))

async function copyLines(client: pg.Client, into: string, count: number, line: (i: number) => string): Promise<void> {
  const pieces = function* (): Generator<string> {
    for (let at = 0; at < count; at += linesAtATime) {
      let piece = ''
      for (let i = at; i < Math.min(count, at + linesAtATime); i++) piece += line(i)
      yield piece
    }
  }
  await pipeline(Readable.from(pieces()), client.query(copyFrom(`copy ${into} from stdin`)))
}
