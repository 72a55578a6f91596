/** Mixes whole numbers into one 32-bit hash. The world's only source of chance: same input, same world. */
export function mix(...parts: number[]): number {
  let h = 0x9e3779b9
  for (const part of parts) {
    h ^= part | 0
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
    h ^= h >>> 16
  }
  return h >>> 0
}

/** FNV-1a of a text, for use as a part of `mix`. */
export function textHash(text: string): number {
  let h = 0x811c9dc5
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  return h >>> 0
}

/** A cheaper uniform in [0, 1) of three whole numbers, for what is drawn for every candidate of every day. */
export function chance3(a: number, b: number, c: number): number {
  let h = Math.imul(a ^ Math.imul(b, 0x9e3779b1), 0x85ebca6b) ^ Math.imul(c, 0xc2b2ae35)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296
}
/** Nearly standard normal (sum of four uniforms) of three whole numbers, as cheap as `chance3`. */
export const bell3 = (a: number, b: number, c: number): number =>
  (chance3(a, b, c) + chance3(b, c, a ^ 0x5bd1) + chance3(c, a, b ^ 0x1b87) + chance3(a ^ 0x3ad9, c, b) - 2) * 1.732

/** Uniform in [0, 1) from a hash. */
export const unit = (...parts: number[]): number => mix(...parts) / 4294967296

/** Standard normal from a hash (Box–Muller). */
export function normal(...parts: number[]): number {
  const u = Math.max(unit(...parts, 1), 1e-12)
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * unit(...parts, 2))
}

/** A stream of chances that starts from a hash. */
export class Stream {
  #at = 0
  readonly #seed: number
  constructor(...parts: number[]) {
    this.#seed = mix(...parts)
  }
  next(): number {
    return unit(this.#seed, this.#at++)
  }
  normal(): number {
    return normal(this.#seed, this.#at++)
  }
  int(below: number): number {
    return Math.floor(this.next() * below)
  }
  pick<T>(items: readonly T[]): T {
    return items[this.int(items.length)] as T
  }
  /** An index drawn with the given weights. */
  weighted(weights: ArrayLike<number>): number {
    let sum = 0
    for (let i = 0; i < weights.length; i++) sum += weights[i]!
    let at = this.next() * sum
    for (let i = 0; i < weights.length; i++) if ((at -= weights[i]!) < 0) return i
    return weights.length - 1
  }
  chance(share: number): boolean {
    return this.next() < share
  }
}
