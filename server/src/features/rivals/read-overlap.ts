import type { OverlapKeyword } from '@dew-trail/contract/rivals'
import { pageVisits } from '@dew-trail/core/rivals/page-visits'
import { subjectChances } from '@dew-trail/core/rivals/subject-chance'
import { eachTogether } from '@dew-trail/core/rivals/overlap'
import { readTarget } from '@dew-trail/core/rivals/target'
import { radixOrder } from '@dew-trail/core/tables/radix-order'
import type pg from 'pg'
import { manyAddresses, manyStates } from './queries.ts'
import { namedBrands, type OpenMarket, readRanked, readStanding, type Standing } from './ranked.ts'
import { sumPages } from './sum-pages.ts'
import { type Figure, figureOf, type RankingsOf } from './site-rankings.ts'

/** Most keywords of regions that are listed at once. */
const mostRows = 50_000
const firstPage = 10
/** Beside the masks of ten sites. */
const belowRegion = 1_024

/** What each target stands or pays for, with keywords and positions side by side; null where nothing is known. */
type Layer = { standing: Standing; ids: Int32Array; positions: Int16Array; brands: Uint8Array }
const emptyIds = new Int32Array(0)
const readLayers = (
  pool: pg.Pool,
  open: OpenMarket,
  targets: readonly string[],
  of: RankingsOf,
): Promise<Array<Layer | null>> =>
  Promise.all(
    targets.map(async text => {
      const standing = await readStanding(pool, open.at, readTarget(text)!, of)
      if (!standing) return null
      const ids = new Int32Array(standing.count)
      const positions = new Int16Array(standing.count)
      for (let i = 0; i < ids.length; i++) {
        ids[i] = standing.rankings.id[standing.row[i]!]!
        positions[i] = standing.rankings.now[standing.row[i]!]!
      }
      return { standing, ids, positions, brands: namedBrands(standing.rankings, open) }
    }),
  )
const idsOf = (layers: ReadonlyArray<Layer | null>): Int32Array[] => layers.map(layer => layer?.ids ?? emptyIds)

/** How the keywords of targets lie over each other. */
export async function readRegions(
  pool: pg.Pool,
  open: OpenMarket,
  targets: readonly string[],
  within: number,
  of: RankingsOf,
) {
  const layers = await readLayers(pool, open, targets, of)
  const masks = 2 ** targets.length
  const counts = new Float64Array(masks)
  const searches = new Float64Array(masks)
  const unknown = new Float64Array(masks)
  const below = { keywords: 0, searches: 0, unknown: 0 }
  const seen = new Set<number>()
  /** Searches of a keyword in a region, or 0 where another form of it was there with the same figure. */
  const once = (region: number, family: number, demand: number): number => {
    const key = ((family >>> 0) * 2_048 + region) * 512 + (Math.round(demand) & 511)
    if (seen.has(key)) return 0
    seen.add(key)
    return demand
  }
  eachTogether(idsOf(layers), indexes => {
    let mask = 0
    let first = 0
    let demand = Number.NaN
    let family = 0
    for (let l = 0; l < layers.length; l++) {
      const index = indexes[l]!
      if (index < 0) continue
      const { standing, positions } = layers[l]!
      const now = positions[index]!
      if (!now) continue
      if (now <= within) mask |= 1 << l
      if (now <= firstPage) first |= 1 << l
      demand = standing.rankings.figures.searches[standing.row[index]!]!
      family = standing.rankings.family[standing.row[index]!]!
    }
    const isUnknown = Number.isNaN(demand)
    if (mask) {
      counts[mask]!++
      if (isUnknown) unknown[mask]!++
      else searches[mask]! += once(mask, family, demand)
    }
    // The first target stands below the first page, or not at all, and another on it.
    if (first && (first & 1) === 0) {
      below.keywords++
      if (isUnknown) below.unknown++
      else below.searches += once(belowRegion, family, demand)
    }
  })
  const regions = Array.from(counts, (keywords, mask) => ({
    mask,
    keywords,
    searches: searches[mask]!,
    unknown: unknown[mask]!,
  }))
    .filter(region => region.keywords)
    .sort((a, b) => b.keywords - a.keywords || a.mask - b.mask)
  return { regions, belowFirst: below, coverage: open.coverage }
}

/**
 * Keywords of regions, those first for which a new, fitting page could win most: expected visits (the chances of places enter once) × what a
 * click costs, with what own pages win beside their top keyword; where nothing is known of that, by searches. `masks` null: where the first target is below the first page and
 * another on it.
 */
export async function readOverlapKeywords(
  pool: pg.Pool,
  open: OpenMarket,
  targets: readonly string[],
  within: number,
  of: RankingsOf,
  masks: readonly number[] | null,
): Promise<{ rows: OverlapKeyword[]; total: number }> {
  const layers = await readLayers(pool, open, targets, of)
  const wanted = masks && new Set(masks)
  /** Places in the layers of each keyword that is listed, one after another. */
  const found: number[] = []
  eachTogether(idsOf(layers), indexes => {
    let mask = 0
    let own = 0
    let other = false
    for (let l = 0; l < layers.length; l++) {
      const now = indexes[l]! < 0 ? 0 : layers[l]!.positions[indexes[l]!]!
      if (!now || now > within) continue
      mask |= 1 << l
      if (l === 0) own = now
      else if (now <= firstPage) other = true
    }
    if (wanted ? wanted.has(mask) : mask && (!own || own > firstPage) && other) found.push(...indexes)
  })
  const lists = layers.length
  const total = found.length / (lists || 1)
  const could = new Float64Array(total)
  const worth = new Float64Array(total)
  const each = new Float64Array(total)
  const beside = await visitsBesideTop(pool, open)
  const keys = [new Float64Array(total), new Float64Array(total), new Float64Array(total)] as const
  const known = (value: number): number => (Number.isNaN(value) ? Number.MAX_VALUE : -value || 0)
  for (let i = 0; i < total; i++) {
    const { layer, row } = someRow(layers, found, i)
    const { figures } = layer.standing.rankings
    const at = (name: Figure): number | null => orNull(figures[name][row]!)
    const visits = open.reader.visits(
      at('searches'),
      { chance3: at('chance3'), chance10: at('chance10'), chance20: at('chance20'), organicShare: at('organicShare') },
      layer.brands[row] === 1,
    )
    could[i] = visits ?? Number.NaN
    each[i] = open.reader.worthOf(layer.standing.rankings.id[row]!, at('cpc')) ?? Number.NaN
    worth[i] = could[i]! * each[i]!
    keys[1][i] = known(could[i]!)
    keys[2][i] = known(figures.searches[row]!)
  }
  const pageWorth = pageVisits(could, chancesAround(layers, found, total, open.market.language), beside).map(
    (visits, i) => visits * each[i]!,
  )
  for (let i = 0; i < total; i++) keys[0][i] = known(pageWorth[i]!)
  const all: Uint32Array = Uint32Array.from({ length: total }, (_, i) => i)
  const ordered = keys.reduceRight<Uint32Array>((order, key) => radixOrder(order, key), all)
  const listed = [...ordered.subarray(0, mostRows)]
  const ids = listed.map(i => {
    const { layer, row } = someRow(layers, found, i)
    return layer.standing.rankings.id[row]!
  })
  const bests = listed.map(i => bestPage(layers, found, i, within))
  const [states, urls] = await Promise.all([
    manyStates(pool, open.at.siteId, ids),
    manyAddresses(pool, open.at.siteId, [...new Set(bests)]),
  ])
  const rows = listed.map((i, at): OverlapKeyword => {
    const { layer, row } = someRow(layers, found, i)
    const { figures, phrases } = layer.standing.rankings
    const id = ids[at]!
    const spends = layers.flatMap((each, l) => {
      const index = found[i * lists + l]!
      if (!each || index < 0 || each.positions[index]! > within) return []
      return [figureOf(each.standing.rankings.figures.spend[each.standing.row[index]!]!) ?? 0]
    })
    return {
      id,
      phrase: phrases[row]!,
      family: layer.standing.rankings.family[row]!,
      searches: figureOf(figures.searches[row]!),
      cpc: figureOf(figures.cpc[row]!),
      bidLow: figureOf(figures.bidLow[row]!),
      bidHigh: figureOf(figures.bidHigh[row]!),
      difficulty: figureOf(figures.difficulty[row]!),
      chance: figureOf(figures.chance10[row]!),
      could: orNull(could[i]!),
      worth: orNull(worth[i]!),
      pageWorth: orNull(pageWorth[i]!),
      kept: states.kept.has(id),
      tracked: states.tracked.has(id),
      spend: of === 'paid' ? spends.reduce((sum, value) => sum + value, 0) : null,
      positions: layers.map((each, l) => {
        const index = found[i * lists + l]!
        const now = each && index >= 0 ? each.positions[index]! : 0
        return now && now <= within ? now : null
      }),
      bestPage: urls.get(bests[at]!) ?? '',
    }
  })
  return { rows, total }
}
/** Own pages from which it can be told what a page brings beside its top keyword. */
const leastPages = 5

/**
 * Visits a month that an own page that stands for anything gets on average from other keywords than the one that brings it most: what a new
 * page for a keyword brings besides. 0 while too few own pages are known.
 */
async function visitsBesideTop(pool: pg.Pool, open: OpenMarket): Promise<number> {
  const { domain } = open.site
  const ranked = await readRanked(pool, open, { kind: 'site', domain, match: domain })
  if (!ranked) return 0
  const { ids, sums } = sumPages(ranked)
  let [pages, beside] = [0, 0]
  for (let at = 0; at < ids.length; at++) {
    if (!sums.visitsKnown[at]) continue
    const top = ranked.visits[sums.top[at]!]!
    pages++
    beside += Math.max(0, sums.visits[at]! - (Number.isNaN(top) ? 0 : top))
  }
  return pages < leastPages ? 0 : beside / pages
}

/** Keywords whose chances are looked at around those that are listed: of more, some in even steps. */
const mostAround = 20_000
/** How easily the site gets on the first page around each listed keyword, by its chances for whatever the targets stand for. */
function chancesAround(
  layers: ReadonlyArray<Layer | null>,
  found: readonly number[],
  total: number,
  language: string,
): Float64Array {
  const seen = new Set<number>()
  const phrases: string[] = []
  const chances: number[] = []
  const take = ({ rankings }: Standing, row: number): void => {
    seen.add(rankings.id[row]!)
    phrases.push(rankings.phrases[row]!)
    chances.push(rankings.figures.chance10[row]!)
  }
  for (let i = 0; i < total; i++) {
    const { layer, row } = someRow(layers, found, i)
    take(layer.standing, row)
  }
  const others: Array<[Standing, number]> = []
  for (const layer of layers) {
    if (!layer) continue
    const { rankings, row, count } = layer.standing
    for (let i = 0; i < count; i++) {
      const id = rankings.id[row[i]!]!
      if (seen.has(id) || Number.isNaN(rankings.figures.chance10[row[i]!]!)) continue
      seen.add(id)
      others.push([layer.standing, row[i]!])
    }
  }
  const step = Math.max(1, others.length / mostAround)
  for (let i = 0; i < others.length; i += step) take(...others[Math.floor(i)]!)
  return subjectChances(
    phrases,
    chances,
    language,
    Array.from({ length: total }, (_, i) => i),
  )
}

const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value)

/** A row of a listed keyword, of whichever target stands for it: figures of the keyword are the same in all. */
function someRow(layers: ReadonlyArray<Layer | null>, found: readonly number[], i: number) {
  for (let l = 0; l < layers.length; l++) {
    const index = found[i * layers.length + l]!
    if (index >= 0) return { layer: layers[l]!, row: layers[l]!.standing.row[index]! }
  }
  throw new Error('a keyword that stands in no list')
}
function bestPage(layers: ReadonlyArray<Layer | null>, found: readonly number[], i: number, within: number): number {
  let [best, page] = [within + 1, 0]
  layers.forEach((layer, l) => {
    const index = found[i * layers.length + l]!
    if (!layer || index < 0) return
    const now = layer.positions[index]!
    if (now && now < best) {
      best = now
      page = layer.standing.rankings.page[layer.standing.row[index]!]!
    }
  })
  return page
}
