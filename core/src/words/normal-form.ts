/** What nobody sees: soft hyphens, zero-width and direction marks, marks of byte order, variation selectors, control characters. */
const unseen = /\p{Cf}|\p{Variation_Selector}|(?!\s)\p{Cc}/gu
/** Everything that people type or programs put for an apostrophe. */
const apostrophes = /[\u2018\u2019\u201b\u02bc\u02b9\u2032\u00b4`\ua78c]/g
/** Signs before the first and behind the last letter or digit that belong to the word: ".net", "$5", "#10"; "c++", "c#", "10%", "6°". */
const before = /^(\.(?=[\p{L}\p{N}])|\p{Sc}(?=\d)|#(?=\d))/u
const behind = /(?<=[\p{L}\p{N}])(\+{1,2}|#)$|(?<=\d)[%°\p{Sc}]$/u

/**
 * Normal form of a phrase: NFKC, lower case, one kind of apostrophe, nothing that cannot be seen, inner white space collapsed, outer
 * punctuation removed except signs that make another word of it ("c++", ".net", "10%"). Two phrases with one normal form are one keyword.
 * Empty input gives ''. O(length). Example: "  Pottery   Wheels! " → "pottery wheels". Source: Unicode Standard Annex 15 (NFKC).
 */
export function normalForm(phrase: string): string {
  // Most phrases of a file are in normal form already.
  if (/^[a-z0-9]+(?: [a-z0-9]+)*$/.test(phrase)) return phrase
  const text = phrase
    .replace(unseen, '')
    // Before the letters are unified: it would part the acute accent into a space and a mark.
    .replace(apostrophes, "'")
    .normalize('NFKC')
    .replace(unseen, '')
    .replace(apostrophes, "'")
    .toLowerCase()
    .replace(/\s+/gu, ' ')
    .trim()
  const start = /^[\p{P}\p{S}\s]*/u.exec(text)![0]
  const end = /[\p{P}\p{S}\s]*$/u.exec(text.slice(start.length))![0]
  const bare = text.slice(start.length, text.length - end.length)
  if (!bare) return ''
  // The signs next to the word, where they make a word of their own.
  const from = start.at(-1) ?? ''
  const kept = before.test(`${from}${bare}`) && !/[^\s]/.test(start.slice(0, -1)) ? from : ''
  const to = /^(\+{1,2}|[#%°\p{Sc}])/u.exec(end)?.[0] ?? ''
  return `${kept}${bare}${behind.test(bare + to) ? to : ''}`
}
