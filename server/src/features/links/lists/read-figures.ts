import { type LinkFigures, type MakeupStrip, makeupStrips, mostLinkRows } from '@dew-trail/contract/link-lists'
import { findBursts } from '@dew-trail/core/links/bursts'
import { linkKinds, linkRegions, relTokens } from '@dew-trail/core/links/link-codes'
import type pg from 'pg'
import {
  manyBursts,
  manyStripParts,
  manyWeeks,
  maybeRanked,
  maybeStanding,
  oneTotals,
  type StripRow,
  type WeekRow,
} from './figure-queries.ts'
import { maybeScope, needTarget, type Wanted } from './link-scope.ts'
import { manyPopularity } from './popularity-queries.ts'
import { readAnchors } from './read-anchors.ts'

/** Topics with a smaller part in a site's standing are not told. */
const leastShare = 0.05
/** Weeks that are told at least, so that a young site has a picture too, and at most. */
const [weeksShown, mostWeeks, weekMs] = [104, 20 * 52, 7 * 86_400_000]
/** Of the sites behind a burst, so many are named. */
const mostNamed = 5

/** What our graph knows of the links to targets, in their order. */
export async function readFigures(
  pool: pg.Pool,
  wanted: Wanted & { targets: readonly string[] },
): Promise<{ figures: LinkFigures[]; madeAt: string | null }> {
  const ranked = await maybeRanked(pool)
  const figures = await Promise.all(
    wanted.targets.map(text => readOne(pool, { ...wanted, target: text }, ranked?.sites ?? 0)),
  )
  return { figures, madeAt: ranked?.madeAt ?? null }
}

async function readOne(pool: pg.Pool, wanted: Wanted & { target: string }, ofSites: number): Promise<LinkFigures> {
  const target = needTarget(wanted.target)
  const { kind, domain } = target
  const scope = await maybeScope(pool, target, wanted)
  const named = { target: wanted.target, kind, domain, ofSites }
  const popularity = await manyPopularity(pool, wanted.siteId, [domain])
  if (!scope) return { ...named, ...nothing, popularity: popularity.get(domain) ?? null }
  const [totals, standing, strips, weeks, { classes }] = await Promise.all([
    oneTotals(pool, scope),
    maybeStanding(pool, scope.siteNumber, leastShare),
    manyStripParts(pool, scope),
    manyWeeks(pool, scope),
    readAnchors(pool, { ...wanted, most: mostLinkRows, where: [], sort: [] }),
  ])
  const growth = growthOf(weeks, wanted.today)
  const behind = await manyBursts(
    pool,
    scope,
    growth.bursts.map(({ week }) => week),
    mostNamed,
  )
  return {
    ...named,
    ...totals,
    known: weeks.length > 0,
    standing: standing?.standing ?? null,
    trust: standing?.trust ?? null,
    doubt: standing?.doubt ?? null,
    position: standing?.position ?? null,
    popularity: popularity.get(domain) ?? null,
    subjects: standing?.subjects ?? null,
    makeup: makeupOf(strips),
    anchors: classes,
    ...growth,
    bursts: growth.bursts.map(burst => ({ ...burst, ...behind.get(burst.week)! })),
  }
}
const nothing = {
  known: false,
  links: 0,
  follow: 0,
  linkingPages: 0,
  linkingSites: 0,
  followSites: 0,
  addresses: 0,
  subnets: 0,
  addressed: 0,
  knownPages: 0,
  institutions: 0,
  directories: 0,
  standing: null,
  trust: null,
  doubt: null,
  position: null,
  popularity: null,
  bands: null,
  subjects: null,
  makeup: makeupOf([]),
  anchors: [],
  weeks: [],
  undated: 0,
  bursts: [],
} satisfies Omit<LinkFigures, 'target' | 'kind' | 'domain' | 'ofSites'>

/** Codes of the database in words. */
const keyOf: Record<MakeupStrip, (code: string) => string> = {
  counts: code => relTokens(Number(code)).join(' and ') || 'follow',
  shape: code => linkKinds[Number(code)]!,
  lands: code => code,
  state: code => code,
  scheme: code => code,
  region: code => (code === '' ? 'unknown' : linkRegions[Number(code)]!),
  around: code => ({ '0': 'few links', '1': 'some links', '2': 'mostly links' })[code] ?? 'unknown',
  language: code => code || 'unknown',
}
function makeupOf(rows: readonly StripRow[]): LinkFigures['makeup'] {
  const parts = makeupStrips.map(strip => {
    const of = rows.filter(row => row.strip === strip)
    return [strip, of.map(({ key, links, sites }) => ({ key: keyOf[strip](key), links, sites }))] as const
  })
  return Object.fromEntries(parts) as LinkFigures['makeup']
}

function growthOf(rows: readonly WeekRow[], today: string) {
  const byWeek = new Map(rows.map(row => [row.week, row]))
  const day = new Date(`${today}T00:00:00Z`)
  const monday = day.getTime() - ((day.getUTCDay() + 6) % 7) * 86_400_000
  // Further back than shown, so that what is usual is known where the picture begins.
  const first = rows.find(row => row.week !== null)?.week
  const since = first ? Math.round((monday - Date.parse(`${first}T00:00:00Z`)) / weekMs) + 1 : 0
  const shown = Math.min(mostWeeks, Math.max(weeksShown, since))
  const all = Array.from({ length: shown + 26 }, (_, i) => {
    const week = new Date(monday - (shown + 25 - i) * weekMs).toISOString().slice(0, 10)
    const known = byWeek.get(week)
    return { week, gained: known?.gained ?? 0, lost: known?.lost ?? 0, fresh: known?.fresh ?? 0 }
  })
  const bursts = findBursts(all.map(each => each.fresh))
    .map(burst => ({ week: all[burst.at]!.week, sites: burst.count, usual: burst.usual, at: burst.at }))
    .filter(burst => burst.at >= 26)
    .map(({ at: _, ...burst }) => burst)
  const weeks = all.slice(26).map(({ fresh: _, ...week }) => week)
  return { weeks, undated: byWeek.get(null)?.gained ?? 0, bursts }
}
