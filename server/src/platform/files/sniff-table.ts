import { isUtf8 } from 'node:buffer'
import { createReadStream } from 'node:fs'
import Papa from 'papaparse'
import { type FileBounds, FileError } from './file-bounds.ts'
import { headOf } from './unpacked.ts'

/** How a delimited file is written. `headerLine`: the number of the line that names the columns; what stands above it is left out. */
export type TableShape = {
  encoding: string
  separator: string
  headerLine: number
  header: string[]
  preview: string[][]
}

const headBytes = 64 * 1024
const separators = [',', ';', '\t', '|']
/** Among how many lines the header is looked for. */
const headerAmong = 60
const previewRows = 8
const newline = 10

/** Encoding, separator, header and first rows of a text file. Throws `FileError` where it is no table. */
export async function sniffTable(path: string, bounds: FileBounds): Promise<TableShape> {
  const head = await headOf(path, headBytes)
  const encoding = await encodingOf(path, head)
  // What cannot be decoded at the end of the head is a character that it cuts.
  const text = new TextDecoder(encoding).decode(head, { stream: true })
  const hint = /^sep=(.)\r?\n/i.exec(text)?.[1]
  const separator = hint ?? sniffSeparator(text)
  const rows = rowsOf(text, separator).slice(0, headerAmong)
  const at = headerAt(rows, hint !== undefined)
  const header = (rows[at]?.cells ?? []).map(cell => cell.trim())
  if (!header.some(name => name)) throw new FileError('badInput', 'The file holds no line with column names')
  if (header.length > bounds.columns)
    throw new FileError('tooLarge', `The file has more than ${bounds.columns.toLocaleString('en')} columns`)
  return {
    encoding,
    separator,
    headerLine: rows[at]!.line,
    header: header.map(name => name.slice(0, bounds.cell)),
    preview: rows
      .slice(at + 1)
      .filter(({ cells }) => cells.some(cell => cell.trim()))
      .slice(0, previewRows)
      .map(({ cells }) => cells.map(cell => cell.slice(0, bounds.cell))),
  }
}

/** By a byte-order mark, else by where zeros stand, else UTF-8 if all of the file is valid, else Windows-1252. */
async function encodingOf(path: string, head: Buffer): Promise<string> {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le'
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be'
  if (head.subarray(0, 4).toString('latin1') === '%PDF' || (head.length >= 4 && head.readUInt32BE(0) === 0xd0cf11e0))
    throw new FileError('badInput', 'This is no table: save it as CSV, TSV or XLSX')
  const zeros = [0, 0]
  for (let i = 0; i < head.length; i++) if (head[i] === 0) zeros[i & 1]!++
  const half = head.length / 2
  // Latin text in UTF-16 has a zero in nearly every second byte, and hardly any in the others.
  if (zeros[1]! > 0.3 * half && zeros[0]! < 0.05 * half) return 'utf-16le'
  if (zeros[0]! > 0.3 * half && zeros[1]! < 0.05 * half) return 'utf-16be'
  if (zeros[0]! + zeros[1]! > 0.02 * head.length)
    throw new FileError('badInput', 'This is no text file. Save the table as CSV, TSV or XLSX.')
  return (await isAllUtf8(path)) ? 'utf-8' : 'windows-1252'
}

/** Whether a whole file is valid UTF-8: one name in another encoding may stand far down. */
async function isAllUtf8(path: string): Promise<boolean> {
  let rest: Buffer = Buffer.alloc(0)
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
    const part = rest.length ? Buffer.concat([rest, chunk]) : chunk
    // A character may be cut at the end of a piece; lines are not.
    const end = part.lastIndexOf(newline) + 1 || Math.max(0, part.length - 4)
    let whole = end
    // Without a line end the cut may fall into a character: its bytes go to the next piece.
    while (whole > 0 && (part[whole]! & 0xc0) === 0x80) whole--
    if (!isUtf8(part.subarray(0, whole))) return false
    rest = Buffer.from(part.subarray(whole))
  }
  return isUtf8(rest)
}

/** The separator that splits most lines into equally many columns. Lines above the table, such as its title, may be split otherwise. */
export function sniffSeparator(text: string): string {
  let best = { separator: ',', score: 0 }
  for (const separator of separators) {
    const rows = rowsOf(text, separator).slice(0, headerAmong)
    const { columns, share } = usualColumns(rows.slice(0, -1).length ? rows.slice(0, -1) : rows)
    const score = columns > 1 ? share * Math.min(columns, 12) : 0
    if (share >= 0.5 && score > best.score) best = { separator, score }
  }
  return best.separator
}

type Row = { line: number; cells: string[] }

/** Rows of the beginning of a file with their line numbers, blank ones left out. */
function rowsOf(text: string, separator: string): Row[] {
  const rows: Row[] = []
  for (const [i, line] of text.split(/\r\n|\n|\r/, headerAmong * 4).entries()) {
    if (!line.trim()) continue
    const cells = Papa.parse<string[]>(line, { delimiter: separator }).data[0] ?? []
    rows.push({ line: i + 1, cells: i ? cells : cells.map((cell, at) => (at ? cell : cell.replace(/^\ufeff/, ''))) })
  }
  return rows
}

/** How many cells most rows have, and which share of them. */
function usualColumns(rows: readonly Row[]): { columns: number; share: number } {
  const counts = new Map<number, number>()
  for (const { cells } of rows) counts.set(cells.length, (counts.get(cells.length) ?? 0) + 1)
  const [columns, times] = [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [1, 0]
  return { columns, share: rows.length ? times / rows.length : 0 }
}

/** Cells that hold data and name no column: numbers, dates, addresses. */
const isData = (cell: string): boolean => /^[^\p{L}]*\d[^\p{L}]*$|:\/\/|^[\w-]+(\.[\w-]+)+\/?/u.test(cell.trim())

/**
 * Which row names the columns: the first with as many cells as most rows have and a name in most of them. Where that one holds data, the
 * header has fewer cells than the rows and is the first row.
 */
function headerAt(rows: readonly Row[], hasHint: boolean): number {
  const first = hasHint ? 1 : 0
  const { columns } = usualColumns(rows.slice(first))
  if (columns < 2) return first
  const at = rows.findIndex(
    ({ cells }, i) => i >= first && cells.length >= columns && cells.filter(cell => cell.trim()).length > columns / 2,
  )
  return at < 0 || rows[at]!.cells.some(isData) ? first : at
}
