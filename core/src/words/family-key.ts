import { languageWords } from './language-words.ts'
import { splitWords } from './split-words.ts'
import { stem } from './stem.ts'

/**
 * Key shared by the forms of one keyword: sorted distinct stems without function words, joined by a space. A phrase of
 * function words alone keeps them, so that it does not fall together with others. O(words log words).
 * Example: "wheels for pottery" and "pottery wheel" → "potteri wheel".
 */
export function familyKey(phrase: string, language: string): string {
  const words = splitWords(phrase)
  const idle = languageWords(language).functionWords
  const content = words.filter(word => !idle.includes(word))
  return [...new Set((content.length ? content : words).map(word => stem(word, language)))].sort().join(' ')
}
