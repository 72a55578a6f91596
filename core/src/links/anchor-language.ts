import { textLanguage } from './text-language.ts'

/** Letters beyond the Latin ones tell a language even in one word. */
const telling = /[\p{L}]/u
const latin = /\p{Script=Latin}/u

/**
 * ISO 639-1 code of the language of a link's words, or null when they do not tell. Two words are told wrongly too often, so Latin ones count only
 * where the language found is one of those in which linking pages are written (`among`).
 */
export function anchorLanguage(text: string, among: ReadonlySet<string>): string | null {
  if (!telling.test(text)) return null
  const found = textLanguage(text)
  return found !== null && (among.has(found) || !latin.test(text)) ? found : null
}

/** Languages in which at least a hundredth of the linking pages with a known language are written. `counts`: links by language. */
export function usualLanguages(counts: ReadonlyMap<string, number>): Set<string> {
  const sum = [...counts.values()].reduce((all, each) => all + each, 0)
  return new Set([...counts].filter(([, count]) => count >= sum / 100).map(([language]) => language))
}
