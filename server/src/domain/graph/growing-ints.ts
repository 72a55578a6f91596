/** Integers in a typed array that grows: a plain array of 20 million numbers costs four times the memory. */
export class GrowingInts {
  #values: Int32Array
  #count = 0
  constructor(capacity = 1 << 16) {
    this.#values = new Int32Array(capacity)
  }
  push(value: number): void {
    if (this.#count === this.#values.length) {
      const larger = new Int32Array(this.#values.length * 2)
      larger.set(this.#values)
      this.#values = larger
    }
    this.#values[this.#count++] = value
  }
  get(at: number): number {
    return this.#values[at]!
  }
  /** Changes a number that was pushed. */
  set(at: number, value: number): void {
    this.#values[at] = value
  }
  get count(): number {
    return this.#count
  }
  clear(): void {
    this.#count = 0
  }
  /** A view of what was pushed, good until the next push. */
  view(): Int32Array {
    return this.#values.subarray(0, this.#count)
  }
}
