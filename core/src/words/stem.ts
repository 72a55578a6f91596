/// <reference path="./snowball-stemmers.d.ts" />
import snowball from 'snowball-stemmers'
import { languageWords } from './language-words.ts'

const stemmers = new Map<string, { stem(word: string): string } | null>()
const known = new Map<string, string>()
/** Stems kept per process: keywords repeat their words. Emptied when full so that memory stays bounded. */
const mostKept = 200_000

/**
 * Snowball stem of one lower-case word (Porter 2001); languages without a stemmer give the word back.
 * Example: stem('wheels', 'en') → 'wheel'.
 */
export function stem(word: string, language: string): string {
  const key = `${language}:${word}`
  const hit = known.get(key)
  if (hit !== undefined) return hit
  let stemmer = stemmers.get(language)
  if (stemmer === undefined) {
    const name = languageWords(language).stemmer
    stemmer = name ? snowball.newStemmer(name) : null
    stemmers.set(language, stemmer)
  }
  const result = stemmer ? stemmer.stem(word) : word
  if (known.size >= mostKept) known.clear()
  known.set(key, result)
  return result
}
