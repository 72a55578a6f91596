import { contentStems, textStems } from '../words/coverage.ts'
import type { SeenResult } from './term-coverage.ts'

/** The results whose titles tell the subject. */
const tellingResults = 20
/** A word of the keyword that this share of the titles has is its subject; what is left of the keyword is asked of it. */
const subjectShare = 0.25

/** The words (stems) of a keyword that are its subject, by the titles of its first 20 results; none where no word is in a quarter of them. O(words). */
export function subjectWords(keyword: string, results: readonly SeenResult[], language: string): Set<string> {
  const titles = results.slice(0, tellingResults).map(result => textStems(result.title, language))
  const least = Math.max(1, subjectShare * titles.length)
  return new Set(
    contentStems(keyword, language).filter(word => titles.filter(title => title.has(word)).length >= least),
  )
}

/**
 * How much of the keyword's subject each result names in title or snippet, 0–100; `null` where the keyword has none. So results of a
 * keyword whose subject is one word and of one whose subject is three are told by the same measure. `words`: the subject, where the caller
 * has it. O(words of the results).
 */
export function subjectShares(
  keyword: string,
  results: readonly SeenResult[],
  language: string,
  words: ReadonlySet<string> = subjectWords(keyword, results, language),
): Array<number | null> {
  const subject = [...words]
  return results.map(({ title, snippet }) => {
    const stems = textStems(`${title} ${snippet}`, language)
    return subject.length ? (100 * subject.filter(word => stems.has(word)).length) / subject.length : null
  })
}
