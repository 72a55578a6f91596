const segmenter = new Intl.Segmenter('en', { granularity: 'word' })

/**
 * Words of a text in order, lower case, without punctuation. What stands between spaces is looked at by itself: plain letters, with the signs
 * that end or join plain words, take a short way that gives the same; everything else goes through Unicode word segmentation (Unicode
 * Standard Annex 29). O(length).
 */
export function splitWords(text: string): string[] {
  const lower = text.toLowerCase()
  const words: string[] = []
  let from = 0
  while (from < lower.length) {
    if (isBlank(lower.charCodeAt(from))) {
      from++
      continue
    }
    let until = from
    /** Where the word begins that is being read. */
    let start = from
    let plain = true
    const before = words.length
    for (; until < lower.length; until++) {
      const code = lower.charCodeAt(until)
      if (isBlank(code)) break
      if (!plain || isPlain(code)) continue
      const isLast = until + 1 === lower.length || isBlank(lower.charCodeAt(until + 1))
      if (
        (code === hyphen && until > from && !isLast && isPlain(lower.charCodeAt(until + 1))) ||
        (isLast && isStop(code))
      ) {
        if (until > start) words.push(lower.slice(start, until))
        start = until + 1
      } else plain = false
    }
    if (!plain) {
      words.length = before
      for (const word of splitWordsByUnicode(lower.slice(from, until))) words.push(word)
    } else if (until > start) words.push(lower.slice(start, until))
    from = until
  }
  return words
}

const hyphen = 45
/** Space, tab and the ends of lines, at which words end in any case. */
const isBlank = (code: number): boolean => code === 32 || (code >= 9 && code <= 13)
/** , . ; : ! ? ) and " behind the last letter belong to no word. */
const isStop = (code: number): boolean =>
  code === 44 || code === 46 || code === 58 || code === 59 || code === 33 || code === 63 || code === 41 || code === 34

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
