import { languageWords } from '../words/language-words.ts'
import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'
import type { SeenResult } from './term-coverage.ts'
import { subjectWords } from './subject.ts'

/** The results that tell what is said of a keyword, and those of which the best counts as 100. */
const tellingResults = 20
const usualResults = 10
/** Words of a phrase, at the least and the most. */
const [fewestWords, mostWords] = [2, 3]
/** What a result that says the keyword itself has at least: the engine may know it under another name. */
const ownShare = 0.5

export type SharedPhrases = {
  /** By result: 0–100, 100 as the best of the first ten; `null` where no phrase is shared at all. */
  shares: Array<number | null>
  /** The phrase that most of the first results share, as it was first written; `null` when no two share one. */
  phrase: string | null
}

/**
 * How far each result says what the other results say of a keyword's subject: phrases of its title and snippet that have the subject
 * (`subjectWords`) and one word more, in any order, such as "kiln price" for "kiln cost"; each counts the share of the other first 20
 * results with it, and a result has its best. Where the whole keyword is the subject, or none of it, phrases have as many words as the
 * keyword, all but one of its. A page about the subject alone, or about the same aspect of another subject, has none. O(words).
 */
export function sharedPhrases(
  keyword: string,
  results: readonly SeenResult[],
  language: string,
  subject: ReadonlySet<string> = subjectWords(keyword, results, language),
): SharedPhrases {
  const wanted = new Set(contentStems(keyword, language))
  const isPart = subject.size > 0 && subject.size < wanted.size
  const about = isPart ? subject : wanted
  const size = Math.max(fewestWords, Math.min(mostWords, isPart ? subject.size + 1 : wanted.size))
  const least = Math.min(about.size, size - 1)
  const idle = languageWords(language).functionWords
  const phrasesOf = ({ title, snippet }: SeenResult): Map<string, string> => {
    const found = new Map<string, string>()
    for (const clause of `${title}\n${snippet}`.split(/[^\p{L}\p{N}\p{M}'’ -]+|\s-\s/u)) {
      const words = splitWords(clause)
      const content = words.flatMap((word, at) => (idle.has(word) ? [] : [{ at, stem: stem(word, language) }]))
      for (let i = 0; i + size <= content.length; i++) {
        const part = content.slice(i, i + size)
        const stems = new Set(part.map(each => each.stem))
        if (stems.size < size || [...stems].filter(each => about.has(each)).length < least) continue
        const key = [...stems].sort().join(' ')
        if (!found.has(key)) found.set(key, words.slice(part[0]!.at, part.at(-1)!.at + 1).join(' '))
      }
    }
    return found
  }
  const phrases = results.map(phrasesOf)
  const telling = Math.min(tellingResults, results.length)
  const having = new Map<string, number>()
  for (const list of phrases.slice(0, telling))
    for (const key of list.keys()) having.set(key, (having.get(key) ?? 0) + 1)
  const isOwn = (key: string): boolean => key.split(' ').every(each => wanted.has(each))
  const best = phrases.map((list, i) => {
    const self = i < telling ? 1 : 0
    const others = Math.max(1, telling - self)
    let share = 0
    for (const key of list.keys())
      share = Math.max(share, ((having.get(key) ?? 0) - self) / others, isOwn(key) ? ownShare : 0)
    return share
  })
  const most = Math.max(0, ...best.slice(0, usualResults))
  let common: [key: string, count: number] | null = null
  for (const each of having) if (each[1] > 1 && each[1] > (common?.[1] ?? 0)) common = each
  const wording = common && phrases.find(list => list.has(common![0]))!.get(common[0])!
  return { shares: best.map(share => (most > 0 ? Math.min(100, (100 * share) / most) : null)), phrase: wording }
}
