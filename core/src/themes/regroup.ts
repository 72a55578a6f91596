import type { Themes } from './group-themes.ts'

/** A theme as it stood. `locked`: it stays as it is. `leadByHand`: somebody chose its lead. */
export type KeptTheme = { id: number; lead: number; locked: boolean; leadByHand: boolean }
/** Where a keyword stood (null = alone), and whether somebody put it there. */
export type KeptPosition = { theme: number | null; byHand: boolean }
/** A theme as it comes out: `id` null = new. `members` in rising order, the lead among them. */
export type Regrouped = { id: number | null; lead: number; members: number[] }

/**
 * Which keywords (by their places in the order of leads) are grouped by the program: all but those that somebody put where they are, and
 * those of locked themes.
 */
export function freeKeywords(positions: readonly KeptPosition[], themes: readonly KeptTheme[]): number[] {
  const locked = new Set(themes.filter(each => each.locked).map(each => each.id))
  return [...positions.keys()].filter(
    i => !positions[i]!.byHand && !(positions[i]!.theme !== null && locked.has(positions[i]!.theme!)),
  )
}

/**
 * Themes when keywords are grouped again: what was done by hand is kept, and a theme that comes again keeps its id. `found`: the themes of the
 * free keywords, whose numbers are places in `free`. A theme is the same as an old one when both have one lead, else when most keywords were
 * in it; an old theme goes on in one new theme only. Keywords put by hand into a theme that does not come again keep it alive.
 * Themes in order of their leads. O(keywords log keywords).
 */
export function regroup(
  positions: readonly KeptPosition[],
  themes: readonly KeptTheme[],
  free: readonly number[],
  found: Themes,
): Regrouped[] {
  const groups: number[][] = Array.from(found.leads, () => [])
  for (const [at, keyword] of free.entries()) if (found.themeOf[at]! >= 0) groups[found.themeOf[at]!]!.push(keyword)
  const leads = Array.from(found.leads, at => free[at]!)
  const ids = matchThemes(positions, themes, groups, leads)
  const byId = new Map(themes.map(theme => [theme.id, theme]))
  const fixed = new Map<number, number[]>()
  const isFree = new Set(free)
  for (const [i, { theme }] of positions.entries()) {
    if (theme === null || isFree.has(i) || !byId.has(theme)) continue
    const list = fixed.get(theme)
    if (list) list.push(i)
    else fixed.set(theme, [i])
  }
  const out: Regrouped[] = groups.map((members, g) => {
    const id = ids[g]!
    const added = id === null ? [] : (fixed.get(id) ?? [])
    if (id !== null) fixed.delete(id)
    const all = [...members, ...added].sort((a, b) => a - b)
    const old = id === null ? undefined : byId.get(id)
    return { id, lead: old?.leadByHand && all.includes(old.lead) ? old.lead : leads[g]!, members: all }
  })
  for (const [id, members] of fixed) {
    const { lead } = byId.get(id)!
    out.push({ id, lead: members.includes(lead) ? lead : members[0]!, members })
  }
  return out.sort((a, b) => a.lead - b.lead)
}

/** The id of the old theme that each group goes on, null where it is new. */
function matchThemes(
  positions: readonly KeptPosition[],
  themes: readonly KeptTheme[],
  groups: readonly number[][],
  leads: readonly number[],
): Array<number | null> {
  const ids: Array<number | null> = groups.map(() => null)
  const taken = new Set(themes.filter(each => each.locked).map(each => each.id))
  const byLead = new Map(themes.filter(each => !each.locked).map(each => [each.lead, each.id]))
  for (const [g, lead] of leads.entries()) {
    const id = byLead.get(lead)
    if (id === undefined || taken.has(id)) continue
    ids[g] = id
    taken.add(id)
  }
  const overlaps: Array<{ group: number; id: number; both: number }> = []
  for (const [group, members] of groups.entries()) {
    if (ids[group] !== null) continue
    const both = new Map<number, number>()
    for (const each of members) {
      const { theme } = positions[each]!
      if (theme !== null && !taken.has(theme)) both.set(theme, (both.get(theme) ?? 0) + 1)
    }
    for (const [id, count] of both) overlaps.push({ group, id, both: count })
  }
  overlaps.sort((a, b) => b.both - a.both || a.group - b.group || a.id - b.id)
  for (const { group, id } of overlaps) {
    if (ids[group] !== null || taken.has(id)) continue
    ids[group] = id
    taken.add(id)
  }
  return ids
}
