/**
 * Numbers the different contents of cells from 0 on and finds them again by their bytes, in an open table: of a cell that came before no
 * text is made, which is most of the time of reading a long list.
 */
export class CellCodes {
  /** Pairs: the code plus one, 0 = free, and the hash, side by side since a look into memory takes longer than all else. */
  #slots = new Int32Array(2_048)
  /** All contents one after another, and where each ends; the first end stands before all. */
  #bytes = Buffer.allocUnsafe(16_384)
  #ends = new Int32Array(512)
  #count = 0

  get count(): number {
    return this.#count
  }

  /** How many bytes all contents have. */
  get bytes(): number {
    return this.#ends[this.#count]!
  }
  /** The bytes of all contents, good until the next is added; that of a code is from `start(code)` to `start(code + 1)`. */
  get contents(): Buffer {
    return this.#bytes
  }
  start(code: number): number {
    return this.#ends[code]!
  }

  /** The code of a content; a new one gets the count before it. O(bytes). */
  at(bytes: Buffer, from: number, to: number): number {
    const hash = hashOf(bytes, from, to)
    const slot = this.#slot(hash, bytes, from, to)
    const code = this.#slots[slot]! - 1
    return code < 0 ? this.#add(bytes, from, to, hash, slot) : code
  }

  /** The code of a content, -1 when it has none. O(bytes). */
  find(bytes: Buffer, from: number, to: number): number {
    return this.#slots[this.#slot(hashOf(bytes, from, to), bytes, from, to)]! - 1
  }

  clear(): void {
    this.#slots.fill(0)
    this.#count = 0
  }

  /** Where a content stands, or would. */
  #slot(hash: number, bytes: Buffer, from: number, to: number): number {
    const slots = this.#slots
    const mask = slots.length - 1
    for (let slot = (hash << 1) & mask; ; slot = (slot + 2) & mask) {
      const code = slots[slot]! - 1
      if (code < 0 || (slots[slot + 1] === hash && this.#isAt(code, bytes, from, to))) return slot
    }
  }

  #isAt(code: number, bytes: Buffer, from: number, to: number): boolean {
    const known = this.#bytes
    let at = this.#ends[code]!
    if (this.#ends[code + 1]! - at !== to - from) return false
    for (let i = from; i < to; i++) if (bytes[i] !== known[at++]) return false
    return true
  }

  #add(bytes: Buffer, from: number, to: number, hash: number, slot: number): number {
    const code = this.#count++
    this.#slots[slot] = code + 1
    this.#slots[slot + 1] = hash
    const start = this.#ends[code]!
    const end = start + to - from
    if (end > this.#bytes.length) {
      const larger = Buffer.allocUnsafe(Math.max(end, this.#bytes.length * 2))
      this.#bytes.copy(larger, 0, 0, start)
      this.#bytes = larger
    }
    for (let i = from, at = start; i < to; i++) this.#bytes[at++] = bytes[i]!
    if (this.#count === this.#ends.length) {
      const larger = new Int32Array(this.#ends.length * 2)
      larger.set(this.#ends)
      this.#ends = larger
    }
    this.#ends[code + 1] = end
    if (this.#count * 4 > this.#slots.length) this.#grow()
    return code
  }

  #grow(): void {
    const before = this.#slots
    const slots = new Int32Array(before.length * 2)
    const mask = slots.length - 1
    for (let i = 0; i < before.length; i += 2) {
      if (!before[i]) continue
      let slot = (before[i + 1]! << 1) & mask
      while (slots[slot]) slot = (slot + 2) & mask
      slots[slot] = before[i]!
      slots[slot + 1] = before[i + 1]!
    }
    this.#slots = slots
  }
}

function hashOf(bytes: Buffer, from: number, to: number): number {
  let hash = 0x811c9dc5
  for (let i = from; i < to; i++) hash = Math.imul(hash ^ bytes[i]!, 0x01000193)
  return hash ^ (hash >>> 15)
}
