import { languageWords } from './language-words.ts'
import { wordsOf } from './split-words.ts'

export const keywordKinds = ['question', 'comparison', 'preposition', 'completion', 'related'] as const
export type KeywordKind = (typeof keywordKinds)[number]

/**
 * Kind of a keyword: a comparison or question by its words, else one with a preposition inside, else by how it was found.
 * `phrase` may be given as its words. The first word decides a question; comparison words must stand between other words or lead ("difference between").
 */
export function keywordKind(
  phrase: string | readonly string[],
  language: string,
  foundAsCompletion: boolean,
): KeywordKind {
  const words = wordsOf(phrase)
  const lists = languageWords(language)
  if (
    words.some((word, i) => i > 0 && i < words.length - 1 && lists.comparisons.has(word)) ||
    ['difference', 'unterschied'].includes(words[0] ?? '')
  )
    return 'comparison'
  if (words.length > 1 && lists.questions.has(words[0]!)) return 'question'
  if (words.some((word, i) => i > 0 && lists.prepositions.has(word))) return 'preposition'
  return foundAsCompletion ? 'completion' : 'related'
}
