import { type Chances, chancePositions, positionChances } from './first-page.ts'
import type { Strength, StrengthModel } from './strength.ts'

/** What separates a page from those above it: how much one feature adds to them, on average, beyond what it adds to it. */
export type Gap = { feature: Strength['parts'][number]['feature']; adds: number }
/**
 * The page of a site that stands already. `place`: where. `first`: its chance of the first page, as its strength tells, 1 where it stands there; `higher`: of standing higher
 * than it does, `null` at the top. `gap`: what explains that others stand above it, most first; empty: nothing that is known does.
 */
export type StandingPage = { position: number; first: number; higher: number | null; gap: Gap[] }

/** A feature explains a part of the gap from this on, in strength and as a share of the whole. */
const tellingAdds = 0.15
const tellingShare = 0.15
const firstPage = 10

/** Chance (0–1) of a place within k, by straight lines between the places that chances are told of; beyond the last it stays. */
export function chanceWithin(chances: Chances, k: number): number {
  let [position, chance] = [0, 0]
  for (const next of chancePositions) {
    if (k <= next) return chance + ((chances[next] - chance) * (k - position)) / (next - position)
    ;[position, chance] = [next, chances[next]]
  }
  return chance
}

/**
 * Judges the result at index `at` among the others: by its strength alone, as if it were not known where it stands. Compared with the first ten
 * where it stands below them, else with those above it.
 */
export function standingPage(
  at: number,
  position: number,
  results: readonly Strength[],
  model: StrengthModel,
): StandingPage {
  const own = results[at]!
  const chances = positionChances(
    own.strength,
    results.filter((_, i) => i !== at).map(result => result.strength),
    model,
    false,
  )
  const above = results.slice(0, Math.min(at, firstPage))
  return {
    position,
    first: position <= firstPage ? 1 : (chances?.[10] ?? 1),
    higher: position === 1 || !chances ? null : chanceWithin(chances, position - 1),
    gap: above.length ? gapOf(own, above) : [],
  }
}

function gapOf(own: Strength, above: readonly Strength[]): Gap[] {
  const addsOf = (of: Strength, feature: Gap['feature']): number =>
    of.parts.find(part => part.feature === feature)?.adds ?? 0
  const features = [...new Set([own, ...above].flatMap(result => result.parts.map(part => part.feature)))]
  const gaps = features.map(feature => ({
    feature,
    adds: above.reduce((sum, result) => sum + addsOf(result, feature), 0) / above.length - addsOf(own, feature),
  }))
  const whole = gaps.reduce((sum, gap) => sum + Math.max(0, gap.adds), 0)
  return gaps.filter(gap => gap.adds >= Math.max(tellingAdds, tellingShare * whole)).sort((a, b) => b.adds - a.adds)
}
