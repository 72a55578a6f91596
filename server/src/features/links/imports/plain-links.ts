import type { LinkBatches } from './link-batches.ts'
import type { LinkRest } from '../../../domain/graph/link-lines.ts'
import { CellCodes } from '../../../platform/files/cell-codes.ts'

const newline = 10
const carriageReturn = 13

/** Where the cells of a link stand in a row; undefined where the file has no such column. */
export type LinkColumns = Record<
  'source' | 'target' | 'anchor' | 'rel' | 'linkKind' | 'firstSeen' | 'lastSeen',
  number | undefined
>
/** What texts of cells mean, asked once for each different one. `null`: it is wrong. */
export type LinkMeanings = {
  address(text: string): string | null
  anchor(text: string): string
  rest(cells: { rel: string; kind: string; firstSeen: string; lastSeen: string }): LinkRest | null
}

/**
 * Reads lines of a link list that has no quotes straight from their bytes: cells that came before are known again without making texts
 * of them. Three times as fast as reading texts.
 */
export class PlainLinks {
  readonly #columns: LinkColumns
  readonly #separator: number
  readonly #meanings: LinkMeanings
  readonly #isUtf8: boolean
  readonly #decode: (bytes: Buffer, from: number, to: number) => string
  readonly #batches: LinkBatches
  readonly #starts = new Int32Array(256)
  readonly #ends = new Int32Array(256)
  /** Places in the address book of addresses that it writes otherwise; below 0 one is wrong. */
  readonly #otherWays = new CellCodes()
  #otherPositions: number[] = []
  readonly #anchorCodes = new CellCodes()
  #anchorPositions: number[] = []
  /** Places are good for one epoch of the book. */
  #epoch = 0
  readonly #restCodes = new CellCodes()
  readonly #rests = new Map<number, ReturnType<LinkMeanings['rest']>>()
  /** How many lines were links. */
  lines = 0

  constructor(batches: LinkBatches, columns: LinkColumns, separator: number, encoding: string, meanings: LinkMeanings) {
    this.#batches = batches
    this.#columns = columns
    this.#separator = separator
    this.#meanings = meanings
    this.#isUtf8 = encoding === 'utf-8'
    const decoder = new TextDecoder(encoding)
    this.#decode = this.#isUtf8
      ? (bytes, from, to) => bytes.toString('utf8', from, to)
      : (bytes, from, to) => decoder.decode(bytes.subarray(from, to))
  }

  /**
   * Reads whole lines, each ended by a line feed. Those in which something is wrong are given to `odd` as texts, with their number
   * counted from 0. Gives how many lines there were.
   */
  async read(bytes: Buffer, odd: (text: string, number: number) => Promise<void>): Promise<number> {
    let number = 0
    for (let begin = 0; begin < bytes.length; number++) {
      const end = bytes.indexOf(newline, begin)
      const stop = bytes[end - 1] === carriageReturn && end > begin ? end - 1 : end
      if (stop > begin) {
        const saving = this.#add(bytes, begin, stop)
        if (saving === null) await odd(this.#decode(bytes, begin, stop), number)
        else {
          this.lines++
          if (saving) await saving
        }
      }
      begin = end + 1
    }
    return number
  }

  /** Adds the link of a line; null when something is wrong with it. */
  #add(bytes: Buffer, begin: number, stop: number): Promise<void> | undefined | null {
    if (this.#epoch !== this.#batches.epoch) this.#forget()
    const separator = this.#separator
    const [starts, ends] = [this.#starts, this.#ends]
    let cells = 0
    starts[0] = begin
    for (let i = begin; i < stop; i++) {
      if (bytes[i] !== separator) continue
      if (cells === 254) return null
      ends[cells] = i
      starts[++cells] = i + 1
    }
    ends[cells++] = stop
    const source = this.#page(bytes, this.#columns.source, cells)
    const target = this.#page(bytes, this.#columns.target, cells)
    if (source < 0 || target < 0) return null
    const rest = this.#rest(bytes, cells)
    if (!rest) return null
    return this.#batches.addPlaced(target, source, this.#anchor(bytes, cells), rest)
  }

  #forget(): void {
    this.#epoch = this.#batches.epoch
    this.#otherWays.clear()
    this.#otherPositions = []
    this.#anchorCodes.clear()
    this.#anchorPositions = []
  }

  #code(codes: CellCodes, bytes: Buffer, column: number | undefined, cells: number): number {
    if (column === undefined || column >= cells) return codes.at(bytes, 0, 0)
    return codes.at(bytes, this.#starts[column]!, this.#ends[column]!)
  }
  #text(bytes: Buffer, column: number | undefined, cells: number): string {
    if (column === undefined || column >= cells) return ''
    return this.#decode(bytes, this.#starts[column]!, this.#ends[column]!).trim()
  }

  #page(bytes: Buffer, column: number | undefined, cells: number): number {
    if (column === undefined || column >= cells) return -1
    const [from, to] = [this.#starts[column]!, this.#ends[column]!]
    const { book } = this.#batches
    // An address as the book writes it is found by its bytes; only other ways of writing one are remembered here.
    const known = this.#isUtf8 ? book.findPage(bytes, from, to) : -1
    if (known >= 0) return known
    const code = this.#otherWays.find(bytes, from, to)
    if (code >= 0) return this.#otherPositions[code]!
    const text = this.#text(bytes, column, cells)
    const address = this.#meanings.address(text)
    const position = address === null ? -1 : book.pageAt(address)
    if (address !== text || !this.#isUtf8) this.#otherPositions[this.#otherWays.at(bytes, from, to)] = position
    return position
  }

  #anchor(bytes: Buffer, cells: number): number {
    const code = this.#code(this.#anchorCodes, bytes, this.#columns.anchor, cells)
    let position = this.#anchorPositions[code]
    if (position === undefined) {
      position = this.#batches.book.anchorAt(this.#meanings.anchor(this.#text(bytes, this.#columns.anchor, cells)))
      this.#anchorPositions[code] = position
    }
    return position
  }

  #rest(bytes: Buffer, cells: number): ReturnType<LinkMeanings['rest']> {
    const { rel, linkKind, firstSeen, lastSeen } = this.#columns
    // Days, rel values and kinds of a list are few; if there are more than codes of 13 bits tell apart, the line is read slowly.
    let key = this.#code(this.#restCodes, bytes, rel, cells)
    key = key * 8_192 + this.#code(this.#restCodes, bytes, linkKind, cells)
    key = key * 8_192 + this.#code(this.#restCodes, bytes, firstSeen, cells)
    key = key * 8_192 + this.#code(this.#restCodes, bytes, lastSeen, cells)
    if (this.#restCodes.count > 8_192) return null
    let rest = this.#rests.get(key)
    if (rest === undefined) {
      rest = this.#meanings.rest({
        rel: this.#text(bytes, rel, cells),
        kind: this.#text(bytes, linkKind, cells),
        firstSeen: this.#text(bytes, firstSeen, cells),
        lastSeen: this.#text(bytes, lastSeen, cells),
      })
      this.#rests.set(key, rest)
    }
    return rest
  }
}
