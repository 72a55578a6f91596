import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { type Themes, withoutAlone } from './group-themes.ts'

/** A word in more than this share of the keywords is what all are about, and parts nothing. */
const commonShare = 0.5

/**
 * Themes by words, where no result pages are known: keywords are gone through in their order; one that has all words of a lead besides those
 * that most keywords have joins it; of several leads the one with most words, then the first. Rougher than shared results: one meaning in other words stays apart.
 * O(keywords × words² + keywords).
 */
export function groupByWords(phrases: readonly string[], language: string): Themes {
  const stemsOf = phrases.map(phrase => [...new Set(contentStems(splitWords(phrase), language))].sort())
  const times = new Map<string, number>()
  for (const stems of stemsOf) for (const stem of stems) times.set(stem, (times.get(stem) ?? 0) + 1)
  const most = Math.max(1, commonShare * phrases.length)
  const telling = stemsOf.map(stems => stems.filter(stem => times.get(stem)! <= most))
  const leadsByStem = new Map<string, number[]>()
  const groupOf = new Int32Array(phrases.length)
  const leadOf: number[] = []
  const wordsOf: number[] = []
  for (let i = 0; i < phrases.length; i++) {
    const hits = new Map<number, number>()
    for (const stem of telling[i]!)
      for (const group of leadsByStem.get(stem) ?? []) hits.set(group, (hits.get(group) ?? 0) + 1)
    let best = -1
    for (const [group, count] of hits)
      if (count === wordsOf[group] && (best < 0 || count > wordsOf[best]! || (count === wordsOf[best] && group < best)))
        best = group
    if (best < 0) {
      best = leadOf.length
      leadOf.push(i)
      wordsOf.push(telling[i]!.length)
      for (const stem of telling[i]!) {
        const list = leadsByStem.get(stem)
        if (list) list.push(best)
        else leadsByStem.set(stem, [best])
      }
    }
    groupOf[i] = best
  }
  return withoutAlone(groupOf, leadOf)
}
