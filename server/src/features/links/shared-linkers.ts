import type { SharedLinker } from '@dew-trail/contract/link-profile'
import { hubsAndAuthorities } from '@dew-trail/core/links/hubs'
import { siteEdgeWeight } from '@dew-trail/core/links/weighted-rank'
import type pg from 'pg'
import { type LinkerRow, manyLinkers, manyStandings, manyTargetSites } from '../../domain/graph/queries.ts'

const graphId = 1
/** Linkers that hubs are reckoned over, those to most of the sites first; and how many are listed. */
const mostLinkers = 2_000
const listed = 100

/** Sites that link to at least two of some sites, best hubs first, without the own site and those sites themselves. */
export async function readSharedLinkers(
  pool: pg.Pool,
  ownDomain: string,
  domains: readonly string[],
): Promise<{ unknown: string[]; count: number; linkers: SharedLinker[] }> {
  const wanted = [...new Set(domains)].filter(domain => domain !== ownDomain)
  const targets = await manyTargetSites(pool, graphId, wanted)
  const linked = new Set(targets.map(target => target.domain))
  const unknown = wanted.filter(domain => !linked.has(domain))
  const { count, rows } = await manyLinkers(
    pool,
    graphId,
    targets.map(target => target.id),
    ownDomain,
    mostLinkers,
  )
  if (!rows.length) return { unknown, count: 0, linkers: [] }
  const hubs = hubsOf(rows, targets)
  const order = [...rows.keys()]
    .sort((a, b) => hubs[b]! - hubs[a]! || (rows[a]!.domain < rows[b]!.domain ? -1 : 1))
    .slice(0, listed)
  const standings = new Map(
    (
      await manyStandings(
        pool,
        graphId,
        order.map(i => rows[i]!.domain),
      )
    ).map(each => [each.domain, each]),
  )
  const domainOf = new Map(targets.map(target => [target.id, target.domain]))
  return {
    unknown,
    count,
    linkers: order.map(i => {
      const { domain, targetIds, linksToOwn } = rows[i]!
      const known = standings.get(domain)
      return {
        domain,
        to: wanted.filter(each => targetIds.some(id => domainOf.get(id) === each)),
        hub: (100 * hubs[i]!) / hubs[order[0]!]!,
        standing: known?.standing ?? null,
        doubt: known?.doubt ?? null,
        linksToOwn,
      }
    }),
  }
}

/** How good a hub each linker is over its links to the targets. */
function hubsOf(rows: readonly LinkerRow[], targets: ReadonlyArray<{ id: number }>): Float64Array {
  const nodeOf = new Map(targets.map((target, i) => [target.id, rows.length + i]))
  const pairs = rows.flatMap(({ targetIds, pages }, linker) =>
    targetIds.map((id, at) => ({ linker, target: nodeOf.get(id)!, weight: siteEdgeWeight(pages[at]!) })),
  )
  const { hub } = hubsAndAuthorities({
    nodes: rows.length + targets.length,
    from: Int32Array.from(pairs, pair => pair.linker),
    to: Int32Array.from(pairs, pair => pair.target),
    weight: Float64Array.from(pairs, pair => pair.weight),
  })
  return hub
}
