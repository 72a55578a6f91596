import { splitWords } from '../words/split-words.ts'

function grown<T extends Uint32Array | Uint8Array>(from: T, to: T): T {
  to.set(from)
  return to
}

/** Words of a text column: a dictionary, the rows of each word, and how often each stands in a set of rows. Grows as rows are added. */
export class TokenIndex {
  readonly #ids = new Map<string, number>()
  readonly words: string[] = []
  readonly #rows: number[][] = []
  /** Word ids of all rows one after another; where a row's begin and how many they are. One array a row took 100 MB at 500,000 rows. */
  #flat = new Uint32Array(4_096)
  #used = 0
  #start = new Uint32Array(1_024)
  #length = new Uint8Array(1_024)

  /** Sets the text of a row; rows are set once, since phrases do not change. */
  set(row: number, text: string): void {
    const parts = [...new Set(splitWords(text))].slice(0, 255)
    while (row >= this.#start.length) {
      this.#start = grown(this.#start, new Uint32Array(this.#start.length * 2))
      this.#length = grown(this.#length, new Uint8Array(this.#length.length * 2))
    }
    if (this.#used + parts.length > this.#flat.length)
      this.#flat = grown(this.#flat, new Uint32Array(Math.max(this.#flat.length * 1.6, this.#used + parts.length)))
    this.#start[row] = this.#used
    this.#length[row] = parts.length
    for (const word of parts) {
      let id = this.#ids.get(word)
      if (id === undefined) {
        id = this.words.length
        this.#ids.set(word, id)
        this.words.push(word)
        this.#rows.push([])
      }
      this.#rows[id]!.push(row)
      this.#flat[this.#used++] = id
    }
  }

  /** Marks in `mask` every row with the exact word. */
  markWord(word: string, mask: Uint8Array): void {
    const id = this.#ids.get(word)
    if (id !== undefined) for (const row of this.#rows[id]!) mask[row] = 1
  }

  /** Marks in `mask` every row with a word that contains `part`. Looks through the dictionary, not the rows. */
  markPart(part: string, mask: Uint8Array): void {
    for (let id = 0; id < this.words.length; id++)
      if (this.words[id]!.includes(part)) for (const row of this.#rows[id]!) mask[row] = 1
  }

  /** The most frequent words of the given rows, most frequent first, ties by alphabet. */
  count(rows: Uint32Array, most: number): Array<{ word: string; rows: number }> {
    return this.mostFrequent(this.addCounts(rows), most)
  }

  /** In how many of some rows each word stands, by word id, added to earlier counts: a long list can be counted part by part. */
  addCounts(rows: Uint32Array, counts: Uint32Array = new Uint32Array(this.words.length)): Uint32Array {
    for (const row of rows) {
      const start = this.#start[row]!
      for (let at = start; at < start + this.#length[row]!; at++) counts[this.#flat[at]!]!++
    }
    return counts
  }

  /** The words with the highest counts, ties by alphabet. */
  mostFrequent(counts: Uint32Array, most: number): Array<{ word: string; rows: number }> {
    const present: number[] = []
    for (let id = 0; id < counts.length; id++) if (counts[id]) present.push(id)
    return present
      .sort((a, b) => counts[b]! - counts[a]! || (this.words[a]! < this.words[b]! ? -1 : 1))
      .slice(0, most)
      .map(id => ({ word: this.words[id]!, rows: counts[id]! }))
  }
}
