const segmenter = new Intl.Segmenter('en', { granularity: 'word' })

/**
 * Words of a text in order, lower case, without punctuation. Plain letters and spaces take a short way that gives the same;
 * everything else goes through Unicode word segmentation (Unicode Standard Annex 29). O(length).
 */
export function splitWords(text: string): string[] {
  const lower = text.toLowerCase()
  if (/^[a-z0-9äöüß ]*$/.test(lower)) return lower.split(' ').filter(Boolean)
  return splitWordsByUnicode(lower)
}

/** The long way, for every script; exported so that tests can compare both. */
export function splitWordsByUnicode(text: string): string[] {
  const words: string[] = []
  for (const part of segmenter.segment(text.toLowerCase())) if (part.isWordLike) words.push(part.segment)
  return words
}
