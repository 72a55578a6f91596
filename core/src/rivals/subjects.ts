import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'

export type Subject = { word: string; weight: number; keywords: number }

/**
 * What keywords are about: the words in them (without function words), by the summed weight of the keywords that have each, the heaviest
 * first, at most `most`. Forms of a word count together under the one that weighs most; a word in one keyword alone is no subject. A keyword
 * counts for each of its words. O(words).
 */
export function subjectsOf(
  keywords: ReadonlyArray<{ phrase: string; weight: number }>,
  language: string,
  most: number,
): Subject[] {
  const subjects = new Map<string, { weight: number; keywords: number; forms: Map<string, number> }>()
  for (const { phrase, weight } of keywords) {
    const words = splitWords(phrase)
    const meant = new Set(contentStems(words, language))
    const seen = new Set<string>()
    for (const word of words) {
      const key = stem(word, language)
      if (!meant.has(key) || seen.has(key)) continue
      seen.add(key)
      const subject = subjects.get(key) ?? { weight: 0, keywords: 0, forms: new Map() }
      subjects.set(key, subject)
      subject.weight += weight
      subject.keywords++
      subject.forms.set(word, (subject.forms.get(word) ?? 0) + weight)
    }
  }
  const heaviest = (forms: ReadonlyMap<string, number>): string =>
    [...forms].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))[0]![0]
  return [...subjects.values()]
    .filter(subject => subject.keywords > 1)
    .map(({ weight, keywords: count, forms }) => ({ word: heaviest(forms), weight, keywords: count }))
    .sort((a, b) => b.weight - a.weight || (a.word < b.word ? -1 : 1))
    .slice(0, most)
}
