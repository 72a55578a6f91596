import Papa from 'papaparse'
import type { FileBounds } from './file-bounds.ts'

/** A line of a file that could not be used, and why. */
export type LineProblem = { line: number; what: string; value: string }
/** Rows with the number of the line that each begins at. */
export type NumberedRows = { rows: string[][]; lines: number[]; problems: LineProblem[] }

/** How many lines one row may go over; a quote that is open for longer was never closed. */
const mostRowLines = 200
/** How often the parser is asked whether a row over several lines ends here. */
const mostTries = 20
/** Lines with quotes that are handed to the parser at a time. */
const linesAtATime = 500
/** How much of a line that cannot be used is kept to be shown. */
const shownChars = 200

const neverClosed = 'A quote is opened here and never closed'
const behindQuote = 'Text stands behind a closing quote'

/**
 * Parts text of a delimited file (RFC 4180) into rows, whatever ends its lines. A line without quotes is split as it is; quotes are left
 * to the parser (Papa Parse), and what it finds wrong is listed by line while all other lines go on: a quote that is opened and never
 * closed takes only its own line. `columns`: how many cells the header has, which a row over several lines must have too.
 */
export class RowSplitter {
  readonly #separator: string
  readonly #bounds: FileBounds
  readonly #columns: number | null
  readonly #parser: Papa.Parser
  /** Whole lines that were not taken yet, the number of the first, and the begin of the line after them. */
  #lines: string[] = []
  #line: number
  #tail = ''
  /** The rest of a line that is too long is dropped up to its end. */
  #skipping = false

  constructor(separator: string, firstLine: number, columns: number | null, bounds: FileBounds) {
    this.#separator = separator
    this.#line = firstLine
    this.#columns = columns
    this.#bounds = bounds
    this.#parser = new Papa.Parser({ delimiter: separator, newline: '\n' })
  }

  /** Takes the next text of the file, `last` when none follows. O(length), but for rows over several lines. */
  split(text: string, last: boolean): NumberedRows {
    this.#cut(text, last)
    const out: NumberedRows = { rows: [], lines: [], problems: [] }
    let at = 0
    while (at < this.#lines.length) {
      const used = this.#takeRow(at, last, out)
      // The row goes on in the next text.
      if (!used) break
      at += used
    }
    this.#lines = this.#lines.slice(at)
    this.#line += at
    return out
  }

  /** Cuts text into lines. A carriage return at its end may be followed by a line feed in the next one. */
  #cut(text: string, last: boolean): void {
    const whole = this.#tail + text
    const held = !last && whole.endsWith('\r') ? '\r' : ''
    const parts = whole.slice(0, whole.length - held.length).split(/\r\n|\n|\r/)
    let tail = parts.pop()!
    if (this.#skipping && parts.length) {
      parts.shift()
      this.#skipping = false
    } else if (this.#skipping) tail = ''
    for (const part of parts) this.#lines.push(part)
    if (last) {
      if (tail) this.#lines.push(tail)
      this.#tail = ''
    } else if (tail.length > this.#bounds.line) {
      // Taken for a line by itself, to be listed; what follows of it is dropped.
      this.#lines.push(tail)
      this.#skipping = true
      this.#tail = held
    } else this.#tail = tail + held
  }

  /** Takes the row that begins at a line; how many lines it has, or 0 when more text is needed to tell. */
  #takeRow(at: number, last: boolean, out: NumberedRows): number {
    const text = this.#lines[at]!
    if (text.length > this.#bounds.line)
      return this.#list(out, at, `The line is longer than ${this.#bounds.line.toLocaleString('en')} characters`)
    if (!text.includes('"')) return this.#add(out, at, text.split(this.#separator))
    return this.#evenQuotes(at, out) || this.#quoted(at, last, out)
  }

  /** Lines in which every quote that is opened seems to be closed: many at a time, 0 when the parser sees them otherwise. */
  #evenQuotes(at: number, out: NumberedRows): number {
    let end = at
    const most = Math.min(this.#lines.length, at + linesAtATime)
    while (end < most && this.#lines[end]!.length <= this.#bounds.line && quotesIn(this.#lines[end]!) % 2 === 0) end++
    if (end < at + 2) return 0
    const { data, errors } = this.#parse(this.#lines.slice(at, end).join('\n'))
    if (errors.length || data.length !== end - at) return 0
    for (const [i, cells] of data.entries()) this.#add(out, at + i, cells)
    return end - at
  }

  #quoted(at: number, last: boolean, out: NumberedRows): number {
    let text = this.#lines[at]!
    let tries = 0
    for (let lines = 1; ; lines++) {
      if (lines === 1 || this.#lines[at + lines - 1]!.includes('"')) {
        const { data, errors } = this.#parse(text)
        const fits = lines === 1 || this.#columns === null || data[0]?.length === this.#columns
        if (!errors.length && data.length === 1 && fits) {
          this.#add(out, at, data[0]!)
          return lines
        }
        if (errors.some(error => error.code !== 'MissingQuotes') || data.length > 1 || !errors.length)
          return this.#list(out, at, lines === 1 ? behindQuote : neverClosed)
        if (++tries > mostTries) return this.#list(out, at, neverClosed)
      }
      if (at + lines === this.#lines.length) {
        const tooLong = lines >= mostRowLines || text.length > this.#bounds.line
        return last || tooLong ? this.#list(out, at, neverClosed) : 0
      }
      if (lines >= mostRowLines || text.length > this.#bounds.line) return this.#list(out, at, neverClosed)
      text += `\n${this.#lines[at + lines]!}`
    }
  }

  #parse(text: string): { data: string[][]; errors: Papa.ParseError[] } {
    return this.#parser.parse(text, 0, false) as { data: string[][]; errors: Papa.ParseError[] }
  }

  #add(out: NumberedRows, at: number, cells: string[]): number {
    if (cells.length > this.#bounds.columns)
      return this.#list(out, at, `The row has more than ${this.#bounds.columns.toLocaleString('en')} cells`)
    const long = cells.findIndex(cell => cell.length > this.#bounds.cell)
    if (long >= 0)
      return this.#list(out, at, `Cell ${long + 1} has more than ${this.#bounds.cell.toLocaleString('en')} characters`)
    out.rows.push(cells)
    out.lines.push(this.#line + at)
    return 1
  }

  #list(out: NumberedRows, at: number, what: string): number {
    out.problems.push({ line: this.#line + at, what, value: this.#lines[at]!.slice(0, shownChars) })
    return 1
  }
}

function quotesIn(text: string): number {
  let count = 0
  for (let at = text.indexOf('"'); at >= 0; at = text.indexOf('"', at + 1)) count++
  return count
}
