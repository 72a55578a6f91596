/** Keys remembered at most: 16 bytes each. */
const mostKeys = 4_000_000

/**
 * Which combinations of four whole numbers came before, by hashes of 53 bits in an open table: one in many millions may be taken for another,
 * so "new" is sure and "seen" is nearly so. When it is full everything counts as seen.
 */
export class SeenKeys {
  #slots = new Float64Array(1 << 16)
  #count = 0

  /** Whether this combination is new; it is not from then on. O(1). */
  isNew(first: number, second: number, third: number, fourth: number): boolean {
    if (this.#count >= mostKeys) return false
    if (this.#count * 2 >= this.#slots.length) this.#grow()
    if (!put(this.#slots, hashOf(first, second, third, fourth))) return false
    this.#count++
    return true
  }

  clear(): void {
    this.#slots = new Float64Array(1 << 16)
    this.#count = 0
  }

  #grow(): void {
    const slots = new Float64Array(this.#slots.length * 4)
    for (const key of this.#slots) if (key) put(slots, key)
    this.#slots = slots
  }
}

/** Puts a key into its slot; false when it is there. */
function put(slots: Float64Array, key: number): boolean {
  const mask = slots.length - 1
  for (let at = key & mask; ; at = (at + 1) & mask) {
    if (slots[at] === key) return false
    if (slots[at] === 0) {
      slots[at] = key
      return true
    }
  }
}

/** From 1 to 2^53, of two multiplicative hashes. */
function hashOf(first: number, second: number, third: number, fourth: number): number {
  let a = mixedA(mixedA(mixedA(mixedA(0x9e3779b9, first), second), third), fourth)
  const b = mixedB(mixedB(mixedB(mixedB(0x85ebca6b, first), second), third), fourth)
  a = Math.imul(a ^ (a >>> 16), 0x85ebca6b)
  return (a >>> 0) * 2 ** 21 + ((b ^ (a >>> 13)) & 0x1fffff) + 1
}
function mixedA(hash: number, number: number): number {
  const mixed = Math.imul(hash ^ number, 0xcc9e2d51)
  return (mixed << 15) | (mixed >>> 17)
}
function mixedB(hash: number, number: number): number {
  const mixed = Math.imul(hash ^ number, 0x1b873593)
  return (mixed << 13) | (mixed >>> 19)
}
