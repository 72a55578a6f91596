/// <reference path="./snowball-stemmers.d.ts" />
import snowball from 'snowball-stemmers'
import { languageWords } from './language-words.ts'
import { knownStem, plainForm } from './word-forms.ts'

type Stemmer = { stem(word: string): string }
const stemmers = new Map<string, { stemmer: Stemmer | null; known: Map<string, Stems> }>()
/** Stems kept per language: keywords repeat their words. Emptied when full so that memory stays bounded. */
const mostKept = 200_000

/**
 * Snowball stem of one lower-case word (Porter 2001), of its singular and American spelling in English, except for words that it would join with
 * another meaning (`word-forms`); languages without a stemmer, and words with a digit, give the word back.
 * Example: stem('wheels', 'en') → 'wheel'.
 */
export const stem = (word: string, language: string): string => stems(word, language).telling

/** The same without those exceptions: words that sources of figures take for one. */
export const plainStem = (word: string, language: string): string => stems(word, language).plain

type Stems = { telling: string; plain: string }
function stems(word: string, language: string): Stems {
  let ours = stemmers.get(language)
  if (!ours) {
    const name = languageWords(language).stemmer
    ours = { stemmer: name ? snowball.newStemmer(name) : null, known: new Map() }
    stemmers.set(language, ours)
  }
  const { stemmer, known } = ours
  // Model numbers and years have no forms, and there is no end of them.
  if (!stemmer || hasDigit(word)) return { telling: word, plain: word }
  const hit = known.get(word)
  if (hit !== undefined) return hit
  const plain = stemmer.stem(plainForm(word, language))
  const result = { telling: knownStem(word, language) ?? plain, plain }
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
