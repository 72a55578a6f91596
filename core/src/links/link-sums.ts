import type { LinkColumns } from './link-columns.ts'

/**
 * Sums by linking site, in rising order of site. `pages`: linking pages; `framed`: links in the frame of pages (regions of `framed`), `placed`:
 * those whose region is known; `first`, `last`: days since 1970, 0 = unknown. `target`, `anchor`: what most of its pages link to and with which
 * words, `same` of how many pages.
 */
export type SiteSums = {
  site: number
  links: number
  follow: number
  pages: number
  framed: number
  placed: number
  first: number
  last: number
  target: number
  anchor: number
  same: number
}

/** Sums of the chosen links by linking site. O(links). */
export function sumBySite(links: LinkColumns, chosen: Uint8Array, framed: ReadonlySet<number>): SiteSums[] {
  const { count, site, page, target, anchor, rel, region, first, last } = links
  const sums: SiteSums[] = []
  // Anchors numbered from 0, so that a pair is one number that stays exact: ids of pages are below 2^31, and anchors of one site below 2^22.
  const { numbers, anchors } = numberAnchors(links)
  const pairs = new Map<number, { target: number; anchor: number; pages: number; lastPage: number }>()
  for (let i = 0; i < count; ) {
    const current = site[i]!
    const sum: SiteSums = {
      ...{ site: current, links: 0, follow: 0, pages: 0, framed: 0, placed: 0, first: 0, last: 0 },
      ...{ target: 0, anchor: 0, same: 0 },
    }
    let lastPage = -1
    pairs.clear()
    for (; i < count && site[i] === current; i++) {
      if (chosen[i] === 0) continue
      sum.links++
      if (rel[i] === 0) sum.follow++
      if (page[i] !== lastPage) {
        sum.pages++
        lastPage = page[i]!
      }
      if (region[i]! >= 0) {
        sum.placed++
        if (framed.has(region[i]!)) sum.framed++
      }
      if (first[i] !== 0 && (sum.first === 0 || first[i]! < sum.first)) sum.first = first[i]!
      if (last[i]! > sum.last) sum.last = last[i]!
      const key = target[i]! * anchors + numbers[i]!
      const pair = pairs.get(key)
      if (!pair) pairs.set(key, { target: target[i]!, anchor: anchor[i]!, pages: 1, lastPage: page[i]! })
      else if (pair.lastPage !== page[i]) {
        pair.pages++
        pair.lastPage = page[i]!
      }
    }
    if (!sum.links) continue
    for (const pair of pairs.values())
      if (
        pair.pages > sum.same ||
        (pair.pages === sum.same &&
          (pair.target < sum.target || (pair.target === sum.target && pair.anchor < sum.anchor)))
      ) {
        sum.same = pair.pages
        sum.target = pair.target
        sum.anchor = pair.anchor
      }
    sums.push(sum)
  }
  return sums
}

function numberAnchors({ count, anchor }: LinkColumns): { numbers: Int32Array; anchors: number } {
  const known = new Map<number, number>()
  const numbers = new Int32Array(count)
  for (let i = 0; i < count; i++) {
    let number = known.get(anchor[i]!)
    if (number === undefined) known.set(anchor[i]!, (number = known.size))
    numbers[i] = number
  }
  return { numbers, anchors: Math.max(1, known.size) }
}

export type CodeCount = { code: number; links: number; sites: number }
/** How many links, and sites with such links, have each code; `codeOf` a link. Codes are small and not below −1. O(links). */
export function countByCode(
  { count, site }: LinkColumns,
  chosen: Uint8Array,
  codeOf: (i: number) => number,
): CodeCount[] {
  const counts: CodeCount[] = []
  const lastSite: number[] = []
  for (let i = 0; i < count; i++) {
    if (chosen[i] === 0) continue
    const code = codeOf(i)
    const at = code + 1
    const entry = (counts[at] ??= { code, links: 0, sites: 0 })
    entry.links++
    if (lastSite[at] !== site[i]) {
      entry.sites++
      lastSite[at] = site[i]!
    }
  }
  return counts.filter(Boolean)
}

/** Sites by week (a Monday, as days since 1970; 0 = no day is known): first seen in it, last link gone in it, with a new link in it. */
export type WeekCount = { week: number; gained: number; lost: number; fresh: number }
/** What came and went by week, over all links, gone ones too. O(links). */
export function countByWeek(links: LinkColumns, chosen: Uint8Array): WeekCount[] {
  const { count, site, first, gone, dated } = links
  const weeks = new Map<number, WeekCount>()
  const at = (week: number): WeekCount => {
    let entry = weeks.get(week)
    if (!entry) weeks.set(week, (entry = { week, gained: 0, lost: 0, fresh: 0 }))
    return entry
  }
  const lastFresh = new Map<number, number>()
  for (let i = 0; i < count; ) {
    const current = site[i]!
    let [any, came, went, allGone] = [false, 0, 0, true]
    for (; i < count && site[i] === current; i++) {
      if (chosen[i] === 0) continue
      any = true
      if (gone[i] === 0) allGone = false
      else if (gone[i]! > went) went = gone[i]!
      if (first[i] === 0 || dated[i] === 0) continue
      if (came === 0 || first[i]! < came) came = first[i]!
      const week = mondayOf(first[i]!)
      if (lastFresh.get(week) === current) continue
      lastFresh.set(week, current)
      at(week).fresh++
    }
    if (!any) continue
    at(came === 0 ? 0 : mondayOf(came)).gained++
    if (allGone) at(mondayOf(went)).lost++
  }
  return [...weeks.values()].sort((a, b) => a.week - b.week)
}
/** The Monday on or before a day since 1970 (a Thursday). */
export const mondayOf = (day: number): number => day - ((((day + 3) % 7) + 7) % 7)

/** `kind`: the lowest code; `target`: the page that most of its links lead to, of several the first. */
export type AnchorSums = {
  anchor: number
  kind: number
  links: number
  follow: number
  sites: number
  networked: number
  target: number
}
/** Sums of the chosen links by anchor, those of most sites first, then of most links, then by id; `networked`: sites of made networks. O(links). */
export function sumByAnchor(
  { count, site, target, anchor, rel, kind }: LinkColumns,
  chosen: Uint8Array,
  networked: ReadonlySet<number>,
  most: number,
): { rows: AnchorSums[]; total: number } {
  const sums = new Map<number, AnchorSums & { lastSite: number }>()
  for (let i = 0; i < count; i++) {
    if (chosen[i] === 0) continue
    let sum = sums.get(anchor[i]!)
    if (!sum) {
      sum = { anchor: anchor[i]!, kind: kind[i]!, links: 0, follow: 0, sites: 0, networked: 0, target: 0, lastSite: -1 }
      sums.set(anchor[i]!, sum)
    }
    sum.links++
    if (rel[i] === 0) sum.follow++
    if (kind[i]! < sum.kind) sum.kind = kind[i]!
    if (sum.lastSite !== site[i]) {
      sum.lastSite = site[i]!
      sum.sites++
      if (networked.has(site[i]!)) sum.networked++
    }
  }
  const rows = [...sums.values()]
    .sort((a, b) => b.sites - a.sites || b.links - a.links || a.anchor - b.anchor)
    .slice(0, most)
  nameTargets({ count, target, anchor }, chosen, rows)
  return { rows: rows.map(({ lastSite: _, ...row }) => row), total: sums.size }
}

/** Sets the page that most links with each anchor lead to. */
function nameTargets(
  { count, target, anchor }: Pick<LinkColumns, 'count' | 'target' | 'anchor'>,
  chosen: Uint8Array,
  rows: AnchorSums[],
): void {
  const counts = new Map(rows.map(row => [row.anchor, new Map<number, number>()]))
  for (let i = 0; i < count; i++) {
    if (chosen[i] === 0) continue
    const of = counts.get(anchor[i]!)
    if (of) of.set(target[i]!, (of.get(target[i]!) ?? 0) + 1)
  }
  for (const row of rows) {
    let most = 0
    for (const [page, times] of counts.get(row.anchor)!)
      if (times > most || (times === most && page < row.target)) {
        most = times
        row.target = page
      }
  }
}
