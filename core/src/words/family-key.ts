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

/**
 * Key shared by keywords for which a source of figures may have one number: sorted distinct stems without function words, whatever their order
 * means. Wider than a family: sums count a figure once that keywords of one key share.
 */
export const figureKey = (phrase: string, language: string): string =>
  figureKeyOf(wordsOf(phrase).map(word => factsOf(word, language)))
export const figureKeyOf = (words: readonly WordFacts[]): string =>
  figureWords(words)
    .map(word => word.plain)
    .join(' ')
/** The words whose plain stems make that key, in its order. */
export function figureWords<W extends WordFacts>(words: readonly W[]): W[] {
  let onlyIdle = true
  for (const word of words) onlyIdle &&= word.idle
  // A phrase has a handful of words: putting each in its place is cheaper than a set and a sort.
  const kept: W[] = []
  for (const word of words) {
    if (word.idle && !onlyIdle) continue
    let at = kept.length
    while (at > 0 && kept[at - 1]!.plain > word.plain) at--
    if (at > 0 && kept[at - 1]!.plain === word.plain) continue
    kept.push(word)
    for (let i = kept.length - 1; i > at; i--) kept[i] = kept[i - 1]!
    kept[at] = word
  }
  return kept
}

/** The key of a family of words whose facts are known. */
export function familyOf(words: readonly WordFacts[]): string {
  const kept = familyWords(words)
  let key = kept[0]?.stem ?? ''
  for (let i = 1; i < kept.length; i++) key += ` ${kept[i]!.stem}`
  return key + familyOrder(words)
}

/** The words whose stems make the key, in its order. */
function familyWords(words: readonly WordFacts[]): WordFacts[] {
  let onlyIdle = true
  for (const word of words) onlyIdle &&= word.idle
  const kept: WordFacts[] = []
  const end = words.length - 1
  for (let w = 0; w <= end; w++) {
    const word = words[w]!
    if (word.idle && !onlyIdle && !(w === end && w > 0 && word.binds === 'last' && !words[w - 1]!.idle)) continue
    let at = kept.length
    while (at > 0 && kept[at - 1]!.stem > word.stem) at--
    // Said again behind a preposition it means something of its own: "home kiln for home".
    if (at > 0 && kept[at - 1]!.stem === word.stem && !isBehindPreposition(words, w)) continue
    kept.push(word)
    for (let i = kept.length - 1; i > at; i--) kept[i] = kept[i - 1]!
    kept[at] = word
  }
  return kept
}

function isBehindPreposition(words: readonly WordFacts[], at: number): boolean {
  let before = at - 1
  while (before > 0 && words[before]!.idle && !words[before]!.preposition) before--
  return before > 0 && words[before]!.preposition
}

/** What of the order counts, as the end of a key: " ?" for a question by its first word, " >rome" for what a direction or a doing leads to; empty for most phrases. */
function familyOrder(words: readonly WordFacts[]): string {
  // "Is it safe" asks what "it safe" does not.
  let order = words.length > 2 && words[0]!.question && words[0]!.idle ? ' ?' : ''
  for (let i = 0; i + 1 < words.length; i++) {
    const { binds, idle } = words[i]!
    const next = words[i + 1]!
    if (next.idle) continue
    const isDoing = binds === 'doing' && !idle && !next.question && !next.comparison && !next.preposition
    const isTarget = binds === 'target' && i > 0 && !words[i - 1]!.idle && words[i - 1]!.binds !== 'complement'
    if (isDoing || isTarget) order += ` >${next.stem}`
  }
  return order
}
