import { monthIso } from '../calendar.ts'
import { bell3, mix, unit } from '../random.ts'
import type { Aspect, Head, Keyword } from './keywords.ts'

export type DemandWorld = { seed: number; heads: Head[]; aspects: Aspect[] }

/** What truly moves a keyword's demand: monthly growth, month of the peak (1–12, null where hardly any), shock. */
export function demandTraits(world: DemandWorld, keyword: Keyword): object {
  const { peak, depth, slope, shockMonth, shocked } = headDemands(world)[keyword.head]!
  const { season } = world.aspects[keyword.aspect]!
  return {
    monthly_growth: slope,
    season_depth: season ? Math.max(0.9, depth) : depth,
    peak_month: season ?? (depth >= 0.15 ? Math.floor(peak) + 1 : null),
    shock_month: shocked ? monthIso(shockMonth) : null,
  }
}

type HeadDemand = { peak: number; depth: number; slope: number; shockMonth: number; shocked: boolean }
const headsKept = new WeakMap<DemandWorld, HeadDemand[]>()

/** Season, trend and shock of every head, drawn once a world. */
function headDemands(world: DemandWorld): HeadDemand[] {
  let kept = headsKept.get(world)
  if (!kept) {
    kept = world.heads.map(head => {
      const at = [world.seed, head.id, 31]
      return {
        peak: unit(...at, 1) * 12,
        depth: unit(...at, 2) < 0.4 ? 0.05 + 0.1 * unit(...at, 3) : 0.15 + 0.4 * unit(...at, 3),
        slope: unit(...at, 4) < 0.6 ? 0 : (unit(...at, 5) - 0.42) * 0.03,
        shockMonth: 2023 * 12 + Math.floor(unit(...at, 6) * 48),
        shocked: unit(...at, 7) < 0.2,
      }
    })
    headsKept.set(world, kept)
  }
  return kept
}

/**
 * True searches of a keyword in a calendar month (months counted from year 0) in its whole country.
 * Season of head and aspect, a slow trend of the head, a few shocks of heads, noise of the keyword.
 */
export function trueSearches(world: DemandWorld, keyword: Keyword, month: number): number {
  const { peak, depth, slope, shockMonth, shocked } = headDemands(world)[keyword.head]!
  const aspect = world.aspects[keyword.aspect]!
  const calendar = month % 12
  let season = 1 + depth * Math.cos(((calendar - peak) / 6) * Math.PI)
  if (aspect.season) season *= 1 + 0.9 * Math.exp(-((circularGap(calendar, aspect.season - 1) / 1.3) ** 2))
  const trend = Math.exp(slope * (month - 2026 * 12))
  const since = month - shockMonth
  const shock = shocked && since >= 0 ? 1 + 1.5 * Math.exp(-since / 2.5) : 1
  return keyword.base * season * trend * shock * Math.exp(0.07 * bell3(mix(world.seed, 33), keyword.id, month))
}

const circularGap = (a: number, b: number): number => Math.min((a - b + 12) % 12, (b - a + 12) % 12)
