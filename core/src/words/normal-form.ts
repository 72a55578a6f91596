/**
 * Normal form of a phrase: NFKC, lower case, inner white space collapsed, outer punctuation removed. Two phrases with one
 * normal form are one keyword. Empty input gives ''. O(length). Example: "  Pottery   Wheels! " → "pottery wheels".
 * Source: Unicode Standard Annex 15 (NFKC).
 */
export function normalForm(phrase: string): string {
  // Most phrases of a file are in normal form already.
  if (/^[a-z0-9]+(?: [a-z0-9]+)*$/.test(phrase)) return phrase
  return phrase
    .normalize('NFKC')
    .toLowerCase()
    .replace(/\s+/gu, ' ')
    .replace(/^[\p{P}\p{S}\s]+|[\p{P}\p{S}\s]+$/gu, '')
}
