import { splitWords } from '../words/split-words.ts'
import { factsOf } from '../words/word-facts.ts'

/** Keywords count as similar from this much of their words shared, by weight. */
const leastSimilarity = 0.2
/** What the keyword itself counts among those around it; one that is the same but for a word of three counts about as much. */
const ownWeight = 0.5
/** Keywords that are looked at for each word: of a word that more have, some in even steps. */
const mostOfWord = 128

/**
 * Smoothed chance of the first page for each keyword, 0–1: a weighted mean of its own chance and those of similar keywords, the weight being
 * their word overlap (weighted Jaccard by inverse frequency), so that the errors of single chances even out. `chances`: NaN = unknown; the
 * result is NaN where neither its own nor a similar one is known. `wanted`: indexes of the keywords to smooth, in that order.
 * O(words × 128).
 */
export function subjectChances(
  phrases: readonly string[],
  chances: ArrayLike<number>,
  language: string,
  wanted: Iterable<number>,
): Float64Array {
  const stemsOf = (phrase: string): string[] => [
    ...new Set(splitWords(phrase).map(word => factsOf(word, language).stem)),
  ]
  const having = new Map<string, number[]>()
  const known: string[][] = phrases.map((phrase, i) => {
    if (Number.isNaN(chances[i]!)) return []
    const stems = stemsOf(phrase)
    for (const stem of stems) {
      const list = having.get(stem)
      if (list) list.push(i)
      else having.set(stem, [i])
    }
    return stems
  })
  const count = known.reduce((sum, stems) => sum + (stems.length ? 1 : 0), 0)
  const weights = new Map([...having].map(([stem, list]) => [stem, Math.log((count + 1) / list.length)]))
  const weightOf = (stem: string): number => weights.get(stem) ?? Math.log(count + 1)
  const sumOf = (stems: readonly string[]): number => stems.reduce((sum, stem) => sum + weightOf(stem), 0)
  const totals = Float64Array.from(known, sumOf)
  const shared = new Float64Array(phrases.length)
  return Float64Array.from(wanted, at => {
    const stems = known[at]!.length ? known[at]! : stemsOf(phrases[at]!)
    const met: number[] = []
    for (const stem of stems) {
      const list = having.get(stem)
      if (!list) continue
      const step = Math.max(1, list.length / mostOfWord)
      for (let i = 0; i < list.length; i += step) {
        const other = list[Math.floor(i)]!
        if (!shared[other]) met.push(other)
        shared[other]! += weightOf(stem)
      }
    }
    const own = chances[at]!
    let [sum, weight] = Number.isNaN(own) ? [0, 0] : [ownWeight * own, ownWeight]
    const total = sumOf(stems)
    for (const other of met) {
      const similarity = shared[other]! / (total + totals[other]! - shared[other]!)
      shared[other] = 0
      if (other === at || similarity <= leastSimilarity) continue
      sum += similarity * chances[other]!
      weight += similarity
    }
    return weight ? sum / weight : Number.NaN
  })
}
