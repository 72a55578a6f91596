import { textStems } from '../words/coverage.ts'
import type { SeenResult } from './term-coverage.ts'

/** The results that tell what a page is about, and those whose mean counts as 50. */
const tellingResults = 20
const usualResults = 10

/**
 * How much each result speaks of what the other results of its page speak of, 0–100: every word (stem) of its title and snippet counts
 * the squared share of the other results among the first 20 that have it too; the sum is divided by the root of the number of its words,
 * so that long snippets gain nothing by length. 50 is the mean of the first ten. This is how pages show that they mean the same by a
 * query, whatever its words are. O(words of the results).
 */
export function similarityShares(results: readonly SeenResult[], language: string): number[] {
  const words = results.map(({ title, snippet }) => [...textStems(`${title} ${snippet}`, language)])
  const telling = Math.min(tellingResults, results.length)
  const having = new Map<string, number>()
  for (const list of words.slice(0, telling)) for (const word of list) having.set(word, (having.get(word) ?? 0) + 1)
  const sums = words.map((list, i) => {
    const self = i < telling ? 1 : 0
    const others = telling - self
    if (!list.length || !others) return 0
    let sum = 0
    for (const word of list) sum += (((having.get(word) ?? 0) - self) / others) ** 2
    return sum / Math.sqrt(list.length)
  })
  const first = sums.slice(0, usualResults)
  const usual = first.reduce((sum, each) => sum + each, 0) / first.length
  // Results that share no word with each other say nothing about likeness.
  return sums.map(sum => (usual > 0 ? Math.min(100, (50 * sum) / usual) : 50))
}
