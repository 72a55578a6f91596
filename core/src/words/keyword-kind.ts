import { languageWords } from './language-words.ts'
import { splitWords } from './split-words.ts'

export const keywordKinds = ['question', 'comparison', 'preposition', 'completion', 'related'] as const
export type KeywordKind = (typeof keywordKinds)[number]

/**
 * Kind of a keyword: a comparison or question by its words, else one with a preposition inside, else by how it was found.
 * The first word decides a question; comparison words must stand between other words or lead ("difference between").
 */
export function keywordKind(phrase: string, language: string, foundAsCompletion: boolean): KeywordKind {
  const words = splitWords(phrase)
  const lists = languageWords(language)
  const inner = words.slice(1, -1)
  if (inner.some(word => lists.comparisons.includes(word)) || ['difference', 'unterschied'].includes(words[0] ?? ''))
    return 'comparison'
  if (words.length > 1 && lists.questions.includes(words[0]!)) return 'question'
  if (words.slice(1).some(word => lists.prepositions.includes(word))) return 'preposition'
  return foundAsCompletion ? 'completion' : 'related'
}
