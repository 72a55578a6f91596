import { eld } from 'eld/small'

/** Letters that are looked at: more make it slower, not surer. */
const read = 1_200

/** ISO 639-1 code of the language a text is written in, by n-grams; `null` when the text is too short or mixed to tell. */
export function textLanguage(text: string): string | null {
  const found = eld.detect(text.length > read ? text.slice(0, read) : text)
  return found.language && found.isReliable() ? found.language : null
}
