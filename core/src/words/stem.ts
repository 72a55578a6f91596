/// <reference path="./snowball-stemmers.d.ts" />
import snowball from 'snowball-stemmers'
import { languageWords } from './language-words.ts'
import { knownStem, plainForm } from './word-forms.ts'

type Stemmer = { stem(word: string): string }
const stemmers = new Map<string, { stemmer: Stemmer | null; known: Map<string, string> }>()
/** Stems kept per language: keywords repeat their words. Emptied when full so that memory stays bounded. */
const mostKept = 200_000

/**
 * Snowball stem of one lower-case word (Porter 2001), of its singular and American spelling in English, except for words that it would join with
 * another meaning (`word-forms`); languages without a stemmer, and words with a digit, give the word back.
 * Example: stem('wheels', 'en') → 'wheel'.
 */
export function stem(word: string, language: string): string {
  let ours = stemmers.get(language)
  if (!ours) {
    const name = languageWords(language).stemmer
    ours = { stemmer: name ? snowball.newStemmer(name) : null, known: new Map() }
    stemmers.set(language, ours)
  }
  const { stemmer, known } = ours
  // Model numbers and years have no forms, and there is no end of them.
  if (!stemmer || hasDigit(word)) return word
  const hit = known.get(word)
  if (hit !== undefined) return hit
  const result = knownStem(word, language) ?? stemmer.stem(plainForm(word, language))
  if (known.size >= mostKept) known.clear()
  known.set(word, result)
  return result
}

function hasDigit(word: string): boolean {
  for (let i = 0; i < word.length; i++) {
    const code = word.charCodeAt(i)
    if (code >= 48 && code <= 57) return true
  }
  return false
}
