import { normal, unit } from '../random.ts'
import type { Aspect, Head, Keyword } from './keywords.ts'

export type DemandWorld = { seed: number; heads: Head[]; aspects: Aspect[] }

/**
 * True searches of a keyword in a calendar month (months counted from year 0) in its whole country.
 * Season of head and aspect, a slow trend of the head, a few shocks of heads, noise of the keyword.
 */
export function trueSearches(world: DemandWorld, keyword: Keyword, month: number): number {
  const head = world.heads[keyword.head]!
  const aspect = world.aspects[keyword.aspect]!
  const calendar = month % 12
  const at = [world.seed, head.id, 31]
  const headPeak = unit(...at, 1) * 12
  const headDepth = unit(...at, 2) < 0.4 ? 0.05 + 0.1 * unit(...at, 3) : 0.15 + 0.4 * unit(...at, 3)
  let season = 1 + headDepth * Math.cos(((calendar - headPeak) / 6) * Math.PI)
  if (aspect.season) season *= 1 + 0.9 * Math.exp(-((circularGap(calendar, aspect.season - 1) / 1.3) ** 2))
  const slope = unit(...at, 4) < 0.6 ? 0 : (unit(...at, 5) - 0.42) * 0.03
  const trend = Math.exp(slope * (month - 2026 * 12))
  const shockMonth = 2023 * 12 + Math.floor(unit(...at, 6) * 48)
  const since = month - shockMonth
  const shock = unit(...at, 7) < 0.2 && since >= 0 ? 1 + 1.5 * Math.exp(-since / 2.5) : 1
  return keyword.base * season * trend * shock * Math.exp(0.07 * normal(world.seed, keyword.id, month, 33))
}

const circularGap = (a: number, b: number): number => Math.min((a - b + 12) % 12, (b - a + 12) % 12)
