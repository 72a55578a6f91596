import { languageWords } from './language-words.ts'
import { splitWords, wordsOf } from './split-words.ts'
import { stem } from './stem.ts'

/** How a text covers a phrase: it says the whole phrase, it has all its words somewhere, or it does not have all of them. */
export type Cover = 'phrase' | 'words' | 'no'

/** Stems of a phrase, or of its words, without function words; of a phrase of nothing else, of all its words. */
export function contentStems(phrase: string | readonly string[], language: string): string[] {
  const idle = languageWords(language).functionWords
  const words = wordsOf(phrase)
  const content = words.filter(word => !idle.has(word))
  const stems: string[] = []
  for (const word of content.length ? content : words) {
    const each = stem(word, language)
    // A phrase has a handful of words: looking through them is cheaper than a set.
    if (!stems.includes(each)) stems.push(each)
  }
  return stems
}

/** Stems of a text without function words; none of one that has nothing else. O(words). */
export function textStems(text: string, language: string): Set<string> {
  const idle = languageWords(language).functionWords
  return new Set(
    splitWords(text)
      .filter(word => !idle.has(word))
      .map(word => stem(word, language)),
  )
}

/** A reader of one text that tells how it covers phrases. Reading is O(words of the text), each question O(words of the phrase) but for a search of the text. */
export function coverageOf(text: string, language: string): (phrase: string) => Cover {
  const words = splitWords(text)
  const line = ` ${words.join(' ')} `
  const stems = new Set(words.map(word => stem(word, language)))
  return phrase => {
    const wanted = splitWords(phrase)
    if (!wanted.length) return 'no'
    if (line.includes(` ${wanted.join(' ')} `)) return 'phrase'
    return contentStems(phrase, language).every(each => stems.has(each)) ? 'words' : 'no'
  }
}

/** Whether a phrase is a longer form of a head: it has all the head's words and at least one content word more. */
export function isLonger(phrase: string, head: string, language: string): boolean {
  const stems = contentStems(phrase, language)
  const ofHead = contentStems(head, language)
  return stems.length > ofHead.length && ofHead.every(each => stems.includes(each))
}

/**
 * What there is to gain from covering a keyword, in money a month: searches × CPC × ease, ease falling from 1 at difficulty 0 to 0 at 100.
 * `null` when searches or CPC are not known; an unknown difficulty counts as 50, which callers say.
 */
export const coverValue = (searches: number | null, cpc: number | null, difficulty: number | null): number | null =>
  searches === null || cpc === null ? null : searches * cpc * (1 - (difficulty ?? 50) / 100)
