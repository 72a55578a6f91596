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
  const kept = familyWords(words)
  let key = kept[0]?.stem ?? ''
  for (let i = 1; i < kept.length; i++) key += ` ${kept[i]!.stem}`
  return key
}

/** The words whose stems make the key, in its order. */
export function familyWords<W extends WordFacts>(words: readonly W[]): W[] {
  let onlyIdle = true
  for (const word of words) onlyIdle &&= word.idle
  // A phrase has a handful of words: putting each in its place is cheaper than a set and a sort.
  const kept: W[] = []
  for (const word of words) {
    if (word.idle && !onlyIdle) continue
    let at = kept.length
    while (at > 0 && kept[at - 1]!.stem > word.stem) at--
    if (at > 0 && kept[at - 1]!.stem === word.stem) continue
    kept.push(word)
    for (let i = kept.length - 1; i > at; i--) kept[i] = kept[i - 1]!
    kept[at] = word
  }
  return kept
}
