import { buildLinkGraph } from '@dew-trail/core/links/link-graph'
import { pageRank } from '@dew-trail/core/links/page-rank'
import { pageTrust } from '@dew-trail/core/links/page-trust'
import type pg from 'pg'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { EdgeFiles } from './edge-files.ts'
import { rankFromDisk, readRanks } from './rank-from-disk.ts'
import { denseIndex, eachInt, readInts } from './read-edges.ts'

/** Where a computation that does not fit into memory works, and from how many links on it does. */
export type RankSpace = { folder: string; mostInMemory: number }
/** Ranks of pages by their place; `ids`: the page at each place. Trust is null where no site is vetted. */
export type PageRanks = {
  ids: Int32Array
  rank: Float64Array
  trust: Float64Array | null
  outDegree: ArrayLike<number>
  links: number
  readMs: number
}

/** What counts for standing: a link that is there, that engines follow, of a page that was not found gone; none of frames. */
const linksSql = (graph: number): string =>
  `select source_page_id, target_page_id from link
   where graph_id = ${graph} and gone_on is null and rel = 0 and kind <> 3`

/** Ranks and trust of the pages of a graph: in memory while its links fit there, else from disk. `vetted`: pages of each vetted site. */
export async function pageRanks(
  client: pg.Client,
  graphId: number,
  vetted: ReadonlyArray<readonly number[]>,
  { folder, mostInMemory }: RankSpace,
): Promise<PageRanks> {
  const { rows } = await client.query<{ follow: string }>(
    'select coalesce(sum(follow), 0) follow from link_total where graph_id = $1',
    [graphId],
  )
  const expected = Number(rows[0]!.follow)
  return expected > mostInMemory
    ? fromDisk(client, graphId, vetted, folder, expected)
    : inMemory(client, graphId, vetted)
}

async function inMemory(
  client: pg.Client,
  graphId: number,
  vetted: ReadonlyArray<readonly number[]>,
): Promise<PageRanks> {
  const began = performance.now()
  const [sources, targets] = (await readInts(client, linksSql(graphId), 2)) as [Int32Array, Int32Array]
  const readMs = performance.now() - began
  const { ids, index } = denseIndex(sources, targets)
  for (let i = 0; i < sources.length; i++) {
    sources[i] = index[sources[i]!]!
    targets[i] = index[targets[i]!]!
  }
  const graph = buildLinkGraph(ids.length, sources, targets)
  return {
    ids,
    rank: pageRank(graph).rank,
    trust: pageTrust(graph, placesOf(vetted, index)),
    outDegree: graph.outDegree,
    links: graph.sources.length,
    readMs,
  }
}

async function fromDisk(
  client: pg.Client,
  graphId: number,
  vetted: ReadonlyArray<readonly number[]>,
  scratch: string,
  expected: number,
): Promise<PageRanks> {
  const began = performance.now()
  const { rows } = await client.query<{ most: number | null }>(
    'select max(id) most from linked_page where graph_id = $1',
    [graphId],
  )
  const index = new Int32Array((rows[0]!.most ?? 0) + 1).fill(-1)
  await eachInt(client, linksSql(graphId), id => {
    index[id] = 0
  })
  let nodes = 0
  for (let id = 0; id < index.length; id++) if (index[id] === 0) index[id] = nodes++
  const ids = new Int32Array(nodes)
  for (let id = 0; id < index.length; id++) if (index[id]! >= 0) ids[index[id]!] = id
  mkdirSync(scratch, { recursive: true })
  const folder = mkdtempSync(join(scratch, 'ranks-'))
  try {
    const files = new EdgeFiles(folder, nodes, expected)
    let source = 0
    await eachInt(client, linksSql(graphId), (id, column) => {
      const place = index[id]!
      // A page that came since the first reading counts the next time.
      if (column === 0) source = place
      else if (source >= 0 && place >= 0) files.add(source, place)
    })
    const graph = files.finish()
    const readMs = performance.now() - began
    const start = startOf(placesOf(vetted, index))
    return {
      ids,
      rank: await readRanks(await rankFromDisk(graph), nodes),
      trust: start.size ? await readRanks(await rankFromDisk(graph, { start }, 'trust'), nodes) : null,
      outDegree: graph.outDegree,
      links: graph.edges,
      readMs,
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

const placesOf = (vetted: ReadonlyArray<readonly number[]>, index: Int32Array): number[][] =>
  vetted.map(pages => pages.map(id => index[id] ?? -1).filter(place => place >= 0))

/** Where a reader begins who trusts vetted sites: at any of them alike, and there at any of its pages (`pageTrust`). */
function startOf(vetted: ReadonlyArray<readonly number[]>): Map<number, number> {
  const known = vetted.filter(pages => pages.length > 0)
  const start = new Map<number, number>()
  for (const pages of known)
    for (const page of pages) start.set(page, (start.get(page) ?? 0) + 1 / (known.length * pages.length))
  return start
}
