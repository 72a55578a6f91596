import { type GroupMethod, groupMethods, groupThemes, type Themes, withoutAlone } from './group-themes.ts'
import { type KeywordPages, mostResults } from './keyword-pages.ts'
import { adjustedRand } from './rand-index.ts'
import { countSharedPairs, pairSteps, type SharedPairs } from './shared-pairs.ts'

export const thresholds = [1, 2, 3, 4, 5, 6, 7, 8, 9] as const
/**
 * What a threshold and method would make of the keywords. `threshold`: shared pages of ten. `possible`: false where no keyword has so many
 * results. `grouped`: keywords in a theme; `searches`: the share of all known searches that are, null where none is known. `steadiness`: how
 * far one page less and one more make the same of it: the lower of both adjusted Rand indices; null where there is neither.
 */
export type ThemePreview = {
  threshold: number
  method: GroupMethod
  possible: boolean
  themes: number
  grouped: number
  searches: number | null
  largest: number
  steadiness: number | null
}

/** Up to here all pairs are counted once and every threshold reads them; beyond, each is worked out by itself, in less memory. */
const mostPairSteps = 400_000_000
const [proposedFrom, proposedTo, nearSteadiest] = [3, 7, 0.02]

/** Pages that two keywords must share of the first `compared` results for a threshold of so many of ten. */
export const pagesNeeded = (threshold: number, compared: number): number => Math.ceil((threshold * compared) / 10)

/**
 * What every threshold from 1 to 9 and both methods make of the keywords. `searches`: of each keyword, null = unknown; where several are one
 * figure (a family), each its part of it. `compared`: how many of the first results were packed.
 */
export function previewThemes(
  packed: KeywordPages,
  searches: ReadonlyArray<number | null>,
  compared = 10,
): ThemePreview[] {
  const most = mostResults(packed)
  // Pairs that share a single page are most of all pairs, and only the first threshold asks for them.
  const pairs = pairSteps(packed) <= mostPairSteps ? countSharedPairs(packed, 2) : null
  const previews: ThemePreview[] = []
  for (const method of groupMethods) {
    let before: { themes: Themes; preview: ThemePreview } | null = null
    for (const threshold of thresholds) {
      const needed = pagesNeeded(threshold, compared)
      const possible = needed <= most
      const themes: Themes =
        pairs && needed >= 2 && possible
          ? groupByPairs(pairs, { threshold: needed, method })
          : groupThemes(packed, { threshold: needed, method })
      const preview: ThemePreview = { threshold, method, possible, ...sumsOf(themes, searches), steadiness: null }
      if (before && possible) {
        const agreement = adjustedRand(before.themes.themeOf, themes.themeOf)
        before.preview.steadiness = Math.min(before.preview.steadiness ?? 1, agreement)
        preview.steadiness = agreement
      }
      before = { themes, preview }
      previews.push(preview)
    }
  }
  return previews
}

/** The same themes as `groupThemes` gives, from pairs that are counted already. O(pairs). */
export function groupByPairs(
  { starts, others, shared }: SharedPairs,
  { threshold, method }: { threshold: number; method: GroupMethod },
): Themes {
  const count = starts.length - 1
  const groupOf = new Int32Array(count)
  const leadOf: number[] = []
  const sizes: number[] = []
  const hits = new Int32Array(count)
  const sums = new Int32Array(count)
  const touched = new Int32Array(count)
  for (let i = 0; i < count; i++) {
    let best = -1
    if (method === 'lead') {
      for (let at = starts[i]!; at < starts[i + 1]!; at++) {
        if (shared[at]! < threshold) continue
        const group = groupOf[others[at]!]!
        if (leadOf[group] === others[at] && (best < 0 || group < best)) best = group
      }
    } else {
      let some = 0
      for (let at = starts[i]!; at < starts[i + 1]!; at++) {
        if (shared[at]! < threshold) continue
        const group = groupOf[others[at]!]!
        if (hits[group]!++ === 0) touched[some++] = group
        sums[group]! += shared[at]!
      }
      for (let t = 0; t < some; t++) {
        const group = touched[t]!
        if (hits[group] !== sizes[group]) continue
        if (best < 0 || sums[group]! > sums[best]! || (sums[group] === sums[best] && group < best)) best = group
      }
      for (let t = 0; t < some; t++) hits[touched[t]!] = sums[touched[t]!] = 0
    }
    if (best < 0) {
      best = leadOf.length
      leadOf.push(i)
      sizes.push(0)
    }
    groupOf[i] = best
    sizes[best]!++
  }
  return withoutAlone(groupOf, leadOf)
}

function sumsOf(
  { themeOf, leads }: Themes,
  searches: ReadonlyArray<number | null>,
): Pick<ThemePreview, 'themes' | 'grouped' | 'searches' | 'largest'> {
  const sizes = new Int32Array(leads.length)
  let [grouped, inThemes, all] = [0, 0, 0]
  for (let i = 0; i < themeOf.length; i++) {
    const each = searches[i] ?? 0
    all += each
    if (themeOf[i]! < 0) continue
    grouped++
    sizes[themeOf[i]!]!++
    inThemes += each
  }
  const largest = sizes.reduce((most, size) => Math.max(most, size), 0)
  return { themes: leads.length, grouped, searches: all > 0 ? inThemes / all : null, largest }
}

/**
 * The threshold to propose for a method: of those from 3 to 7 whose steadiness is within 0.02 of the steadiest, that which leaves least
 * searches (without known searches, keywords) alone; ties lower. Where results are too few for 3, the highest possible; null where no
 * threshold joins anything.
 */
export function proposedThreshold(previews: readonly ThemePreview[], method: GroupMethod): number | null {
  const own = previews.filter(each => each.method === method && each.possible && each.themes > 0)
  const inRange = own.filter(each => each.threshold >= proposedFrom && each.threshold <= proposedTo)
  if (!inRange.length) return own.at(-1)?.threshold ?? null
  const steadiest = Math.max(...inRange.map(each => each.steadiness ?? -1))
  const near = inRange.filter(each => (each.steadiness ?? -1) >= steadiest - nearSteadiest)
  const inTheme = (each: ThemePreview): number => each.searches ?? each.grouped
  return near.toSorted((a, b) => inTheme(b) - inTheme(a) || a.threshold - b.threshold)[0]!.threshold
}
