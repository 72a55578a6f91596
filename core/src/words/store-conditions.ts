import { normalForm } from './normal-form.ts'
import { splitWords } from './split-words.ts'
import { stem } from './stem.ts'

/** What a keyword must meet to be stored. Thresholds: searches a month and cost per click at least, number of words. */
export type StoreConditions = {
  must: readonly string[]
  leaveOut: readonly string[]
  searches: number | null
  cpc: number | null
  wordsFrom: number | null
  wordsTo: number | null
}
export type Unmet = 'must-have words' | 'left-out words' | 'number of words' | 'searches' | 'CPC'

/**
 * The first condition a keyword does not meet, or `null` when it meets all. A term of several words must stand in a row. Must-have words are
 * met by any form of them ("shelf" by "shelves"), words to leave out are whole words as typed, since "cheap" does not mean "cheaper". A figure
 * that is unknown (`null`) meets every threshold.
 */
export function unmetCondition(
  phrase: string,
  figures: { searches: number | null; cpc: number | null },
  conditions: StoreConditions,
  language: string,
): Unmet | null {
  const words = splitWords(phrase)
  const text = ` ${words.join(' ')} `
  const has = (term: string): boolean => text.includes(` ${splitWords(term).join(' ')} `)
  const stemsOf = (of: readonly string[]): string => ` ${of.map(word => stem(word, language)).join(' ')} `
  const stems = conditions.must.length ? stemsOf(words) : ''
  if (!conditions.must.every(term => has(term) || stems.includes(stemsOf(splitWords(term))))) return 'must-have words'
  if (conditions.leaveOut.some(has)) return 'left-out words'
  if (conditions.wordsFrom !== null && words.length < conditions.wordsFrom) return 'number of words'
  if (conditions.wordsTo !== null && words.length > conditions.wordsTo) return 'number of words'
  if (conditions.searches !== null && figures.searches !== null && figures.searches < conditions.searches)
    return 'searches'
  if (conditions.cpc !== null && figures.cpc !== null && figures.cpc < conditions.cpc) return 'CPC'
  return null
}

/** Whether anything has to be known of a keyword's figures before it can be judged. */
export const wantsFigures = (conditions: StoreConditions): boolean =>
  (conditions.searches ?? 0) > 0 || (conditions.cpc ?? 0) > 0

/**
 * Reads a seed with words of its own: "pottery wheel +beginner -used -\"second hand\"" is the seed "pottery wheel", which
 * must have "beginner" and leaves out "used" and "second hand". A sign counts only at the start of a word.
 */
export function readSeed(text: string): { seed: string; must: string[]; leaveOut: string[] } {
  const must: string[] = []
  const leaveOut: string[] = []
  const rest = text.replace(/(^|\s)([+-])(?:"([^"]+)"|(\S+))/g, (_, gap: string, sign: string, quoted, word) => {
    const term = normalForm(String(quoted ?? word))
    if (term) (sign === '+' ? must : leaveOut).push(term)
    return gap
  })
  return { seed: normalForm(rest), must, leaveOut }
}
