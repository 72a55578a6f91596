import { createReadStream } from 'node:fs'
import { type LineProblem, RowSplitter } from './row-splitter.ts'
import type { FileBounds } from './file-bounds.ts'

/** What of a delimited file is read: its rows below the header. `plain`: whether lines that need no parser may come as their bytes. */
export type TableFile = {
  path: string
  encoding: string
  separator: string
  headerLine: number
  columns: number
  plain: boolean
}

/**
 * A part of a table, with the byte up to which the file was read: whole lines as bytes, without quotes and each ended by a line feed,
 * or rows of cells with the line number of each and the lines that could not be used.
 */
export type TablePart =
  | { kind: 'plain'; bytes: Uint8Array; firstLine: number; byte: number }
  | { kind: 'rows'; rows: string[][]; lines: number[]; problems: LineProblem[]; byte: number }

const newline = 10
const carriageReturn = 13
const quote = 34
const pieceBytes = 1 << 20
/** Rows of cells take the server longer than bytes: between two parts of them it answers others. */
const parsedBytes = 1 << 17

/** The rows of a table in parts, never the whole file in memory: from bytes as far as that is certain, then by the parser. */
export async function* readTable(file: TableFile, bounds: FileBounds): AsyncGenerator<TablePart> {
  const from =
    file.plain && /^(utf-8|windows-1252)$/.test(file.encoding) ? yield* plainParts(file) : { byte: 0, line: 1 }
  if (from) yield* parsedParts(file, from, bounds)
}

type FilePosition = { byte: number; line: number }

/** Whether bytes hold what only a parser can tell: quotes, or single carriage returns as line ends. */
export function needsParser(bytes: Buffer): boolean {
  if (bytes.includes(quote)) return true
  for (let at = bytes.indexOf(carriageReturn); at >= 0; at = bytes.indexOf(carriageReturn, at + 1))
    if (bytes[at + 1] !== newline) return true
  return false
}

/** Whole lines below the header as long as no part needs a parser. Returns where that ended, null at the end of the file. */
async function* plainParts({ path, headerLine }: TableFile): AsyncGenerator<TablePart, FilePosition | null> {
  let rest: Buffer = Buffer.alloc(0)
  let [byte, line] = [0, 1]
  const part = (bytes: Buffer, at: number): TablePart | null => {
    let begin = 0
    while (line <= headerLine && begin < bytes.length) {
      begin = bytes.indexOf(newline, begin) + 1
      line++
    }
    const body = bytes.subarray(begin)
    const firstLine = line
    for (let i = body.indexOf(newline); i >= 0; i = body.indexOf(newline, i + 1)) line++
    return body.length ? { kind: 'plain', bytes: Uint8Array.from(body), firstLine, byte: at } : null
  }
  for await (const chunk of createReadStream(path, { highWaterMark: pieceBytes }) as AsyncIterable<Buffer>) {
    const bytes = rest.length ? Buffer.concat([rest, chunk]) : chunk
    const end = bytes.lastIndexOf(newline) + 1
    // A line of over a million bytes is no row that a program wrote.
    if (!end && bytes.length > pieceBytes) return { byte, line }
    const whole = bytes.subarray(0, end)
    if (needsParser(whole)) return { byte, line }
    const found = part(whole, byte + end)
    if (found) yield found
    byte += end
    rest = bytes.subarray(end)
  }
  if (needsParser(rest)) return { byte, line }
  const found = rest.length ? part(Buffer.concat([rest, Buffer.from([newline])]), byte + rest.length) : null
  if (found) yield found
  return null
}

async function* parsedParts(file: TableFile, from: FilePosition, bounds: FileBounds): AsyncGenerator<TablePart> {
  const decoder = new TextDecoder(file.encoding)
  const splitter = new RowSplitter(file.separator, from.line, file.columns, bounds)
  let { byte } = from
  const split = (text: string, last: boolean): TablePart => {
    const { rows, lines, problems } = splitter.split(text, last)
    // The header and what stands above it.
    const first = lines.findIndex(line => line > file.headerLine)
    const kept = first < 0 ? lines.length : first
    return {
      kind: 'rows',
      rows: rows.slice(kept),
      lines: lines.slice(kept),
      problems: problems.filter(({ line }) => line > file.headerLine),
      byte,
    }
  }
  for await (const chunk of createReadStream(file.path, { start: from.byte, highWaterMark: parsedBytes })) {
    byte += (chunk as Buffer).length
    yield split(decoder.decode(chunk as Buffer, { stream: true }), false)
  }
  yield split(decoder.decode(), true)
}
