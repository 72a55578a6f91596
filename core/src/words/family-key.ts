import { contentStems } from './coverage.ts'

/**
 * Key shared by the forms of one keyword: sorted distinct stems without function words, joined by a space. A phrase of
 * function words alone keeps them, so that it does not fall together with others. `phrase` may be given as its words.
 * O(words log words).
 * Example: "wheels for pottery" and "pottery wheel" → "potteri wheel".
 */
export function familyKey(phrase: string | readonly string[], language: string): string {
  return contentStems(phrase, language).sort().join(' ')
}
