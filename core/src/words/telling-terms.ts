import { languageWords } from './language-words.ts'
import { splitWords } from './split-words.ts'

/** `pages`: texts of the group that have the term; `score`: log-likelihood ratio against the background. */
export type TellingTerm = { term: string; pages: number; score: number }

const longest = 3
/** A term is told when at least this many texts of the group have it. */
const leastPages = 3

/**
 * Log-likelihood ratio (Dunning 1993) that a term stands in `a` of `m` texts of a group and in `b` of `n` others: 0 when both have it
 * alike, larger the less likely that is by chance.
 */
export function logLikelihood(a: number, m: number, b: number, n: number): number {
  const share = (a + b) / (m + n)
  const part = (seen: number, expected: number): number => (seen > 0 ? seen * Math.log(seen / expected) : 0)
  return 2 * (part(a, m * share) + part(m - a, m * (1 - share)) + part(b, n * share) + part(n - b, n * (1 - share)))
}

/** Terms of one to three words of a text, none that begins or ends with a function word. */
export function termsOf(text: string, language: string): Set<string> {
  const idle = languageWords(language).functionWords
  const found = new Set<string>()
  for (const sentence of text.split(/[.!?;:\n|–—]+/)) {
    const words = splitWords(sentence)
    for (let at = 0; at < words.length; at++)
      for (let length = 1; length <= longest && at + length <= words.length; length++) {
        const last = words[at + length - 1]!
        if (idle.has(words[at]!) || idle.has(last) || (length === 1 && (last.length < 3 || /^\d+$/.test(last))))
          continue
        found.add(words.slice(at, at + length).join(' '))
      }
  }
  return found
}

/**
 * Terms that the texts of a group share and a background does not, most telling first. A term that only stands inside a longer one of
 * the same texts is left out. Without a background terms are ordered by how many texts have them. O(words of all texts).
 */
export function tellingTerms(
  group: readonly string[],
  background: readonly string[],
  language: string,
  most: number,
): TellingTerm[] {
  const count = (texts: readonly string[]): Map<string, number> => {
    const counts = new Map<string, number>()
    for (const text of texts) for (const term of termsOf(text, language)) counts.set(term, (counts.get(term) ?? 0) + 1)
    return counts
  }
  const here = count(group)
  const there = count(background)
  const share = (term: string): number => (there.get(term) ?? 0) / Math.max(1, background.length)
  const listed = [...here]
    .filter(([term, pages]) => pages >= leastPages && pages / group.length > share(term))
    .map(([term, pages]) => ({
      term,
      pages,
      score: background.length ? logLikelihood(pages, group.length, there.get(term) ?? 0, background.length) : pages,
    }))
    .sort((a, b) => b.score - a.score || b.term.length - a.term.length || (a.term < b.term ? -1 : 1))
  const longer = listed.filter(each => each.term.includes(' '))
  return listed
    .filter(
      each =>
        !longer.some(
          other => other !== each && other.pages >= each.pages && ` ${other.term} `.includes(` ${each.term} `),
        ),
    )
    .slice(0, most)
}
