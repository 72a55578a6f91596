import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'
import { addressWords } from './phrase-fit.ts'

export type SeenResult = { title: string; url: string; snippet: string }
/** How much it counts to have a word in the title, the snippet, the address. */
const positionsOfWords = { title: 0.5, snippet: 0.3, address: 0.2 }
/** The results that tell what a page rewards. */
const tellingResults = 20

/**
 * How much of what a result page rewards each result has, 0–100: the keyword's words (stems, without function words), each counted by the
 * share of the first 20 results that show it in title, address or snippet. A word that hardly any result has, such as an ornament of a
 * long query, is one the engine reads past, so lacking it costs little. O(results · words).
 */
export function coverageShares(keyword: string, results: readonly SeenResult[], language: string): number[] {
  const stems = contentStems(keyword, language)
  const has = (text: string): boolean[] => {
    const known = new Set(splitWords(text).map(word => stem(word, language)))
    return stems.map(each => known.has(each))
  }
  const rows = results.map(({ title, url, snippet }) => ({
    title: has(title),
    snippet: has(snippet),
    address: has(addressWords(url)),
  }))
  const top = rows.slice(0, tellingResults)
  const weights = stems.map((_, i) => {
    const shown = top.filter(row => row.title[i] || row.snippet[i] || row.address[i]).length
    // One half more on both sides: a word that no result has is rare, not worthless.
    return (shown + 0.5) / (top.length + 1)
  })
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  return rows.map(
    row =>
      (100 / all) *
      stems.reduce(
        (sum, _, i) =>
          sum +
          weights[i]! *
            ((row.title[i] ? positionsOfWords.title : 0) +
              (row.snippet[i] ? positionsOfWords.snippet : 0) +
              (row.address[i] ? positionsOfWords.address : 0)),
        0,
      ),
  )
}
