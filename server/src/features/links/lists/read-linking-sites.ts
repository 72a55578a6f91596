import type { LinkingSite } from '@dew-trail/contract/link-lists'
import { linkingSiteSpecs, lookAt } from '@dew-trail/contract/link-tables'
import { type SiteKind, siteKind } from '@dew-trail/core/links/site-kind'
import { isSiteWide } from '@dew-trail/core/links/site-wide'
import type { Cell, ReadsCell } from '@dew-trail/core/tables/row-tests'
import type pg from 'pg'
import { manySiteLooks } from '../../../domain/graph/queries.ts'
import { type LinkPack, memo, memoLater, readPack, scopeKey } from './link-pack.ts'
import { graphId, type LinkScope, maybeScope, needTarget } from './link-scope.ts'
import { manyLinkingSites, rankedSites, type SiteRow } from './list-queries.ts'
import { manyCleared, manyDisavowed, manyProspectDomains } from './mark-queries.ts'
import { checkColumns, isSifted, type Listed, nothing, type Of, type Sifting, siftRows } from './sift.ts'

/** Of so many linking sites, the strongest, the kinds are told: their home pages are read for it. */
const mostLooked = 5_000

/** Sites that link to a target; `beside`: sites of which it is told how many of them each links to as well. */
export async function readLinkingSites(
  pool: pg.Pool,
  wanted: Of & Sifting & { beside: readonly string[] },
): Promise<Listed<LinkingSite>> {
  checkColumns(linkingSiteSpecs, wanted)
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return nothing
  const pack = await readPack(pool, scope)
  const sifted = isSifted(wanted)
  const [found, marks] = await Promise.all([
    sifted
      ? allLinkingSites(pool, pack, scope, wanted.beside)
      : manyLinkingSites(pool, scope, wanted.beside, wanted.most),
    readMarks(pool, wanted.siteId),
  ])
  const total = found[0]?.total ?? 0
  if (!sifted) return { total, met: total, rows: await fullSites(pool, pack, found, marks) }
  const byKind = [...wanted.where, ...wanted.sort].some(({ column }) => column === 'kind')
  const kinds = byKind ? await kindsInOrder(pool, pack, scope, wanted.beside, found) : null
  const { rows, met } = siftRows(found, column => readerOf(found, marks, kinds, column), wanted)
  return { total, met, rows: await fullSites(pool, pack, rows, marks) }
}

/** Reads a column of the table of linking sites from what is held of them: to make whole rows of 140,000 takes seconds. */
function readerOf(
  rows: readonly SiteRow[],
  marks: Marks,
  kinds: readonly SiteKind[] | null,
  column: string,
): ReadsCell {
  switch (column) {
    case 'kind':
      return at => kinds?.[at] ?? null
    case 'address':
      return at => rows[at]!.addresses.join(', ')
    case 'siteWide':
      return at => isSiteWide(rows[at]!)
    case 'suspected':
      return at => rows[at]!.network !== null && !marks.cleared.has(rows[at]!.domain)
    case 'lookAt':
      return at => lookAt(markedSite(rows[at]!, marks))
    case 'prospect':
      return at => marks.prospects.has(rows[at]!.domain)
    case 'disavowed':
      return at => marks.disavowed.has(rows[at]!.domain)
    case 'cleared':
      return at => marks.cleared.has(rows[at]!.domain)
    default:
      return at => rows[at]![column as keyof SiteRow] as Cell
  }
}
/** All linking sites of a scope; kept beside the links, since a condition is followed by another. */
function allLinkingSites(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  beside: readonly string[],
): Promise<SiteRow[]> {
  return memoLater(pack, `all sites ${scopeKey(scope, scope.age)} ${beside.join()}`, () =>
    manyLinkingSites(pool, scope, beside, Number.POSITIVE_INFINITY),
  )
}

/** Kinds of all linking sites of a scope in their order, kept beside them. */
function kindsInOrder(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  beside: readonly string[],
  rows: readonly SiteRow[],
): Promise<SiteKind[]> {
  return memoLater(pack, `kinds in order ${scopeKey(scope, scope.age)} ${beside.join()}`, async () => {
    const domains = rows.map(row => row.domain)
    const kinds = await kindsOf(pool, pack, domains)
    return domains.map(domain => kinds.get(domain) ?? 'other')
  })
}

type Marks = Record<'prospects' | 'disavowed' | 'cleared', ReadonlySet<string>>
async function readMarks(pool: pg.Pool, siteId: number): Promise<Marks> {
  const [prospects, disavowed, cleared] = await Promise.all([
    manyProspectDomains(pool, siteId),
    manyDisavowed(pool, siteId),
    manyCleared(pool, siteId),
  ])
  return { prospects, cleared, disavowed: new Set(disavowed.map(each => each.domain)) }
}
/** A linking site as it is told, but for its kind. */
function markedSite(
  { total: _, knownPages, samePages, framed, placed, ...row }: SiteRow,
  { prospects, disavowed, cleared }: Marks,
): LinkingSite {
  return {
    ...row,
    kind: '',
    siteWide: isSiteWide({ pages: row.pages, knownPages, samePages, links: row.links, framed, placed }),
    prospect: prospects.has(row.domain),
    disavowed: disavowed.has(row.domain),
    cleared: cleared.has(row.domain),
    ...(cleared.has(row.domain) && { network: null, networkReasons: null }),
  }
}
async function fullSites(
  pool: pg.Pool,
  pack: LinkPack,
  rows: readonly SiteRow[],
  marks: Marks,
): Promise<LinkingSite[]> {
  const kinds = await kindsOf(
    pool,
    pack,
    rows.map(row => row.domain),
  )
  return rows.map(row => ({ ...markedSite(row, marks), kind: kinds.get(row.domain) ?? 'other' }))
}

type Kinds = ReadonlyMap<string, SiteKind>
/** Home pages that are read at a time to tell what kinds of sites they are of. */
const looksAtOnce = 2_000
/** Kinds of linking sites by domain; what was told once stays beside the links. */
async function kindsOf(pool: pg.Pool, pack: LinkPack, domains: readonly string[]): Promise<Kinds> {
  const known = memo(pack, 'kinds', () => new Map<string, SiteKind>())
  const missing = domains.filter(domain => !known.has(domain))
  for (let from = 0; from < missing.length; from += looksAtOnce)
    for (const look of await manySiteLooks(pool, graphId, missing.slice(from, from + looksAtOnce)))
      known.set(look.domain, siteKind(look).kind)
  return known
}
/** What kinds of sites link to a target, of the strongest ones. */
export async function readKinds(
  pool: pg.Pool,
  wanted: Of,
): Promise<{ kinds: Array<{ key: string; links: number; sites: number }>; looked: number; sites: number }> {
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return { kinds: [], looked: 0, sites: 0 }
  const pack = await readPack(pool, scope)
  const ranked = rankedSites(pack, scope)
  const looked = ranked.slice(0, mostLooked)
  const { rows } = await pool.query<{ domain: string }>(
    `select domain from unnest($2::integer[]) with ordinality s (id, position)
     join linked_site d on d.graph_id = $1 and d.id = s.id order by position`,
    [graphId, looked.map(each => each.site)],
  )
  const domains = rows.map(row => row.domain)
  const kinds = await kindsOf(pool, pack, domains)
  const sums = new Map<string, { key: string; links: number; sites: number }>()
  domains.forEach((domain, at) => {
    const key = kinds.get(domain) ?? 'other'
    const sum = sums.get(key) ?? { key, links: 0, sites: 0 }
    sum.links += looked[at]!.links
    sum.sites++
    sums.set(key, sum)
  })
  return {
    kinds: [...sums.values()].sort((a, b) => b.sites - a.sites || b.links - a.links),
    looked: looked.length,
    sites: ranked.length,
  }
}
