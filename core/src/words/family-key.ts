import { wordsOf } from './split-words.ts'
import { factsOf, type WordFacts } from './word-facts.ts'

/**
 * Key shared by the forms of one keyword: sorted distinct stems without function words, joined by a space. A phrase of
 * function words alone keeps them, so that it does not fall together with others. `phrase` may be given as its words.
 * O(words log words).
 * Example: "wheels for pottery" and "pottery wheel" → "potteri wheel".
 */
export const familyKey = (phrase: string | readonly string[], language: string): string =>
  familyOf(wordsOf(phrase).map(word => factsOf(word, language)))

/** The same of words whose facts are known. */
export function familyOf(words: readonly WordFacts[]): string {
  let onlyIdle = true
  for (const word of words) onlyIdle &&= word.idle
  // A phrase has a handful of words: putting each in its place is cheaper than a set and a sort.
  const stems: string[] = []
  for (const { stem, idle } of words) {
    if (idle && !onlyIdle) continue
    let at = stems.length
    while (at > 0 && stems[at - 1]! > stem) at--
    if (at > 0 && stems[at - 1] === stem) continue
    stems.push(stem)
    for (let i = stems.length - 1; i > at; i--) stems[i] = stems[i - 1]!
    stems[at] = stem
  }
  let key = stems[0] ?? ''
  for (let i = 1; i < stems.length; i++) key += ` ${stems[i]}`
  return key
}
