import { CellCodes } from './cell-codes.ts'

const newline = 10
const carriageReturn = 13
/** More cells than this stand in no file that is imported. */
const mostCells = 254

/**
 * The cells of a line given as its bytes, without quotes: a reader that knows what came before makes no texts of them, which is most of the
 * time of reading a long list.
 */
export class PlainLine {
  readonly #separator: number
  readonly isUtf8: boolean
  readonly decode: (bytes: Buffer, from: number, to: number) => string
  readonly #starts = new Int32Array(mostCells + 2)
  readonly #ends = new Int32Array(mostCells + 2)
  /** How many cells the line has. */
  cells = 0

  constructor(separator: string, encoding: string) {
    this.#separator = separator.charCodeAt(0)
    this.isUtf8 = encoding === 'utf-8'
    const decoder = new TextDecoder(encoding)
    this.decode = this.isUtf8
      ? (bytes, from, to) => bytes.toString('utf8', from, to)
      : (bytes, from, to) => decoder.decode(bytes.subarray(from, to))
  }

  /** Finds the cells of the line from `begin` to before `stop`; false where there are more than 255. */
  split(bytes: Buffer, begin: number, stop: number): boolean {
    const [starts, ends, separator] = [this.#starts, this.#ends, this.#separator]
    let cells = 0
    starts[0] = begin
    for (let i = begin; i < stop; i++) {
      if (bytes[i] !== separator) continue
      if (cells === mostCells) return false
      ends[cells] = i
      starts[++cells] = i + 1
    }
    ends[cells++] = stop
    this.cells = cells
    return true
  }
  has(column: number | undefined): column is number {
    return column !== undefined && column < this.cells
  }
  start(column: number): number {
    return this.#starts[column]!
  }
  end(column: number): number {
    return this.#ends[column]!
  }
  /** The code of a cell; that of nothing where the line has no such column. */
  code(codes: CellCodes, bytes: Buffer, column: number | undefined): number {
    return this.has(column) ? codes.at(bytes, this.#starts[column]!, this.#ends[column]!) : codes.at(bytes, 0, 0)
  }
  /** The text of a cell without the space around it; empty where the line has no such column. */
  text(bytes: Buffer, column: number | undefined): string {
    return this.has(column) ? this.decode(bytes, this.#starts[column]!, this.#ends[column]!).trim() : ''
  }
}

/** Goes through whole lines, each ended by a line feed: gives where each begins and stops, without its carriage return. O(bytes). */
export function* linesIn(bytes: Buffer): Generator<{ begin: number; stop: number; number: number }> {
  // One object for all lines, since there are millions.
  const line = { begin: 0, stop: 0, number: 0 }
  for (let begin = 0; begin < bytes.length; line.number++) {
    const end = bytes.indexOf(newline, begin)
    line.begin = begin
    line.stop = bytes[end - 1] === carriageReturn && end > begin ? end - 1 : end
    yield line
    begin = end + 1
  }
}

/** What the cells of a column mean, asked once of each different content. */
export class CellMeanings<Meaning> {
  readonly #read: (text: string) => Meaning
  readonly #codes = new CellCodes()
  readonly #ofCode: Meaning[] = []
  readonly #ofText = new Map<string, Meaning>()

  constructor(read: (text: string) => Meaning) {
    this.#read = read
  }
  /** That of a line's cell. */
  of(line: PlainLine, bytes: Buffer, column: number | undefined): Meaning {
    const code = line.code(this.#codes, bytes, column)
    if (code === this.#ofCode.length) this.#ofCode.push(this.ofText(line.text(bytes, column)))
    return this.#ofCode[code]!
  }
  ofText(text: string): Meaning {
    let meaning = this.#ofText.get(text)
    if (meaning === undefined) {
      meaning = this.#read(text)
      this.#ofText.set(text, meaning)
    }
    return meaning
  }
}
