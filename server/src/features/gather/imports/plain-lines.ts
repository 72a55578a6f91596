const newline = 10
const carriageReturn = 13
const tab = 9
const space = 32
const point = 46
const zero = 48

/** Where the cells of a row stand that become the columns of the staging table; a figure the file does not have is undefined. */
export type PlainColumns = {
  phrase: number
  /** In the order of the staging table; `fraction`: how many digits after a point are read as they stand, and whether only from 0 to 1. */
  figures: ReadonlyArray<{ at: number | undefined; fraction: boolean; share: boolean }>
}
export type PlainPart = {
  /** Rows for COPY. */
  rows: Buffer
  /** How many lines became rows or were blank. */
  lines: number
  blank: number
  /** Lines that a person may have written, or that are wrong: for the reader that takes its time. */
  odd: Array<{ line: number; text: Buffer }>
}

const isWord = (byte: number): boolean => (byte >= 97 && byte <= 122) || (byte >= zero && byte <= 57)

/**
 * Turns whole lines of a file without quotes straight into rows of COPY, byte by byte: phrases of small letters and digits with single
 * spaces, figures of plain digits, which is nearly all that a program writes. Any other line is handed back as it stands. Five times
 * as fast as making strings of the cells. `bytes` ends with a line feed; a carriage return only before one. O(bytes).
 */
export function copyPlainLines(
  bytes: Uint8Array,
  firstLine: number,
  separator: number,
  { phrase, figures }: PlainColumns,
  longestPhrase: number,
): PlainPart {
  // A row grows by its line number, a tab and the cells that the file does not have.
  const rows = Buffer.allocUnsafe(bytes.length + (bytes.length >> 1) * 12 + 64)
  const starts = new Int32Array(256)
  const ends = new Int32Array(256)
  const odd: PlainPart['odd'] = []
  let [out, line, blank, begin] = [0, firstLine, 0, 0]

  const copyCell = (from: number, to: number): void => {
    for (let i = from; i < to; i++) rows[out++] = bytes[i]!
  }
  const isPlainPhrase = (from: number, to: number): boolean => {
    if (from === to || to - from > longestPhrase || bytes[from] === space || bytes[to - 1] === space) return false
    for (let i = from; i < to; i++)
      if (!isWord(bytes[i]!) && (bytes[i] !== space || bytes[i + 1] === space)) return false
    return true
  }
  const isPlainFigure = (from: number, to: number, fraction: boolean, share: boolean): boolean => {
    let at = from
    while (at < to && bytes[at]! >= zero && bytes[at]! <= 57) at++
    const whole = at - from
    if (whole < 1 || whole > 9 || (share && (whole > 1 || bytes[from] !== zero))) return false
    if (at === to) return true
    if (!fraction || bytes[at] !== point) return false
    const first = ++at
    while (at < to && bytes[at]! >= zero && bytes[at]! <= 57) at++
    return at === to && at > first && at - first <= 9
  }

  for (let end = bytes.indexOf(newline); end >= 0; end = bytes.indexOf(newline, begin)) {
    const stop = bytes[end - 1] === carriageReturn && end > begin ? end - 1 : end
    let cells = 0
    starts[0] = begin
    for (let i = begin; i < stop; i++) {
      if (bytes[i] !== separator) continue
      ends[cells] = i
      if (cells < 254) starts[++cells] = i + 1
    }
    ends[cells++] = stop
    if (stop === begin) blank++
    else {
      const fallback = out
      let plain = phrase < cells && isPlainPhrase(starts[phrase]!, ends[phrase]!)
      if (plain) {
        const digits = String(line)
        out += rows.write(digits, out, 'latin1')
        rows[out++] = tab
        copyCell(starts[phrase]!, ends[phrase]!)
        for (const { at, fraction, share } of figures) {
          rows[out++] = tab
          if (at === undefined || at >= cells || starts[at] === ends[at]) {
            // Unknown.
            rows[out++] = 92
            rows[out++] = 78
          } else if (isPlainFigure(starts[at]!, ends[at]!, fraction, share)) copyCell(starts[at]!, ends[at]!)
          else {
            plain = false
            break
          }
        }
        rows[out++] = newline
      }
      if (!plain) {
        out = fallback
        odd.push({ line, text: Buffer.from(bytes.subarray(begin, stop)) })
      }
    }
    line++
    begin = end + 1
  }
  return { rows: rows.subarray(0, out), lines: line - firstLine, blank, odd }
}
