import type { PlannedPage } from '@dew-trail/contract/plan'
import { formatMonth, formatShare, formatWhole } from '../../ui/format.ts'

type Work = Pick<PlannedPage, 'deadline' | 'doneOn' | 'state' | 'late' | 'owner'>
export type Kept = { name: string; due: number; kept: number }

/** Whether a page was published by its deadline; null where there is none, or it is not over yet. */
const wasKept = ({ deadline, doneOn, state, late }: Work): boolean | null =>
  deadline === null ? null : state === 'published' ? (doneOn === null ? null : doneOn <= deadline) : late ? false : null

/** How many of the deadlines that are over were kept, by month (latest first) and by owner (by name). */
export function keptDeadlines(pages: readonly Work[]): { all: Kept; byMonth: Kept[]; byOwner: Kept[] } {
  const all: Kept = { name: 'all', due: 0, kept: 0 }
  const months = new Map<string, Kept>()
  const owners = new Map<string, Kept>()
  const count = (map: Map<string, Kept>, name: string, kept: boolean): void => {
    const each = map.get(name) ?? { name, due: 0, kept: 0 }
    each.due++
    if (kept) each.kept++
    map.set(name, each)
  }
  for (const page of pages) {
    const kept = wasKept(page)
    if (kept === null) continue
    all.due++
    if (kept) all.kept++
    count(months, page.deadline!.slice(0, 7), kept)
    count(owners, page.owner || 'nobody', kept)
  }
  return {
    all,
    byMonth: [...months.values()].sort((a, b) => (a.name < b.name ? 1 : -1)),
    byOwner: [...owners.values()].sort((a, b) => (a.name < b.name ? -1 : 1)),
  }
}

const share = ({ name, due, kept }: Kept): string => `${name} ${formatShare(kept / due)} of ${formatWhole(due)}`
/** "Deadlines kept: 80% of 10 (Nov 2026 75% of 4, …; Mara 100% of 2)". */
export function keptText(pages: readonly Work[]): string {
  const { all, byMonth, byOwner } = keptDeadlines(pages)
  if (!all.due) return 'No deadline has passed yet'
  const months =
    byMonth.length > 1 ? byMonth.slice(0, 3).map(each => share({ ...each, name: formatMonth(each.name) })) : []
  const owners = byOwner.length > 1 ? byOwner.slice(0, 4).map(share) : []
  return [`Deadlines kept: ${formatShare(all.kept / all.due)} of ${formatWhole(all.due)}`, ...months, ...owners].join(
    ', ',
  )
}
