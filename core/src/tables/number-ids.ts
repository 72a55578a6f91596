const seedless = new Float64Array(1)
const halves = new Uint32Array(seedless.buffer)

function hash(value: number): number {
  seedless[0] = value
  let mixed = Math.imul(halves[0]! ^ Math.imul(halves[1]!, 0x9e3779b9), 0x85ebca6b)
  mixed ^= mixed >>> 15
  mixed = Math.imul(mixed, 0xc2b2ae35)
  return (mixed ^ (mixed >>> 13)) >>> 0
}

/**
 * Gives every different number the next small one: 0, 1, 2 … in order of arrival. Open addressing in two typed arrays: at 500,000
 * numbers a quarter of a Map's time and memory.
 */
export class NumberIds {
  #keys = new Float64Array(2_048)
  /** The id of a filled slot plus one; 0 = free. */
  #ids = new Uint32Array(2_048)
  count = 0

  /** The id of a number, or -1. */
  find(value: number): number {
    return this.#ids[this.#slot(value)]! - 1
  }

  /** The id of a number, a new one if it has none. */
  add(value: number): number {
    const slot = this.#slot(value)
    if (this.#ids[slot]) return this.#ids[slot]! - 1
    this.#keys[slot] = value
    this.#ids[slot] = ++this.count
    if (this.count * 2 > this.#keys.length) this.#grow()
    return this.count - 1
  }

  #slot(value: number): number {
    const mask = this.#keys.length - 1
    let slot = hash(value) & mask
    while (this.#ids[slot] && this.#keys[slot] !== value) slot = (slot + 1) & mask
    return slot
  }

  #grow(): void {
    const [keys, ids] = [this.#keys, this.#ids]
    this.#keys = new Float64Array(keys.length * 2)
    this.#ids = new Uint32Array(keys.length * 2)
    for (let i = 0; i < keys.length; i++) {
      if (!ids[i]) continue
      const slot = this.#slot(keys[i]!)
      this.#keys[slot] = keys[i]!
      this.#ids[slot] = ids[i]!
    }
  }
}
