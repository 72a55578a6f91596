import type { TargetLink } from '@dew-trail/contract/link-lists'
import { linkSpecs } from '@dew-trail/contract/link-tables'
import { bitsIn, linkKinds, linkRegions, relTokens } from '@dew-trail/core/links/link-codes'
import { pullOf } from '@dew-trail/core/links/standing'
import type pg from 'pg'
import { maybePageScale } from '../profile-queries.ts'
import { type LinkPack, readPack } from './link-pack.ts'
import { graphId, type LinkScope, maybeScope, needTarget } from './link-scope.ts'
import { countsBySite, linkOrder, manyTargetLinks } from './list-queries.ts'
import { checkColumns, isSifted, type Listed, nothing, type Of, type Sifting } from './sift.ts'
import { siftLinks } from './sift-links.ts'

/** `from`: of one linking site alone; `bySite`: of each linking site its first link alone, which tells how many there are. */
type OfLinks = Of & Sifting & { from: string | null; bySite: boolean }

/** Links to a target with all that is known of each. */
export async function readTargetLinks(pool: pg.Pool, wanted: OfLinks): Promise<Listed<TargetLink>> {
  checkColumns(linkSpecs, wanted)
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return nothing
  const pack = await readPack(pool, scope)
  const whole = await orderOf(pool, pack, scope, wanted.from)
  const met = isSifted(wanted) ? await siftLinks(pool, pack, scope, whole, wanted) : whole
  const [of, listed] = wanted.bySite ? [firstOfSites(pack, whole), firstOfSites(pack, met)] : [whole, met]
  const [rows, scale] = await Promise.all([
    manyTargetLinks(pool, pack, scope, listed.subarray(0, wanted.most)),
    maybePageScale(pool, graphId),
  ])
  const counts = countsBySite(pack, scope)
  return {
    total: of.length,
    met: listed.length,
    rows: rows.map(({ kind, rel, region, rank, seenBy, siteNumber, ...row }, i) => ({
      ...row,
      id: i + 1,
      kind: linkKinds[kind]!,
      rel: relTokens(rel).join(' and ') || 'follow',
      region: region === null ? null : linkRegions[region]!,
      sources: bitsIn(seenBy),
      ofSite: counts.get(siteNumber) ?? 0,
      pull:
        scale && rank !== null && row.linksOut !== null && rel === 0
          ? pullOf(rank, row.linksOut, scale.pages, scale.floor, Math.max(scale.reference, scale.floor * 1.001))
          : null,
    })),
  }
}

/** Places of the links of a scope in their order, of one linking site where it is named. */
async function orderOf(pool: pg.Pool, pack: LinkPack, scope: LinkScope, from: string | null): Promise<Uint32Array> {
  const order = linkOrder(pack, scope)
  if (from === null) return order
  const { rows } = await pool.query<{ id: number }>('select id from linked_site where graph_id = $1 and domain = $2', [
    graphId,
    from,
  ])
  return order.filter(i => pack.links.site[i] === rows[0]?.id)
}

/** Of links in an order the first of each linking site. */
function firstOfSites({ links: { site } }: LinkPack, order: Uint32Array): Uint32Array {
  const met = new Set<number>()
  return order.filter(i => !met.has(site[i]!) && met.add(site[i]!))
}
