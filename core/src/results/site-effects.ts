import { sigmoid } from './logistic.ts'

/** A result, best first among its page's: its strength so far, and whom it is a result of (`undefined` = not known). */
export type ResultOfSite = { strength: number; key: string | undefined }

const rounds = 30
/** Newton steps are taken in part, since sites of one result page move against each other. */
const damping = 0.6

/**
 * What results of one site show of it beyond their strengths: one number each, fitted to the pairs of the same result pages
 * by damped Newton steps and drawn towards 0 as if `halfShown` results of no record stood beside its own (a random effect). Sites differ in
 * what no feature tells, such as how much of them is about the subject. `countOfPair`: what a pair
 * counts by the index of its upper result. Rounded to 0.001. O(rounds · pairs).
 */
export function fitSiteEffects(
  pages: ReadonlyArray<readonly ResultOfSite[]>,
  countOfPair: (upper: number) => number,
  halfShown: number,
): Record<string, number> {
  const number = new Map<string, number>()
  const results: number[] = []
  const rows = pages.map(page => ({
    strengths: Float64Array.from(page, ({ strength }) => strength),
    whose: Int32Array.from(page, ({ key }) => {
      if (key === undefined) return -1
      let at = number.get(key)
      if (at === undefined) number.set(key, (at = results.push(0) - 1))
      results[at]!++
      return at
    }),
  }))
  const siteEffects = new Float64Array(results.length)
  let pull = 0
  for (let round = 0; round < rounds; round++) {
    const [slope, bend] = [new Float64Array(siteEffects.length), new Float64Array(siteEffects.length)]
    for (const { strengths, whose } of rows)
      for (let i = 0; i < whose.length; i++) {
        const upper = whose[i]!
        if (upper < 0) continue
        const count = countOfPair(i)
        const reached = strengths[i]! + siteEffects[upper]!
        for (let j = i + 1; j < whose.length; j++) {
          const lower = whose[j]!
          if (lower < 0 || lower === upper) continue
          const chance = sigmoid(reached - strengths[j]! - siteEffects[lower]!)
          const rest = count * (1 - chance)
          slope[upper]! += rest
          slope[lower]! -= rest
          bend[upper]! += rest * chance
          bend[lower]! += rest * chance
        }
      }
    // Pairs of one result are not as many observations: the pull counts what one result weighs on average.
    if (!round)
      pull = (halfShown * bend.reduce((sum, each) => sum + each, 0)) / results.reduce((sum, each) => sum + each, 0)
    for (let at = 0; at < siteEffects.length; at++)
      siteEffects[at]! += (damping * (slope[at]! - pull * siteEffects[at]!)) / (bend[at]! + pull || 1)
  }
  return Object.fromEntries([...number].map(([key, at]) => [key, Math.round(siteEffects[at]! * 1_000) / 1_000]))
}
