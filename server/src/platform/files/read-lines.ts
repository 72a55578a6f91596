import { StringDecoder } from 'node:string_decoder'
import type { FileBounds } from './file-bounds.ts'
import type { LineProblem } from './row-splitter.ts'
import { Unpacked } from './unpacked.ts'

/** Lines of a text file, plain or gzip, with the number of the first; a line that is too long is empty here and listed. */
export type LinePart = { lines: string[]; firstLine: number; problems: LineProblem[]; byte: number; bytes: number }

/** Reads a text file line by line, in parts; `byte` of `bytes` tells how far the file on disk has been read. */
export async function* readLines(path: string, bounds: FileBounds): AsyncGenerator<LinePart> {
  const file = await Unpacked.open(path, bounds)
  const decoder = new StringDecoder('utf8')
  let rest = ''
  let skipping = false
  let line = 1
  const part = (lines: string[], problems: LineProblem[]): LinePart => {
    const firstLine = line
    line += lines.length
    return { lines: lines.map(withoutReturn), firstLine, problems, byte: file.read, bytes: file.bytes }
  }
  const tooLong = (at: number, text: string): LineProblem => ({
    line: at,
    what: `The line is longer than ${bounds.line.toLocaleString('en')} characters`,
    value: text.slice(0, 200),
  })
  for await (const piece of file.pieces(() => `line ${line}`)) {
    const lines = (rest + decoder.write(piece)).split('\n')
    rest = lines.pop()!
    if (skipping && lines.length) {
      // The end of a line that was listed already; it is counted here.
      lines[0] = ''
      skipping = false
    } else if (skipping) rest = ''
    const problems: LineProblem[] = []
    for (const [i, text] of lines.entries())
      if (text.length > bounds.line) {
        problems.push(tooLong(line + i, text))
        lines[i] = ''
      }
    if (rest.length > bounds.line) {
      problems.push(tooLong(line + lines.length, rest))
      rest = ''
      skipping = true
    }
    yield part(lines, problems)
  }
  rest += decoder.end()
  if (rest && !skipping) yield part([rest], [])
}

const withoutReturn = (line: string): string => (line.endsWith('\r') ? line.slice(0, -1) : line)
