const segmenter = new Intl.Segmenter('en', { granularity: 'word' })

/**
 * Words of a text in order, lower case, without punctuation. Plain letters and spaces take a short way that gives the same;
 * everything else goes through Unicode word segmentation (Unicode Standard Annex 29). O(length).
 */
export function splitWords(text: string): string[] {
  const lower = text.toLowerCase()
  const words: string[] = []
  let start = 0
  for (let i = 0; i < lower.length; i++) {
    const code = lower.charCodeAt(i)
    if (code === 32) {
      if (i > start) words.push(lower.slice(start, i))
      start = i + 1
    } else if (!isPlain(code)) return splitWordsByUnicode(lower)
  }
  if (lower.length > start) words.push(lower.slice(start))
  return words
}

/** The words of a phrase, which may come split already: a million keywords are asked several things of their words. */
export const wordsOf = (phrase: string | readonly string[]): readonly string[] =>
  typeof phrase === 'string' ? splitWords(phrase) : phrase

/** a–z, 0–9, ä, ö, ü, ß. Compared by code, since this is asked of every letter of a million keywords. */
const isPlain = (code: number): boolean =>
  (code >= 97 && code <= 122) ||
  (code >= 48 && code <= 57) ||
  code === 228 ||
  code === 246 ||
  code === 252 ||
  code === 223

const isSpace = (char: string | undefined): boolean => char === undefined || /\s/.test(char)
const isLetterOrDigit = (char: string | undefined): boolean => char !== undefined && /[\p{L}\p{N}]/u.test(char)

/**
 * The long way, for every script; exported so that tests can compare both. Signs that make another word stay with it: "c++", "c#", ".net",
 * "10%", "6°", "$5".
 */
export function splitWordsByUnicode(text: string): string[] {
  const lower = text.toLowerCase()
  const words: string[] = []
  for (const { segment, index, isWordLike } of segmenter.segment(lower)) {
    if (!isWordLike) continue
    const end = index + segment.length
    words.push(`${signBefore(lower, index)}${segment}${signBehind(lower, end)}`)
  }
  return words
}

function signBefore(text: string, index: number): string {
  const sign = text[index - 1]
  if (sign === undefined || sign === ' ') return ''
  if (sign === '.') return isSpace(text[index - 2]) ? sign : ''
  const code = text.charCodeAt(index)
  const isDigit = code >= 48 && code <= 57
  return isDigit && (sign === '#' || /\p{Sc}/u.test(sign)) ? sign : ''
}

function signBehind(text: string, end: number): string {
  const sign = text[end]
  if (sign === undefined || sign === ' ') return ''
  if (sign === '+' || sign === '#') {
    const signs = sign === '+' && text[end + 1] === '+' ? '++' : sign
    return isLetterOrDigit(text[end + signs.length]) ? '' : signs
  }
  const code = text.charCodeAt(end - 1)
  return code >= 48 && code <= 57 && (sign === '%' || sign === '°' || /\p{Sc}/u.test(sign)) ? sign : ''
}
