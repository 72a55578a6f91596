import { splitWords } from './split-words.ts'
import { factsOf } from './word-facts.ts'
import type { KeywordKind } from './keyword-kind.ts'

/** Phrases under the word that makes them of their kind; `weight` sums the known weights, null where none is. */
export type KindGroup<T> = { word: string; phrases: T[]; weight: number | null }

/**
 * Phrases of one kind under their words: questions under the question word, comparisons under the word that compares, those with a
 * preposition under it, all others under the first letter of what they have beside the seed. Groups by weight, then by how many they are,
 * then by alphabet; phrases in them by weight, unknown ones last. O(words).
 */
export function kindGroups<T extends { phrase: string; weight: number | null }>(
  phrases: readonly T[],
  kind: KeywordKind,
  language: string,
  seed: string | null,
): Array<KindGroup<T>> {
  const seedWords = new Set(seed === null ? [] : splitWords(seed))
  const groups = new Map<string, KindGroup<T>>()
  for (const each of phrases) {
    const word = decidingWord(splitWords(each.phrase), kind, language, seedWords)
    let group = groups.get(word)
    if (!group) groups.set(word, (group = { word, phrases: [], weight: null }))
    group.phrases.push(each)
    if (each.weight !== null) group.weight = (group.weight ?? 0) + each.weight
  }
  const list = [...groups.values()]
  for (const group of list) group.phrases.sort((a, b) => (b.weight ?? -1) - (a.weight ?? -1))
  return list.sort(
    (a, b) => (b.weight ?? -1) - (a.weight ?? -1) || b.phrases.length - a.phrases.length || (a.word < b.word ? -1 : 1),
  )
}

function decidingWord(
  words: readonly string[],
  kind: KeywordKind,
  language: string,
  seedWords: ReadonlySet<string>,
): string {
  const facts = words.map(word => factsOf(word, language))
  if (kind === 'question') return words[0] ?? ''
  if (kind === 'comparison') {
    const at = facts[0]?.difference ? 0 : facts.findIndex((each, i) => i > 0 && i < words.length - 1 && each.comparison)
    if (at >= 0) return words[at]!
  }
  if (kind === 'preposition') {
    const at = facts.findIndex((each, i) => i > 0 && each.preposition)
    if (at >= 0) return words[at]!
  }
  const beside = words.find(word => !seedWords.has(word)) ?? words[0] ?? ''
  return [...beside][0]?.toUpperCase() ?? ''
}
