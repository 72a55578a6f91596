/** Numbers in a signature. The standard error of an estimated likeness is at most 1/(2·√64) = 0.06. */
export const signatureLength = 64
const shingleWords = 5

/** 32-bit mixing of an integer (finaliser of MurmurHash3, Appleby, public domain). */
function mix(value: number): number {
  let h = value | 0
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}
function wordHash(word: string): number {
  // FNV-1a over UTF-16 units.
  let h = 0x811c9dc5
  for (let i = 0; i < word.length; i++) h = Math.imul(h ^ word.charCodeAt(i), 0x01000193)
  return h >>> 0
}

/**
 * MinHash signature of the set of 5-word shingles of a text (Broder 1997), by one permutation cut into 64 bins whose empty ones are
 * filled from the next full one (densified one-permutation hashing, Shrivastava & Li 2014): one hash a shingle instead of 64. `null`
 * for a text of fewer than five words, which says nothing. O(words).
 */
export function minHash(words: readonly string[]): Uint32Array | null {
  if (words.length < shingleWords) return null
  const hashes = Uint32Array.from(words, wordHash)
  const bins = new Float64Array(signatureLength).fill(-1)
  for (let at = 0; at + shingleWords <= hashes.length; at++) {
    let h = 0
    for (let k = 0; k < shingleWords; k++) h = mix(Math.imul(h, 31) + hashes[at + k]!)
    const bin = h >>> 26
    const value = h & 0x3ffffff
    if (bins[bin]! < 0 || value < bins[bin]!) bins[bin] = value
  }
  const signature = new Uint32Array(signatureLength)
  for (let bin = 0; bin < signatureLength; bin++) {
    let step = 0
    while (bins[(bin + step) % signatureLength]! < 0) step++
    // The distance is part of the value, so a borrowed number is equal only to one borrowed over the same way.
    signature[bin] = bins[(bin + step) % signatureLength]! + step * 0x4000000
  }
  return signature
}

/** Estimated Jaccard likeness of two texts' shingle sets, 0–1: the share of equal numbers in their signatures. */
export function likeness(a: Uint32Array, b: Uint32Array): number {
  if (a.length !== signatureLength || b.length !== signatureLength)
    throw new RangeError(`a signature has ${signatureLength} numbers`)
  let equal = 0
  for (let i = 0; i < signatureLength; i++) if (a[i] === b[i]) equal++
  return equal / signatureLength
}
