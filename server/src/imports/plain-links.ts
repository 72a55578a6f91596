import type { LinkBatches } from './link-batches.ts'
import { CellCodes } from './cell-codes.ts'

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
  /** Code of the rel value, and all fields behind the anchor. */
  rest(cells: {
    rel: string
    kind: string
    firstSeen: string
    lastSeen: string
  }): { rel: number; fields: string } | null
}

/**
 * Reads lines of a link list that has no quotes straight from their bytes: cells that came before are known again without making texts
 * of them. Three times as fast as reading texts.
 */
export class PlainLinks {
  readonly #columns: LinkColumns
  readonly #separator: number
  readonly #meanings: LinkMeanings
  readonly #decode: (bytes: Buffer) => string
  readonly #batches: LinkBatches
  readonly #starts = new Int32Array(256)
  readonly #ends = new Int32Array(256)
  /** Places in the address book by codes of cells; below 0 an address is wrong. */
  readonly #pageCodes = new CellCodes()
  #pagePlaces: number[] = []
  readonly #anchorCodes = new CellCodes()
  #anchorPlaces: number[] = []
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
    const decoder = new TextDecoder(encoding)
    this.#decode = bytes => decoder.decode(bytes)
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
        if (saving === null) await odd(this.#decode(bytes.subarray(begin, stop)), number)
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
    let cells = 0
    this.#starts[0] = begin
    for (let i = begin; i < stop; i++) {
      if (bytes[i] !== this.#separator) continue
      if (cells === 254) return null
      this.#ends[cells] = i
      this.#starts[++cells] = i + 1
    }
    this.#ends[cells++] = stop
    const source = this.#page(bytes, this.#columns.source, cells)
    const target = this.#page(bytes, this.#columns.target, cells)
    if (source < 0 || target < 0) return null
    const rest = this.#rest(bytes, cells)
    if (!rest) return null
    return this.#batches.addPlaced(target, source, this.#anchor(bytes, cells), rest.rel, rest.fields)
  }

  #forget(): void {
    this.#epoch = this.#batches.epoch
    this.#pageCodes.clear()
    this.#pagePlaces = []
    this.#anchorCodes.clear()
    this.#anchorPlaces = []
  }

  #code(codes: CellCodes, bytes: Buffer, column: number | undefined, cells: number): number {
    if (column === undefined || column >= cells) return codes.at(bytes, 0, 0)
    return codes.at(bytes, this.#starts[column]!, this.#ends[column]!)
  }
  #text(bytes: Buffer, column: number | undefined, cells: number): string {
    if (column === undefined || column >= cells) return ''
    return this.#decode(bytes.subarray(this.#starts[column]!, this.#ends[column]!)).trim()
  }

  #page(bytes: Buffer, column: number | undefined, cells: number): number {
    const code = this.#code(this.#pageCodes, bytes, column, cells)
    let place = this.#pagePlaces[code]
    if (place === undefined) {
      const address = this.#meanings.address(this.#text(bytes, column, cells))
      place = address === null ? -1 : this.#batches.book.pageAt(address)
      this.#pagePlaces[code] = place
    }
    return place
  }

  #anchor(bytes: Buffer, cells: number): number {
    const code = this.#code(this.#anchorCodes, bytes, this.#columns.anchor, cells)
    let place = this.#anchorPlaces[code]
    if (place === undefined) {
      place = this.#batches.book.anchorAt(this.#meanings.anchor(this.#text(bytes, this.#columns.anchor, cells)))
      this.#anchorPlaces[code] = place
    }
    return place
  }

  #rest(bytes: Buffer, cells: number): ReturnType<LinkMeanings['rest']> {
    const { rel, linkKind, firstSeen, lastSeen } = this.#columns
    const code = (column: number | undefined): number => this.#code(this.#restCodes, bytes, column, cells)
    // Days, rel values and kinds of a list are few; if there are more than codes of 13 bits tell apart, the line is read slowly.
    const key = ((code(rel) * 8_192 + code(linkKind)) * 8_192 + code(firstSeen)) * 8_192 + code(lastSeen)
    if (this.#restCodes.count > 8_192) return null
    let rest = this.#rests.get(key)
    if (rest === undefined) {
      const text = (column: number | undefined): string => this.#text(bytes, column, cells)
      rest = this.#meanings.rest({
        rel: text(rel),
        kind: text(linkKind),
        firstSeen: text(firstSeen),
        lastSeen: text(lastSeen),
      })
      this.#rests.set(key, rest)
    }
    return rest
  }
}
