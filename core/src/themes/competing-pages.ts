/** That an own page stands for a keyword: its position, and the visits a month that it brings there (null = unknown). */
export type OwnStanding = { keyword: number; page: string; position: number; visits: number | null }
/**
 * Two own pages that fight for one theme. `keep`: the one that should have it, `give`: the other. `…Leads`: the keywords for which each is
 * the best placed own page, none where the other always stands above it; `…Visits`: over all keywords of the theme, null where nothing is
 * known.
 */
export type CompetingPair = {
  keep: string
  give: string
  keepLeads: number[]
  giveLeads: number[]
  keepVisits: number | null
  giveVisits: number | null
}

/** Deeper than this a page is not in anybody's way. */
export const deepestCompeting = 30

/**
 * Own pages that compete for a theme: each within the first 30 for keywords of the theme. Pages of which each also leads for some are the
 * plainest case, yet asking for it finds an eighth of those that truly compete: a page that stands just below the other all along takes its
 * share too. The one that brings more visits over the theme should have it; ties go to the one that leads for more keywords, then to the
 * better placed, then by address. O(standings log standings + pages²).
 */
export function competingPages(standings: readonly OwnStanding[]): CompetingPair[] {
  const best = new Map<number, OwnStanding>()
  const pages = new Map<string, { visits: number | null; leads: number[]; position: number }>()
  for (const standing of standings) {
    if (standing.position > deepestCompeting) continue
    const known = best.get(standing.keyword)
    if (
      !known ||
      standing.position < known.position ||
      (standing.position === known.position && standing.page < known.page)
    )
      best.set(standing.keyword, standing)
    const page = pages.get(standing.page) ?? { visits: null, leads: [], position: standing.position }
    if (standing.visits !== null) page.visits = (page.visits ?? 0) + standing.visits
    page.position = Math.min(page.position, standing.position)
    pages.set(standing.page, page)
  }
  for (const { keyword, page } of best.values()) pages.get(page)!.leads.push(keyword)
  const leading = [...pages]
    .map(([url, page]) => ({ url, ...page, leads: page.leads.toSorted((a, b) => a - b) }))
    .sort(
      (a, b) =>
        (b.visits ?? 0) - (a.visits ?? 0) ||
        b.leads.length - a.leads.length ||
        a.position - b.position ||
        (a.url < b.url ? -1 : 1),
    )
  return leading.flatMap((keep, i) =>
    leading.slice(i + 1).map(give => ({
      keep: keep.url,
      give: give.url,
      keepLeads: keep.leads,
      giveLeads: give.leads,
      keepVisits: keep.visits,
      giveVisits: give.visits,
    })),
  )
}
