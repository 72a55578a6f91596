import { splitWords } from '../words/split-words.ts'

function grown<T extends Uint32Array | Int32Array | Uint8Array>(from: T, to: T): T {
  to.set(from)
  return to
}

/** Whether words can be found in a text without Unicode's rules: small letters, digits and spaces. */
const isPlain = (code: number): boolean =>
  (code >= 97 && code <= 122) ||
  code === 32 ||
  (code >= 48 && code <= 57) ||
  code === 228 ||
  code === 246 ||
  code === 252 ||
  code === 223
const hashStart = 0x811c9dc5
const hashStep = (hash: number, code: number): number => Math.imul(hash ^ code, 0x01000193)

/** Words of a text column: a dictionary, the rows of each word, and how often each stands in a set of rows. Grows as rows are added. */
export class TokenIndex {
  readonly words: string[] = []
  /** Word ids by hash, open addressing: the id plus one, 0 = free. Words are compared where they stand, so no piece of text is made. */
  #slots = new Uint32Array(2_048)
  #hashes = new Int32Array(1_024)
  /** Word ids of all rows one after another; where a row's begin and how many they are. One array a row took 100 MB at 500,000 rows. */
  #flat = new Uint32Array(4_096)
  #used = 0
  #start = new Uint32Array(1_024)
  #length = new Uint8Array(1_024)
  #rowCount = 0
  /** Rows of each word, one word after another, made when they are first asked for: while rows arrive nobody needs them. */
  #postings = { used: 0, from: new Uint32Array(1), rows: new Uint32Array(0) }

  /** Sets the text of a row; rows are set once, since phrases do not change. */
  set(row: number, text: string): void {
    while (row >= this.#start.length) {
      this.#start = grown(this.#start, new Uint32Array(this.#start.length * 2))
      this.#length = grown(this.#length, new Uint8Array(this.#length.length * 2))
    }
    const start = this.#used
    this.#start[row] = start
    if (row >= this.#rowCount) this.#rowCount = row + 1
    if (!this.#addPlain(start, text)) {
      this.#used = start
      for (const word of splitWords(text)) {
        let hash = hashStart
        for (let i = 0; i < word.length; i++) hash = hashStep(hash, word.charCodeAt(i))
        this.#addWord(start, word, 0, word.length, hash)
      }
    }
    this.#length[row] = this.#used - start
  }

  /** Adds the words of a plain text; false, with some of them added, when the text is not plain. */
  #addPlain(start: number, text: string): boolean {
    let begin = 0
    let hash = hashStart
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i)
      if (code === 32) {
        if (i > begin) this.#addWord(start, text, begin, i, hash)
        begin = i + 1
        hash = hashStart
      } else if (isPlain(code)) hash = hashStep(hash, code)
      else return false
    }
    if (text.length > begin) this.#addWord(start, text, begin, text.length, hash)
    return true
  }

  /** Adds the word that stands in a text from `begin` to `end` to the row whose words begin at `start`, unless it has it or 255 others. */
  #addWord(start: number, text: string, begin: number, end: number, hash: number): void {
    const id = this.#idOf(text, begin, end, hash) ?? this.#newWord(text.slice(begin, end), hash)
    for (let at = start; at < this.#used; at++) if (this.#flat[at] === id) return
    if (this.#used - start === 255) return
    if (this.#used === this.#flat.length) this.#flat = grown(this.#flat, new Uint32Array(this.#flat.length * 1.6))
    this.#flat[this.#used++] = id
  }

  #slotOf(hash: number): number {
    return (hash ^ (hash >>> 15)) & (this.#slots.length - 1)
  }

  #idOf(text: string, begin: number, end: number, hash: number): number | undefined {
    const mask = this.#slots.length - 1
    for (let slot = this.#slotOf(hash); this.#slots[slot]; slot = (slot + 1) & mask) {
      const id = this.#slots[slot]! - 1
      const word = this.words[id]!
      if (this.#hashes[id] !== hash || word.length !== end - begin) continue
      let at = 0
      while (at < word.length && word.charCodeAt(at) === text.charCodeAt(begin + at)) at++
      if (at === word.length) return id
    }
    return undefined
  }

  #newWord(word: string, hash: number): number {
    const id = this.words.length
    if (id === this.#hashes.length) {
      this.#hashes = grown(this.#hashes, new Int32Array(id * 2))
      this.#slots = new Uint32Array(this.#slots.length * 2)
      for (let known = 0; known < id; known++) this.#put(known)
    }
    this.words.push(word)
    this.#hashes[id] = hash
    this.#put(id)
    return id
  }

  #put(id: number): void {
    const mask = this.#slots.length - 1
    let slot = this.#slotOf(this.#hashes[id]!)
    while (this.#slots[slot]) slot = (slot + 1) & mask
    this.#slots[slot] = id + 1
  }

  /** The rows of all words by a counting sort. O(words of all rows), once for what has arrived. */
  #allPostings(): { from: Uint32Array; rows: Uint32Array } {
    if (this.#postings.used === this.#used) return this.#postings
    const from = new Uint32Array(this.words.length + 1)
    for (let at = 0; at < this.#used; at++) from[this.#flat[at]! + 1]!++
    for (let id = 0; id < this.words.length; id++) from[id + 1]! += from[id]!
    const next = from.slice()
    const rows = new Uint32Array(this.#used)
    for (let row = 0; row < this.#rowCount; row++) {
      const start = this.#start[row]!
      for (let at = start; at < start + this.#length[row]!; at++) rows[next[this.#flat[at]!]!++] = row
    }
    this.#postings = { used: this.#used, from, rows }
    return this.#postings
  }

  /** The rows of the mask `within` that have the exact word, as a mask. */
  markWord(word: string, within: Uint8Array): Uint8Array {
    let hash = hashStart
    for (let i = 0; i < word.length; i++) hash = hashStep(hash, word.charCodeAt(i))
    const mask = new Uint8Array(within.length)
    const id = this.#idOf(word, 0, word.length, hash)
    if (id !== undefined) this.#mark(id, within, mask)
    return mask
  }

  /** The rows of the mask `within` that have a word which contains `part`, as a mask. Looks through the dictionary, not the rows. */
  markPart(part: string, within: Uint8Array): Uint8Array {
    const mask = new Uint8Array(within.length)
    for (let id = 0; id < this.words.length; id++) if (this.words[id]!.includes(part)) this.#mark(id, within, mask)
    return mask
  }

  #mark(id: number, within: Uint8Array, mask: Uint8Array): void {
    const { from, rows } = this.#allPostings()
    const end = from[id + 1]!
    for (let at = from[id]!; at < end; at++) {
      const row = rows[at]!
      mask[row] = within[row]!
    }
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
