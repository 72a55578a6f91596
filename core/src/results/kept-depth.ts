import type { DayResults } from './month-results.ts'

/** For how many days results beyond the 30th, beyond the 10th, and all results are kept; null: for ever. */
export type KeptFor = { results30: number | null; results10: number | null; results: number | null }

/**
 * Down to which position results so many days old are kept: 0 none, Infinity all. What keeps all for so long keeps the first ones no
 * shorter.
 */
export function keptDepth(days: number, { results30, results10, results }: KeptFor): number {
  const isOver = (most: number | null): boolean => most !== null && days > most
  if (isOver(results)) return 0
  if (isOver(results10)) return 10
  return isOver(results30) ? 30 : Number.POSITIVE_INFINITY
}

/** Days without their results beyond a position. They say of themselves that no deeper was looked, so that nothing is "not found" for it. */
export const toDepth = (days: readonly DayResults[], most: number): DayResults[] =>
  days.map(({ day, depth, pages }) => ({ day, depth: Math.min(depth, most), pages: pages.slice(0, most) }))
