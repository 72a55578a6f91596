import { storableText } from '@dew-trail/core/text/storable-text'
import { CellCodes } from '../../platform/files/cell-codes.ts'

/** Names and their bytes remembered at most (`forgetIfFull`), so that a long load keeps its memory. */
const mostRemembered = 1_500_000
const mostBytes = 256_000_000

const scratch = Buffer.allocUnsafe(16_384)
/** UTF-8 of a text, good until the next call. */
const bytesOf = (text: string): Buffer =>
  text.length * 3 <= scratch.length ? scratch.subarray(0, scratch.write(text)) : Buffer.from(text)

/** Names of one kind, each with its place: the order in which they were first met; 0 is the id of those that have none. They are kept as bytes: a million texts are slow to keep. */
export class Names {
  readonly #codes = new CellCodes()
  /** Ids of the names by place, 0 = none yet. */
  #ids = new Int32Array(1_024)
  #taken = 0

  get size(): number {
    return this.#codes.count
  }
  get isFull(): boolean {
    return this.size > mostRemembered || this.#codes.bytes > mostBytes
  }
  at(name: string): number {
    const bytes = bytesOf(storableText(name))
    return this.#codes.at(bytes, 0, bytes.length)
  }
  /** Place of a name given as its bytes, -1 when it has none. */
  find(bytes: Buffer, from: number, to: number): number {
    return this.#codes.find(bytes, from, to)
  }
  /** UTF-8 of all names, good until the next one is met: that of a place is from `start(place)` to `start(place + 1)`. */
  get contents(): Buffer {
    return this.#codes.contents
  }
  start(position: number): number {
    return this.#codes.start(position)
  }
  bytes(position: number): Buffer {
    return this.contents.subarray(this.start(position), this.start(position + 1))
  }
  /** Places of names that nobody has taken to give them ids. */
  take(): number[] {
    const from = this.#taken
    this.#taken = this.size
    return Array.from({ length: this.size - from }, (_, i) => from + i)
  }
  /** Gives ids to the names at some places. */
  giveIds(places: readonly number[], ids: Int32Array): void {
    if (this.size > this.#ids.length) {
      const larger = new Int32Array(this.size * 2)
      larger.set(this.#ids)
      this.#ids = larger
    }
    for (let i = 0; i < ids.length; i++) this.#ids[places[i]!] = ids[i]!
  }
  id(position: number): number {
    return this.#ids[position]!
  }
  need(name: string): number {
    const id = this.#ids[this.at(name)]
    if (!id) throw new Error(`"${name}" was not learnt before it was used`)
    return id
  }
  clear(): void {
    this.#codes.clear()
    this.#ids.fill(0)
    this.#taken = 0
  }
}
