import type { CompletionGroup } from '@dew-trail/contract/gather'
import { languageWords } from '@dew-trail/core/words/language-words'

/** What is typed into completions for a seed, by the groups that are wanted: alone, with each letter, with question words and prepositions before and after, with comparison words after. */
export function typedStarts(seed: string, language: string, groups: readonly CompletionGroup[]): string[] {
  const lists = languageWords(language)
  const letters = [...'abcdefghijklmnopqrstuvwxyz', ...(language === 'de' ? 'äöü' : '')]
  const starts: Record<CompletionGroup, string[]> = {
    plain: [seed, `${seed} `],
    letters: letters.map(letter => `${seed} ${letter}`),
    questions: [
      ...[...lists.questions].map(word => `${word} ${seed}`),
      ...[...lists.questions].slice(0, 4).map(word => `${seed} ${word}`),
    ],
    prepositions: [...lists.prepositions].flatMap(word => [`${seed} ${word} `, `${word} ${seed}`]),
    comparisons: [...lists.comparisons].map(word => `${seed} ${word} `),
  }
  return [...new Set(groups.flatMap(group => starts[group]))]
}
