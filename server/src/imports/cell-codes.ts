/**
 * Numbers the different contents of cells from 0 on and finds them again by their bytes, in an open table: of a cell that came before no
 * text is made, which is most of the time of reading a long list.
 */
export class CellCodes {
  /** The code plus one, 0 = free. */
  #slots = new Int32Array(1_024)
  #hashes = new Int32Array(512)
  /** All contents one after another, and where each ends. */
  #bytes = Buffer.allocUnsafe(16_384)
  #ends = new Int32Array(512)
  #count = 0

  get count(): number {
    return this.#count
  }

  /** How many bytes all contents have. */
  get bytes(): number {
    return this.#start(this.#count)
  }
  content(code: number): Buffer {
    return this.#bytes.subarray(this.#start(code), this.#ends[code])
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
    const mask = this.#slots.length - 1
    for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const code = this.#slots[slot]! - 1
      if (code < 0 || (this.#hashes[code] === hash && this.#isAt(code, bytes, from, to))) return slot
    }
  }

  #start(code: number): number {
    return code ? this.#ends[code - 1]! : 0
  }

  #isAt(code: number, bytes: Buffer, from: number, to: number): boolean {
    let at = this.#start(code)
    if (this.#ends[code]! - at !== to - from) return false
    for (let i = from; i < to; i++) if (bytes[i] !== this.#bytes[at++]) return false
    return true
  }

  #add(bytes: Buffer, from: number, to: number, hash: number, slot: number): number {
    const code = this.#count++
    this.#slots[slot] = code + 1
    const start = this.#start(code)
    const end = start + to - from
    if (end > this.#bytes.length) {
      const larger = Buffer.allocUnsafe(Math.max(end, this.#bytes.length * 2))
      this.#bytes.copy(larger, 0, 0, start)
      this.#bytes = larger
    }
    for (let i = from, at = start; i < to; i++) this.#bytes[at++] = bytes[i]!
    this.#ends[code] = end
    this.#hashes[code] = hash
    if (this.#count === this.#hashes.length) this.#grow()
    return code
  }

  #grow(): void {
    const larger = (from: Int32Array): Int32Array<ArrayBuffer> => {
      const to = new Int32Array(from.length * 2)
      to.set(from)
      return to
    }
    this.#ends = larger(this.#ends)
    this.#hashes = larger(this.#hashes)
    this.#slots = new Int32Array(this.#slots.length * 2)
    const mask = this.#slots.length - 1
    for (let code = 0; code < this.#count; code++) {
      let slot = this.#hashes[code]! & mask
      while (this.#slots[slot]) slot = (slot + 1) & mask
      this.#slots[slot] = code + 1
    }
  }
}

function hashOf(bytes: Buffer, from: number, to: number): number {
  let hash = 0x811c9dc5
  for (let i = from; i < to; i++) hash = Math.imul(hash ^ bytes[i]!, 0x01000193)
  return hash ^ (hash >>> 15)
}
