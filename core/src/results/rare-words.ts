import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'
import type { SeenResult } from './rewarded-words.ts'

/** The results that tell which words are common, and the share of titles from which on one is. */
const tellingResults = 20
const commonShare = 0.6

/**
 * Of the keyword's words (stems, without function words) that most other titles lack, the share that each result has in its title, 0–100:
 * the words that tell what somebody wants of a subject, where the common ones only name it. `null` where the others have all words.
 * O(results · words).
 */
export function rareWordShares(
  keyword: string,
  results: readonly Pick<SeenResult, 'title'>[],
  language: string,
): Array<number | null> {
  const stems = contentStems(keyword, language)
  const titles = results.map(({ title }) => new Set(splitWords(title).map(word => stem(word, language))))
  const telling = Math.min(tellingResults, titles.length)
  const having = stems.map(each => titles.slice(0, telling).filter(title => title.has(each)).length)
  return titles.map((title, i) => {
    const self = i < telling ? 1 : 0
    const others = telling - self
    const rare = stems.filter((each, word) => {
      const count = having[word]! - (self && title.has(each) ? 1 : 0)
      return !others || count / others < commonShare
    })
    return rare.length ? (100 * rare.filter(each => title.has(each)).length) / rare.length : null
  })
}
