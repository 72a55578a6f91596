/** Results of a keyword on one day: `at` counts days from the first; `sites` by number in order of position, 0 = not known. */
export type KeptDay = { at: number; sites: readonly number[] }

/**
 * Visits that sites got by day, worked out from the result pages kept of keywords. A page counts for its own day and those after it up to the
 * next one, `carryDays` at most, as a place is taken to be what it was when it was last looked at. Days are numbered from 0 below `days`.
 * Memory: 8 bytes a site and day.
 */
export class KeptVoices {
  readonly #days: number
  readonly #carryDays: number
  /** What each site gains from one day to the next. */
  readonly #steps = new Map<number, Float64Array>()
  readonly #all: Float64Array
  readonly #keywords: Int32Array
  readonly #looked: Uint8Array

  constructor(days: number, carryDays: number) {
    this.#days = days
    this.#carryDays = carryDays
    this.#all = new Float64Array(days + 1)
    this.#keywords = new Int32Array(days + 1)
    this.#looked = new Uint8Array(days)
  }

  /** Adds a keyword: its days, the earliest first, and the visits of each position (`visits[position]`; null = unknown, adds nothing). O(results). */
  add(kept: readonly KeptDay[], visits: ReadonlyArray<number | null>): void {
    for (const [i, { at, sites }] of kept.entries()) {
      if (at >= this.#days) return
      const until = Math.min(this.#days, kept[i + 1]?.at ?? Number.POSITIVE_INFINITY, at + this.#carryDays + 1)
      const from = Math.max(0, at)
      if (until <= from) continue
      if (at >= 0) this.#looked[at] = 1
      this.#keywords[from]!++
      this.#keywords[until]!--
      for (let place = 1; place <= sites.length && place < visits.length; place++) {
        const [site, gained] = [sites[place - 1]!, visits[place] ?? 0]
        if (!gained) continue
        this.#all[from]! += gained
        this.#all[until]! -= gained
        if (!site) continue
        let steps = this.#steps.get(site)
        if (!steps) this.#steps.set(site, (steps = new Float64Array(this.#days + 1)))
        steps[from]! += gained
        steps[until]! -= gained
      }
    }
  }

  /**
   * Days on which pages were fetched and at least `leastShare` of the most keywords ever known at once were known, with the visits of all sites
   * together and of each, most first. A day of few keywords says nothing of the others.
   */
  days(leastShare: number): Array<{ at: number; all: number; sites: Array<{ site: number; visits: number }> }> {
    const keywords = sums(this.#keywords)
    const all = sums(this.#all)
    const bySite = [...this.#steps].map(([site, steps]) => ({ site, visits: sums(steps) }))
    const most = Math.max(0, ...keywords)
    const found = []
    for (let at = 0; at < this.#days; at++) {
      if (!this.#looked[at] || keywords[at]! < leastShare * most || all[at]! <= nothing) continue
      const sites = bySite
        .map(({ site, visits }) => ({ site, visits: visits[at]! > nothing ? visits[at]! : 0 }))
        .filter(each => each.visits > 0)
        .sort((a, b) => b.visits - a.visits || a.site - b.site)
      found.push({ at, all: all[at]!, sites })
    }
    return found
  }
}

/** What is left of visits that came and went again is a rounding of sums. */
const nothing = 1e-6

function sums(steps: ArrayLike<number>): Float64Array {
  const out = new Float64Array(steps.length)
  let sum = 0
  for (let i = 0; i < steps.length; i++) out[i] = sum += steps[i]!
  return out
}
