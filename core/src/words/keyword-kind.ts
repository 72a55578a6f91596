import { wordsOf } from './split-words.ts'
import { factsOf, type WordFacts } from './word-facts.ts'

export const keywordKinds = ['question', 'comparison', 'preposition', 'completion', 'related'] as const
export type KeywordKind = (typeof keywordKinds)[number]

/**
 * Kind of a keyword: a comparison or question by its words, else one with a preposition inside, else by how it was found.
 * `phrase` may be given as its words. The first word decides a question; comparison words must stand between other words or lead ("difference between").
 */
export const keywordKind = (
  phrase: string | readonly string[],
  language: string,
  foundAsCompletion: boolean,
): KeywordKind =>
  kindOf(
    wordsOf(phrase).map(word => factsOf(word, language)),
    foundAsCompletion,
  )

/** The same of words whose facts are known. */
export function kindOf(words: readonly WordFacts[], foundAsCompletion: boolean): KeywordKind {
  if (words[0]?.difference) return 'comparison'
  let preposition = false
  for (let i = 1; i < words.length; i++) {
    if (words[i]!.comparison && i < words.length - 1) return 'comparison'
    preposition ||= words[i]!.preposition
  }
  if (words.length > 1 && words[0]!.question) return 'question'
  if (preposition) return 'preposition'
  return foundAsCompletion ? 'completion' : 'related'
}
