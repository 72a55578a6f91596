import { languageWords } from '@dew-trail/core/words/language-words'

/** What is typed into completions for a seed: alone, with each letter, with question words and prepositions before and after, with comparison words after. */
export function typedStarts(seed: string, language: string): string[] {
  const lists = languageWords(language)
  const letters = [...'abcdefghijklmnopqrstuvwxyz', ...(language === 'de' ? 'äöü' : '')]
  const starts = [
    seed,
    `${seed} `,
    ...letters.map(letter => `${seed} ${letter}`),
    ...lists.questions.map(word => `${word} ${seed}`),
    ...lists.questions.slice(0, 4).map(word => `${seed} ${word}`),
    ...lists.prepositions.flatMap(word => [`${seed} ${word} `, `${word} ${seed}`]),
    ...lists.comparisons.map(word => `${seed} ${word} `),
  ]
  return [...new Set(starts)]
}
