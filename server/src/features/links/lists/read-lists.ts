import { createHash } from 'node:crypto'
import {
  type AnchorRow,
  type LinkedPage,
  type LinkFigures,
  type LinkingSite,
  mostLinkRows,
  type RankedSite,
  type TargetLink,
} from '@dew-trail/contract/link-lists'
import { anchorClass } from '@dew-trail/core/links/anchor-class'
import { linkKinds, linkRegions, relTokens } from '@dew-trail/core/links/link-codes'
import { oddAnchor } from '@dew-trail/core/links/odd-anchor'
import { siteKind } from '@dew-trail/core/links/site-kind'
import { brandFinder, brandWordings } from '@dew-trail/core/words/brand-words'
import { isSiteWide } from '@dew-trail/core/links/site-wide'
import { pullOf } from '@dew-trail/core/links/standing'
import type pg from 'pg'
import { manySiteLooks } from '../../../domain/graph/queries.ts'
import { brandsOf } from '../../../domain/sites/brand-words.ts'
import { maybePageScale } from '../profile-queries.ts'
import {
  manyLinkedPages,
  manyLinkingSites,
  manyNeighbours,
  manyPhrasesOf,
  manyRanked,
  manyTargetAnchors,
  manyTargetLinks,
} from './list-queries.ts'
import { memo, readPack, scopeKey } from './link-pack.ts'
import { graphId, maybeScope, needTarget, type Wanted } from './link-scope.ts'
import { manyCleared, manyDisavowed, manyProspectDomains } from './mark-queries.ts'
import { manyPopularity } from './popularity-queries.ts'
import { maybeRanked } from './figure-queries.ts'

/** What anchors mean is told by so many phrases that a target's site stands for. */
const mostPhrases = 2_000
const mostRanked = 5_000

type Of = Wanted & { target: string }

/** Sites that link to a target; `beside`: sites of which it is told how many of them each links to as well. */
export async function readLinkingSites(
  pool: pg.Pool,
  wanted: Of & { beside: readonly string[]; most: number },
): Promise<{ rows: LinkingSite[]; total: number }> {
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return { rows: [], total: 0 }
  const rows = await manyLinkingSites(pool, scope, wanted.beside, wanted.most)
  const [looks, prospects, disavowed, cleared] = await Promise.all([
    manySiteLooks(
      pool,
      graphId,
      rows.map(row => row.domain),
    ),
    manyProspectDomains(pool, wanted.siteId),
    manyDisavowed(pool, wanted.siteId),
    manyCleared(pool, wanted.siteId),
  ])
  const kinds = new Map(looks.map(look => [look.domain, siteKind(look).kind]))
  const left = new Set(disavowed.map(each => each.domain))
  return {
    total: rows[0]?.total ?? 0,
    rows: rows.map(({ total: _, knownPages, samePages, framed, placed, ...row }) => ({
      ...row,
      kind: kinds.get(row.domain) ?? 'other',
      siteWide: isSiteWide({ pages: row.pages, knownPages, samePages, links: row.links, framed, placed }),
      prospect: prospects.has(row.domain),
      disavowed: left.has(row.domain),
      cleared: cleared.has(row.domain),
      ...(cleared.has(row.domain) && { network: null, networkReasons: null }),
    })),
  }
}

/** Links to a target with all that is known of each. */
export async function readTargetLinks(
  pool: pg.Pool,
  wanted: Of & { from: string | null; most: number },
): Promise<{ rows: TargetLink[]; total: number }> {
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return { rows: [], total: 0 }
  const [rows, scale] = await Promise.all([
    manyTargetLinks(pool, scope, wanted.from, wanted.most),
    maybePageScale(pool, graphId),
  ])
  return {
    total: rows[0]?.total ?? 0,
    rows: rows.map(({ total: _, kind, rel, region, rank, seenBy, ...row }, i) => ({
      ...row,
      id: i + 1,
      kind: linkKinds[kind]!,
      rel: relTokens(rel).join(' and ') || 'follow',
      region: region === null ? null : linkRegions[region]!,
      sources: bitsIn(seenBy),
      pull:
        scale && rank !== null && row.linksOut !== null && rel === 0
          ? pullOf(rank, row.linksOut, scale.pages, scale.floor, Math.max(scale.reference, scale.floor * 1.001))
          : null,
    })),
  }
}
function bitsIn(code: number): number {
  let count = 0
  for (let rest = code; rest; rest &= rest - 1) count++
  return count
}

/** Anchors of the links to a target with what they say, and the classes they are of. */
export async function readAnchors(
  pool: pg.Pool,
  wanted: Of & { most?: number },
): Promise<{ rows: AnchorRow[]; total: number; sites: number; classes: LinkFigures['anchors'] }> {
  const target = needTarget(wanted.target)
  const scope = await maybeScope(pool, target, wanted)
  if (!scope) return { rows: [], total: 0, sites: 0, classes: [] }
  const [found, phrases, brands] = await Promise.all([
    manyTargetAnchors(pool, scope, wanted.most ?? mostLinkRows),
    manyPhrasesOf(pool, wanted.siteId, target.domain, mostPhrases),
    brandsOf(pool, wanted.siteId),
  ])
  const brand = brands.filter(each => each.owner === target.domain).flatMap(each => each.words)
  const names = [...brand, ...brandWordings(target.domain, target.domain)]
  const findsBrand = brandFinder([{ owner: target.domain, own: true, words: names }])
  const about = { domain: target.domain, brand, phrases, language: 'en' }
  const sites = found[0]?.ofSites ?? 0
  const pack = await readPack(pool, scope)
  // Naming ten thousand anchors takes half a second: once for these words.
  const words = createHash('sha1').update(JSON.stringify(about)).digest('hex')
  const { rows, classes } = memo(pack, `named ${found.length} ${scopeKey(scope, scope.age)} ${words}`, () => {
    const sums = new Map<string, { key: string; links: number; sites: number }>()
    const named = found.map(({ total: _, ofSites, networkSites, ...row }) => {
      const kind = anchorClass(row.text, linkKinds[row.kind]!, about)
      const sum = sums.get(kind) ?? { key: kind, links: 0, sites: 0 }
      sum.links += row.links
      sum.sites += row.sites
      sums.set(kind, sum)
      const isNamed = findsBrand(row.text) !== null
      const odd = oddAnchor({ kind, named: isNamed, sites: row.sites, networkSites, ofSites })
      return { ...row, kind, sitesShare: ofSites ? row.sites / ofSites : 0, odd }
    })
    return { rows: named, classes: [...sums.values()].sort((a, b) => b.links - a.links) }
  })
  return { rows, total: found[0]?.total ?? 0, sites, classes }
}

/** Pages that links lead to, each with what to do where something is wrong with it. */
export async function readLinkedPages(
  pool: pg.Pool,
  wanted: Of & { most: number },
): Promise<{ rows: LinkedPage[]; total: number }> {
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return { rows: [], total: 0 }
  const rows = await manyLinkedPages(pool, scope, wanted.most)
  return {
    total: rows[0]?.total ?? 0,
    rows: rows.map(({ total: _, ...row }) => ({ ...row, next: nextFor(row) })),
  }
}
function nextFor({ status, redirectTo }: Pick<LinkedPage, 'status' | 'redirectTo'>): string | null {
  if (status === null) return null
  if (status === 404 || status === 410) return 'gone: redirect it to the page that answers it now'
  if (status >= 500) return 'answers with an error: look at the server'
  if (redirectTo !== null) return 'leads elsewhere: ask for links to the new address'
  return null
}

/** The best of the sites that link to a target, and which of them link to which. */
export async function readNeighbours(pool: pg.Pool, wanted: Of & { most: number }) {
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return { sites: [], links: [] }
  const { sites, links } = await manyNeighbours(pool, scope, wanted.most)
  const places = new Map(sites.map((site, place) => [site.id, place]))
  return {
    sites: sites.map(({ id: _, ...site }) => site),
    links: links.map(({ from, to, pages }) => ({ from: places.get(from)!, to: places.get(to)!, pages })),
  }
}

/** All known sites by standing. */
export async function readRanking(
  pool: pg.Pool,
  siteId: number,
  contains: string,
  beside: readonly string[],
): Promise<{ rows: RankedSite[]; met: number; total: number; madeAt: string | null }> {
  const [rows, ranked] = await Promise.all([manyRanked(pool, contains, beside, mostRanked), maybeRanked(pool)])
  const popularity = await manyPopularity(
    pool,
    siteId,
    rows.map(row => row.domain),
  )
  return {
    rows: rows.map(({ met: _, total: __, ...row }) => ({
      ...row,
      ending: row.domain.split('.').at(-1)!,
      popularity: popularity.get(row.domain) ?? null,
    })),
    met: Math.max(0, ...rows.map(row => row.met)),
    total: ranked?.sites ?? 0,
    madeAt: ranked?.madeAt ?? null,
  }
}
