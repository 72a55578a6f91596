import { contentStems, textStems } from '../words/coverage.ts'
import type { SeenResult } from './term-coverage.ts'
import { subjectWords } from './subject.ts'

/** How many of many different results say each word (stem, without function words) in title or snippet. */
export type WordCounts = { results: number; having: Record<string, number> }

/** Words fewer results say than this are left out: half of all words, which tell no more than those that are not known at all. */
const leastHaving = 2
/** The first results, from which the modifier words' meaning is read, and those whose mean counts as 50. */
const [tellingResults, usualResults] = [10, 10]
/** The keyword itself says its words like this many results. */
const ownVoices = 2
/** Shares below this tell nothing. */
const leastShare = 0.02
/** The lift of a word that all say here and nobody elsewhere. */
const mostLift = Math.log((1 + leastShare) / leastShare)

/** Counts words over results of many keywords, each address once. */
export class WordTally {
  readonly #counted = new Set<string>()
  readonly #having = new Map<string, number>()

  /** Adds a result page. O(words). */
  add(results: readonly SeenResult[], language: string): void {
    for (const { url, title, snippet } of results) {
      if (this.#counted.has(url)) continue
      this.#counted.add(url)
      for (const word of textStems(`${title} ${snippet}`, language))
        this.#having.set(word, (this.#having.get(word) ?? 0) + 1)
    }
  }

  counts(): WordCounts {
    const often = [...this.#having].filter(([, count]) => count >= leastHaving)
    return { results: this.#counted.size, having: Object.fromEntries(often) }
  }
}

/**
 * How far each result answers the keyword's modifier words, those beside its subject ("ideas" in "ash glaze ideas"), 0–100, 50 as the
 * first ten do on average; `null` without `counts`, or where the keyword has no modifier words. Of the words (stems) of its title, without the name behind a dash, and of the first clause
 * of its snippet, but for those of the subject, the most telling counts: ln of the share of the other first ten results that say it over
 * the share of all known results that do. So "Wax resist inspiration" answers "ash glaze ideas" better than a page on another side of the
 * subject does, when others say both. O(words of the results).
 */
export function modifierShares(
  keyword: string,
  results: readonly SeenResult[],
  language: string,
  counts: WordCounts | undefined,
  subject: ReadonlySet<string> = subjectWords(keyword, results, language),
): Array<number | null> {
  if (!counts?.results) return results.map(() => null)
  const own = new Set(contentStems(keyword, language))
  const resultStems = results.map(({ title, snippet }) => textStems(`${title} ${snippet}`, language))
  // One more than tell, for the position of the result that is being scored.
  const first = resultStems.slice(0, tellingResults + 1)
  const having = new Map<string, number>()
  for (const words of first) for (const word of words) having.set(word, (having.get(word) ?? 0) + 1)
  const lifts = results.map((result, i) => {
    const self = i < first.length ? 1 : 0
    const voices = first.length - self + ownVoices
    let most = 0
    for (const word of textStems(leadOf(result), language)) {
      if (subject.has(word)) continue
      const others = (having.get(word) ?? 0) - (self && resultStems[i]!.has(word) ? 1 : 0)
      const share = (others + (own.has(word) ? ownVoices : 0)) / voices
      // A word may be called like what every object has, such as "constructor".
      const all = Object.hasOwn(counts.having, word) ? counts.having[word]! : 0
      const usual = (all + 0.5) / (counts.results + 1)
      most = Math.max(most, Math.log((share + leastShare) / (usual + leastShare)))
    }
    return most
  })
  const usual = lifts.slice(0, usualResults)
  const mean = usual.reduce((sum, lift) => sum + lift, 0) / usual.length
  return lifts.map(lift => (mean > 0 ? 50 + (50 * (lift - mean)) / mostLift : null))
}

/** What a result says first: its title without the name behind a dash or bar, and the first clause of its snippet. */
const leadOf = ({ title, snippet }: SeenResult): string =>
  `${title.split(/\s[–—|-]\s/)[0]!}\n${snippet.split(/[:.!?]/)[0]!}`
