import { GrowingInts } from './growing-ints.ts'

/** Numbers the different pairs of whole numbers from 0 on, in an open table. Exact, and 16 to 24 bytes a pair. */
export class PairCodes {
  /** The code plus one, 0 = free. */
  #slots = new Int32Array(1 << 16)
  /** Both numbers of a pair, side by side. */
  readonly #pairs = new GrowingInts()

  get count(): number {
    return this.#pairs.count / 2
  }
  first(code: number): number {
    return this.#pairs.get(2 * code)
  }
  second(code: number): number {
    return this.#pairs.get(2 * code + 1)
  }

  /** The code of a pair; a new one gets the count before it. O(1). */
  at(first: number, second: number): number {
    const mask = this.#slots.length - 1
    for (let slot = slotOf(first, second) & mask; ; slot = (slot + 1) & mask) {
      const code = this.#slots[slot]! - 1
      if (code >= 0) {
        if (this.#pairs.get(2 * code) === first && this.#pairs.get(2 * code + 1) === second) return code
        continue
      }
      this.#pairs.push(first)
      this.#pairs.push(second)
      this.#slots[slot] = this.count
      if (this.count * 2 > this.#slots.length) this.#grow()
      return this.count - 1
    }
  }

  #grow(): void {
    this.#slots = new Int32Array(this.#slots.length * 2)
    const mask = this.#slots.length - 1
    for (let code = 0; code < this.count; code++) {
      let slot = slotOf(this.first(code), this.second(code)) & mask
      while (this.#slots[slot]) slot = (slot + 1) & mask
      this.#slots[slot] = code + 1
    }
  }
}

function slotOf(first: number, second: number): number {
  let hash = Math.imul(first, 0x9e3779b1) ^ Math.imul(second, 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 15), 0xc2b2ae35)
  return hash ^ (hash >>> 16)
}
