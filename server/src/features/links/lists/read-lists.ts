import type { LinkedPage, RankedSite } from '@dew-trail/contract/link-lists'
import { linkedPageBatch, linkedPageSpecs } from '@dew-trail/contract/link-tables'
import type pg from 'pg'
import { maybeRanked } from './figure-queries.ts'
import { memoLater, readPack, scopeKey } from './link-pack.ts'
import { maybeScope, needTarget } from './link-scope.ts'
import { manyLinkedPages, manyNeighbours, manyRanked } from './list-queries.ts'
import { manyPopularity } from './popularity-queries.ts'
import { cellsIn, checkColumns, isSifted, type Listed, nothing, type Of, type Sifting, siftRows } from './sift.ts'

const mostRanked = 5_000

/** Pages that links lead to, each with what to do where something is wrong with it. */
export async function readLinkedPages(pool: pg.Pool, wanted: Of & Sifting): Promise<Listed<LinkedPage>> {
  checkColumns(linkedPageSpecs, wanted)
  const scope = await maybeScope(pool, needTarget(wanted.target), wanted)
  if (!scope) return nothing
  const sifted = isSifted(wanted)
  const found = sifted
    ? await memoLater(await readPack(pool, scope), `all pages ${scopeKey(scope, scope.age)}`, () =>
        manyLinkedPages(pool, scope, Number.POSITIVE_INFINITY),
      )
    : await manyLinkedPages(pool, scope, wanted.most)
  const total = found[0]?.total ?? 0
  const rows = found.map(({ total: _, ...row }) => ({ ...row, next: nextFor(row) }))
  if (!sifted) return { total, met: total, rows }
  return { total, ...siftRows(rows, cellsIn(linkedPageBatch(rows).columns), wanted) }
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
  const positions = new Map(sites.map((site, position) => [site.id, position]))
  return {
    sites: sites.map(({ id: _, ...site }) => site),
    links: links.map(({ from, to, pages }) => ({ from: positions.get(from)!, to: positions.get(to)!, pages })),
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
    rows: rows.map(({ met: _, ...row }) => ({
      ...row,
      ending: row.domain.split('.').at(-1)!,
      popularity: popularity.get(row.domain) ?? null,
    })),
    met: Math.max(0, ...rows.map(row => row.met)),
    total: ranked?.sites ?? 0,
    madeAt: ranked?.madeAt ?? null,
  }
}
