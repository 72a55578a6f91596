import type { OverlapKeyword } from '@dew-trail/contract/rivals'
import { readTarget } from '@dew-trail/core/rivals/target'
import type pg from 'pg'
import { manyAddresses, manyOverlapRows, manyRegions, maybeFilter, type OverlapOf, type OverlapRow } from './queries.ts'
import type { OpenMarket } from './read-profiles.ts'

/** Most keywords of regions that are listed at once. */
const mostRows = 50_000
const firstPage = 10

/** What is paid for is known of whole sites alone. */
const filtersOf = (pool: pg.Pool, open: OpenMarket, targets: readonly string[], of: OverlapOf) =>
  Promise.all(
    targets.map(text => {
      const target = readTarget(text)!
      const { domain } = target
      return maybeFilter(pool, open.at.siteId, of === 'paid' ? { kind: 'site', domain, match: domain } : target)
    }),
  )

/** How the keywords of targets lie over each other. */
export async function readRegions(
  pool: pg.Pool,
  open: OpenMarket,
  targets: readonly string[],
  within: number,
  of: OverlapOf,
) {
  const filters = await filtersOf(pool, open, targets, of)
  const regions = await manyRegions(pool, open.at, filters, within, of)
  // A region that lacks the first target within ten though it stands further down needs its own look.
  const first = within === firstPage ? regions : await manyRegions(pool, open.at, filters, firstPage, of)
  const below = first.filter(region => (region.mask & 1) === 0)
  return {
    regions,
    belowFirst: {
      keywords: below.reduce((sum, region) => sum + region.keywords, 0),
      searches: below.reduce((sum, region) => sum + region.searches, 0),
      unknown: below.reduce((sum, region) => sum + region.unknown, 0),
    },
    coverage: open.coverage,
  }
}

/**
 * Keywords of regions, those first that a new, fitting page could win most with: expected visits (the chances of places enter once) ×
 * what a click costs; where nothing is known of that, by searches.
 */
export async function readOverlapKeywords(
  pool: pg.Pool,
  open: OpenMarket,
  targets: readonly string[],
  within: number,
  of: OverlapOf,
  masks: readonly number[] | null,
): Promise<{ rows: OverlapKeyword[]; total: number }> {
  const filters = await filtersOf(pool, open, targets, of)
  const rows = await manyOverlapRows(pool, open.at, filters, within, of, masks, mostRows)
  const urls = await manyAddresses(pool, open.at.siteId, [...new Set(rows.map(row => row.pages[0]!))])
  const keywords = rows
    .map(row => toKeyword(row, open, targets.length, urls))
    .toSorted(
      (a, b) =>
        (b.worth ?? -1) - (a.worth ?? -1) ||
        (b.could ?? -1) - (a.could ?? -1) ||
        (b.searches ?? -1) - (a.searches ?? -1),
    )
  return { rows: keywords, total: rows[0]?.total ?? 0 }
}

function toKeyword(
  { total: _, bits, positions, pages, chance3, chance10, chance20, organicShare, ...row }: OverlapRow,
  { reader }: OpenMarket,
  targets: number,
  urls: ReadonlyMap<number, string>,
): OverlapKeyword {
  const could = reader.visits(
    row.searches,
    { chance3, chance10, chance20, organicShare },
    reader.brandOf(row.phrase) !== null,
  )
  return {
    ...row,
    chance: chance10,
    could,
    worth: could === null || row.cpc === null ? null : could * row.cpc,
    // Best first, so that the first of each target is its best.
    positions: Array.from({ length: targets }, (_, i) => {
      const at = bits.indexOf(1 << i)
      return at < 0 ? null : positions[at]!
    }),
    bestPage: urls.get(pages[0]!) ?? '',
  }
}
