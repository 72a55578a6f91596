import type { Target } from '@dew-trail/core/rivals/target'
import { brandFinder, brandWordings } from '@dew-trail/core/words/brand-words'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { splitWords } from '@dew-trail/core/words/split-words'
import type pg from 'pg'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { readTarget } from '@dew-trail/core/rivals/target'
import { type InMarket, maybeTargetRows, oneCoverage } from './queries.ts'
import { figureOf, type RankingsOf, readSiteRankings, type SiteRankings } from './site-rankings.ts'

/** Pages of one site that stand within this compete with each other; further down they are in nobody's way. */
const near = 20

/** What is known of a market's results, and what visits are worked out by: read once for all targets of a question. */
export async function openMarket(pool: pg.Pool, siteId: number, marketId: number, targets: readonly string[]) {
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  const reader = await visitReader(pool, siteId, market)
  const domains = targets.length ? targets.map(text => readTarget(text)!.domain) : [site.domain]
  const at: InMarket = { siteId, marketId, place: market.place }
  return { site, market, reader, at, coverage: await oneCoverage(pool, at, domains) }
}
export type OpenMarket = Awaited<ReturnType<typeof openMarket>>

/** Keywords for which a target stands or stood before, each once, in order of keyword. Positions: 0 = not there. */
export type Standing = {
  rankings: SiteRankings
  count: number
  /** Row of `rankings` with the best position now. */
  row: Int32Array
  /** Best position before. */
  before: Int16Array
  /** How many of its pages stand near each other. */
  near: Uint16Array
  /** What part of a sum it is: 1, or where n forms of one keyword share one figure of searches, 1/n of them. */
  part: Float32Array
}

/**
 * Forms of one keyword with the same searches have one figure of the ads data together, which is counted once: each is then as many of
 * them as stand.
 */
function partsOf({ now, family, figures }: SiteRankings, row: Int32Array): Float32Array {
  const bits = new Uint32Array(figures.searches.buffer)
  // Family and searches in one whole number below 2^53: of the searches the bits that tell apart what is told to six digits.
  const keyOf = (r: number): number => (family[r]! >>> 0) * 2 ** 21 + (bits[r]! >>> 11)
  const forms = new Map<number, number>()
  const counts = (r: number): boolean => now[r]! > 0 && figures.searches[r]! > 0
  for (const r of row) if (counts(r)) forms.set(keyOf(r), (forms.get(keyOf(r)) ?? 0) + 1)
  return Float32Array.from(row, r => (counts(r) ? 1 / forms.get(keyOf(r))! : 1))
}

const wholeSites = new WeakMap<SiteRankings, Standing>()
/** Rows of a target, a keyword once; `pages`: only these pages of the site. O(rows). */
function standingOf(rankings: SiteRankings, pages: ReadonlySet<number> | null): Standing {
  const known = pages === null ? wholeSites.get(rankings) : undefined
  if (known) return known
  const row = new Int32Array(rankings.count)
  const before = new Int16Array(rankings.count)
  const nearby = new Uint16Array(rankings.count)
  let at = -1
  let lastId = Number.NaN
  for (let i = 0; i < rankings.count; i++) {
    if (pages !== null && !pages.has(rankings.page[i]!)) continue
    // Rows of a keyword follow each other, the best position first.
    if (rankings.id[i] !== lastId) {
      lastId = rankings.id[i]!
      row[++at] = i
    }
    const was = rankings.before[i]!
    if (was && (!before[at] || was < before[at]!)) before[at] = was
    if (rankings.now[i]! && rankings.now[i]! <= near) nearby[at]!++
  }
  const count = at + 1
  const rows = row.slice(0, count)
  const standing = {
    rankings,
    count,
    row: rows,
    before: before.slice(0, count),
    near: nearby.slice(0, count),
    part: partsOf(rankings, rows),
  }
  if (pages === null) wholeSites.set(rankings, standing)
  return standing
}

/** Keywords of a target; null where its site is not among the results. What is paid for is known of whole sites alone. */
export async function readStanding(
  pool: pg.Pool,
  at: InMarket,
  target: Target,
  of: RankingsOf = 'organic',
): Promise<Standing | null> {
  const { domain } = target
  const rows = await maybeTargetRows(pool, at.siteId, of === 'paid' ? { kind: 'site', domain, match: domain } : target)
  return rows && standingOf(await readSiteRankings(pool, at, rows.siteNumber, of), rows.pages)
}

const brandMarks = new WeakMap<SiteRankings, Map<string, Uint8Array>>()
/** Which rows name a brand, by whatever `key` tells one set of brands from another; 1 = yes. */
function marksOf(rankings: SiteRankings, key: string, finds: (phrase: string) => unknown): Uint8Array {
  let known = brandMarks.get(rankings)
  if (!known) brandMarks.set(rankings, (known = new Map()))
  let marks = known.get(key)
  if (!marks) {
    marks = Uint8Array.from(rankings.phrases, phrase => (finds(phrase) ? 1 : 0))
    // Brand words change now and then; what they were is not asked for again.
    if (known.size > 3) known.clear()
    known.set(key, marks)
  }
  return marks
}
/** Which rows name any brand that the site's reader of visits knows. */
export const namedBrands = (rankings: SiteRankings, { reader }: OpenMarket): Uint8Array =>
  marksOf(rankings, JSON.stringify(reader.brands), reader.brandOf)

/** The same with visits a month by keyword (NaN = unknown, or it does not stand), their worth, and where the own site stands. */
export type Ranked = Standing & {
  visits: Float64Array
  worth: Float64Array
  own: Int16Array
  /** By row: the keyword names the target's site. */
  named: Uint8Array
}

/** Keywords for which a target stands or stood before; null where it stands for nothing that is known. */
export async function readRanked(pool: pg.Pool, open: OpenMarket, target: Target): Promise<Ranked | null> {
  const { site, reader, at } = open
  const standing = await readStanding(pool, at, target)
  if (!standing?.count) return null
  const { rankings, count, row } = standing
  const { searches, cpc, organicShare } = rankings.figures
  const brands = namedBrands(rankings, open)
  const visits = new Float64Array(count).fill(Number.NaN)
  const worth = new Float64Array(count).fill(Number.NaN)
  for (let i = 0; i < count; i++) {
    const r = row[i]!
    if (!rankings.now[r] || Number.isNaN(searches[r]!)) continue
    const share = Number.isNaN(organicShare[r]!) ? null : organicShare[r]!
    visits[i] = reader.visitsAt(rankings.now[r]!, searches[r]!, share, brands[r] === 1)!
    worth[i] = visits[i]! * (reader.worthOf(rankings.id[r]!, Number.isNaN(cpc[r]!) ? null : cpc[r]!) ?? Number.NaN)
  }
  const words = brandWordings(target.domain, target.domain).map(word => splitWords(normalForm(word)).join(' '))
  const find = brandFinder([{ owner: target.domain, own: target.domain === site.domain, words }])
  const ownSite: Target = { kind: 'site', domain: site.domain, match: site.domain }
  const own = await readStanding(pool, at, ownSite)
  return {
    ...standing,
    visits,
    worth,
    own: positionsIn(own, standing),
    named: marksOf(rankings, words.join('|'), find),
  }
}

/** Positions of one site for the keywords of another, both in order of keyword. O(keywords). */
function positionsIn(of: Standing | null, beside: Standing): Int16Array {
  const positions = new Int16Array(beside.count)
  if (!of) return positions
  for (let i = 0, j = 0; i < beside.count; i++) {
    const id = beside.rankings.id[beside.row[i]!]!
    while (j < of.count && of.rankings.id[of.row[j]!]! < id) j++
    if (j < of.count && of.rankings.id[of.row[j]!]! === id) positions[i] = of.rankings.now[of.row[j]!]!
  }
  return positions
}

export type RankedSums = { visits: number | null; visitsUnknown: number; worth: number | null; worthUnknown: number }
/** Sums over the keywords for which a target stands now, each figure once. A sum of nothing but unknown figures is unknown; a sum of nothing is zero. */
export function sumsOf(ranked: Ranked | null): RankedSums {
  if (!ranked) return { visits: 0, visitsUnknown: 0, worth: 0, worthUnknown: 0 }
  const { rankings, row, visits, worth, part } = ranked
  let [standing, visitsKnown, visitsSum, worthKnown, worthSum] = [0, 0, 0, 0, 0]
  for (let i = 0; i < row.length; i++) {
    if (!rankings.now[row[i]!]) continue
    standing++
    if (!Number.isNaN(visits[i]!)) {
      visitsKnown++
      visitsSum += visits[i]! * part[i]!
    }
    if (!Number.isNaN(worth[i]!)) {
      worthKnown++
      worthSum += worth[i]! * part[i]!
    }
  }
  return {
    visits: standing && !visitsKnown ? null : visitsSum,
    visitsUnknown: standing - visitsKnown,
    worth: standing && !worthKnown ? null : worthSum,
    worthUnknown: standing - worthKnown,
  }
}

const orNull = (position: number): number | null => position || null
/** What is held of a keyword of a target, as a screen shows it. */
export function rankedRow({ rankings, row, before, near, own, visits, worth, named }: Ranked, i: number) {
  const r = row[i]!
  const { searches, cpc, difficulty, chance10 } = rankings.figures
  return {
    id: rankings.id[r]!,
    phrase: rankings.phrases[r]!,
    family: rankings.family[r]!,
    now: orNull(rankings.now[r]!),
    before: orNull(before[i]!),
    entered: rankings.now[r]! > 0 && !before[i] && rankings.compared[r] === 1,
    fed: rankings.fed[r] === 1,
    pageId: rankings.page[r]!,
    pages: near[i]!,
    searches: figureOf(searches[r]!),
    cpc: figureOf(cpc[r]!),
    visits: Number.isNaN(visits[i]!) ? null : visits[i]!,
    worth: Number.isNaN(worth[i]!) ? null : worth[i]!,
    own: orNull(own[i]!),
    difficulty: figureOf(difficulty[r]!),
    chance: figureOf(chance10[r]!),
    brand: named[r] === 1,
  }
}
export type RankedRow = ReturnType<typeof rankedRow>
