import { splitWords } from '../words/split-words.ts'

/** Words of a text column: a dictionary, the rows of each word, and how often each stands in a set of rows. Grows as rows are added. */
export class TokenIndex {
  readonly #ids = new Map<string, number>()
  readonly words: string[] = []
  readonly #rows: number[][] = []
  /** Word ids of each row. */
  readonly #ofRow: Uint32Array[] = []

  /** Sets the text of a row; rows are set once, since phrases do not change. */
  set(row: number, text: string): void {
    const parts = [...new Set(splitWords(text))]
    const ids = new Uint32Array(parts.length)
    parts.forEach((word, i) => {
      let id = this.#ids.get(word)
      if (id === undefined) {
        id = this.words.length
        this.#ids.set(word, id)
        this.words.push(word)
        this.#rows.push([])
      }
      this.#rows[id]!.push(row)
      ids[i] = id
    })
    this.#ofRow[row] = ids
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
    const counts = new Uint32Array(this.words.length)
    for (const row of rows) for (const id of this.#ofRow[row]!) counts[id]!++
    const present: number[] = []
    for (let id = 0; id < counts.length; id++) if (counts[id]) present.push(id)
    return present
      .sort((a, b) => counts[b]! - counts[a]! || (this.words[a]! < this.words[b]! ? -1 : 1))
      .slice(0, most)
      .map(id => ({ word: this.words[id]!, rows: counts[id]! }))
  }
}
