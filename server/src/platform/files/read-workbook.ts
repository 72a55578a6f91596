import { createWriteStream } from 'node:fs'
import { rename, rm } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import Papa from 'papaparse'
import { type FileBounds, FileError } from './file-bounds.ts'
import { isDateFormat, serialDay } from './cell-dates.ts'
import { localName, ZipParts } from './zip-parts.ts'

/** A row of a sheet with its number from 1; rows that are not given are empty. */
type SheetRow = { number: number; cells: string[] }

export const isZip = (head: Buffer): boolean => head.length >= 4 && head.readUInt32BE(0) === 0x504b0304

const mostRows = 1_048_576
const unreadable = (why: string): FileError =>
  new FileError('badInput', `The workbook cannot be read (${why}). Save it again as XLSX or CSV.`)

/**
 * Puts the first sheet of a workbook (XLSX or ODS) in the file's place as CSV, row by row, so that neither the sheet nor its XML is ever
 * whole in memory. Line numbers are those of the sheet. Throws `FileError` where it cannot be read or passes a bound.
 */
export async function workbookToCsv(path: string, bounds: FileBounds): Promise<void> {
  const csv = `${path}.csv`
  let parts: ZipParts | undefined
  try {
    parts = await ZipParts.open(path, bounds)
    const rows =
      parts.has('content.xml') && !parts.has('_rels/.rels') ? odsRows(parts, bounds) : xlsxRows(parts, bounds)
    async function* lines(): AsyncGenerator<string> {
      let last = 0
      for await (const { number, cells } of rows) {
        if (number > mostRows) throw unreadable(`it has more than ${mostRows.toLocaleString('en')} rows`)
        yield `${'\n'.repeat(Math.max(0, number - last - 1))}${Papa.unparse([cells.map(oneLine)], { newline: '\n' })}\n`
        last = number
      }
    }
    await pipeline(Readable.from(lines()), createWriteStream(csv))
    await rename(csv, path)
  } catch (error) {
    await rm(csv, { force: true })
    throw error instanceof FileError ? error : unreadable((error as Error).message)
  } finally {
    parts?.close()
  }
}

/** Line breaks in a cell would shift the numbers of the lines below. */
const oneLine = (text: string): string => text.replace(/\s*[\r\n]+\s*/g, ' ').trim()

async function* xlsxRows(parts: ZipParts, bounds: FileBounds): AsyncGenerator<SheetRow> {
  const book = await bookOf(parts)
  const strings = book.strings ? await sharedStrings(parts, book.strings, bounds) : []
  const dateStyles = book.styles ? await dateStylesOf(parts, book.styles) : []
  let rows: SheetRow[] = []
  let cells: string[] = []
  let number = 0
  let cell = { column: 0, type: '', date: false }
  let text = ''
  let [inValue, inSound] = [false, false]
  const finish = (): string => {
    switch (cell.type) {
      case 's':
        return strings[Number(text)] ?? ''
      case 'b':
        return text === '1' ? 'true' : 'false'
      case 'e':
        return ''
      case 'd':
        return text.replace('T', ' ').replace(/ 00:00(:00(\.0+)?)?$/, '')
      case 'inlineStr':
      case 'str':
        return text
      default:
        return cell.date && text ? (serialDay(Number(text), book.from1904) ?? text) : text
    }
  }
  const take = (): SheetRow[] => {
    const taken = rows
    rows = []
    return taken
  }
  yield* parts.xml<SheetRow>(
    book.sheet,
    {
      open(name, attributes) {
        if (name === 'row') {
          number = Number(attributes.r ?? number + 1)
          cells = []
        } else if (name === 'c') {
          const column = attributes.r ? columnOf(attributes.r) : cells.length
          cell = { column, type: attributes.t ?? 'n', date: dateStyles[Number(attributes.s ?? -1)] === true }
          text = ''
        } else if (name === 'v' || name === 't') inValue = true
        // How a word is read aloud is no part of it.
        else if (name === 'rPh') inSound = true
      },
      text(piece) {
        if (inValue && !inSound && text.length <= bounds.cell) text += piece
      },
      close(name) {
        if (name === 'v' || name === 't') inValue = false
        else if (name === 'rPh') inSound = false
        else if (name === 'c') {
          // One more than the bound is kept, so that the row is listed when the table is read.
          if (cell.column <= bounds.columns) {
            while (cells.length < cell.column) cells.push('')
            cells[cell.column] = finish()
          }
        } else if (name === 'row' && cells.some(Boolean)) rows.push({ number, cells })
      },
    },
    take,
  )
}

/** Where the parts of an XLSX workbook are that its first visible sheet needs. */
async function bookOf(
  parts: ZipParts,
): Promise<{ sheet: string; strings: string | null; styles: string | null; from1904: boolean }> {
  const relations = async (name: string, folder: string) => {
    const found: Array<{ id: string; type: string; target: string }> = []
    await parts.readXml(name, {
      open(tag, { Id = '', Type = '', Target = '' }) {
        const target = Target.startsWith('/') ? Target.slice(1) : `${folder}${Target}`
        if (tag === 'Relationship') found.push({ id: Id, type: Type.slice(Type.lastIndexOf('/') + 1), target })
      },
    })
    return found
  }
  if (!parts.has('_rels/.rels')) throw unreadable('it is a zip archive, but no workbook')
  const main = (await relations('_rels/.rels', '')).find(({ type }) => type === 'officeDocument')?.target
  if (!main?.endsWith('.xml') || !/workbook/i.test(main)) throw unreadable('it is no workbook')
  const folder = main.slice(0, main.lastIndexOf('/') + 1)
  const inBook = await relations(`${folder}_rels/${main.slice(folder.length)}.rels`, folder)
  const sheets: Array<{ id: string; hidden: boolean }> = []
  let from1904 = false
  await parts.readXml(main, {
    open(tag, attributes) {
      if (tag === 'workbookPr') from1904 = /^(1|true)$/.test(attributes.date1904 ?? '')
      if (tag !== 'sheet') return
      const id = Object.entries(attributes).find(([name]) => localName(name) === 'id' && name.includes(':'))?.[1] ?? ''
      sheets.push({ id, hidden: /hidden/i.test(attributes.state ?? '') })
    },
  })
  const first = sheets.find(sheet => !sheet.hidden) ?? sheets[0]
  const sheet = inBook.find(({ id }) => id === first?.id)?.target
  if (!sheet) throw unreadable('it has no sheet')
  const targetOf = (type: string): string | null => {
    const target = inBook.find(each => each.type === type)?.target
    return target && parts.has(target) ? target : null
  }
  return { sheet, strings: targetOf('sharedStrings'), styles: targetOf('styles'), from1904 }
}

async function sharedStrings(parts: ZipParts, name: string, bounds: FileBounds): Promise<string[]> {
  const strings: string[] = []
  let text = ''
  let [inText, inSound] = [false, false]
  await parts.readXml(name, {
    open(tag) {
      if (tag === 'si') text = ''
      if (tag === 't') inText = true
      if (tag === 'rPh') inSound = true
    },
    text(piece) {
      if (inText && !inSound && text.length <= bounds.cell) text += piece
    },
    close(tag) {
      if (tag === 't') inText = false
      if (tag === 'rPh') inSound = false
      if (tag === 'si') strings.push(text)
    },
  })
  return strings
}

/** Which styles of cells show a number as a date. */
async function dateStylesOf(parts: ZipParts, name: string): Promise<boolean[]> {
  const codes = new Map<number, string>()
  const styles: boolean[] = []
  let inCells = false
  await parts.readXml(name, {
    open(tag, attributes) {
      if (tag === 'numFmt') codes.set(Number(attributes.numFmtId), attributes.formatCode ?? '')
      if (tag === 'cellXfs') inCells = true
      if (tag === 'xf' && inCells) styles.push(isDateFormat(Number(attributes.numFmtId ?? 0), codes))
    },
    close(tag) {
      if (tag === 'cellXfs') inCells = false
    },
  })
  return styles
}

/** The column of a cell's name from 0: A is 0, AB is 27. */
function columnOf(name: string): number {
  let column = 0
  for (let i = 0; i < name.length; i++) {
    const letter = name.charCodeAt(i) & 0xdf
    if (letter < 65 || letter > 90) break
    column = column * 26 + letter - 64
  }
  return column - 1
}

/** Rows of the first table of an OpenDocument spreadsheet (ISO/IEC 26300). */
async function* odsRows(parts: ZipParts, bounds: FileBounds): AsyncGenerator<SheetRow> {
  let rows: SheetRow[] = []
  let cells: string[] = []
  let number = 0
  let tables = 0
  let repeatedRows = 1
  let cell = { repeated: 1, value: null as string | null }
  let text = ''
  let inText = 0
  let inNote = false
  const timesOf = (value: string | undefined): number => Math.max(1, Number(value ?? 1) || 1)
  const take = (): SheetRow[] => {
    const taken = rows
    rows = []
    return taken
  }
  yield* parts.xml<SheetRow>(
    'content.xml',
    {
      open(name, attributes) {
        if (name === 'table') tables++
        if (tables !== 1) return
        const of = (key: string): string | undefined => attributes[`table:${key}`]
        if (name === 'table-row') {
          repeatedRows = timesOf(of('number-rows-repeated'))
          cells = []
        } else if (name === 'table-cell' || name === 'covered-table-cell') {
          cell = { repeated: timesOf(of('number-columns-repeated')), value: plainValue(attributes) }
          text = ''
        } else if (name === 'annotation') inNote = true
        else if (inNote) return
        else if (name === 'p') {
          if (text) text += ' '
          inText++
        } else if (name === 's' && inText) text += ' '.repeat(Math.min(20, timesOf(attributes['text:c'])))
        else if ((name === 'tab' || name === 'line-break') && inText) text += ' '
      },
      text(piece) {
        if (inText && !inNote && text.length <= bounds.cell) text += piece
      },
      close(name) {
        if (tables !== 1) return
        if (name === 'annotation') inNote = false
        else if (inNote) return
        else if (name === 'p') inText--
        else if (name === 'table-cell' || name === 'covered-table-cell') {
          const shown = cell.value ?? text
          // Empty cells up to the end of the sheet are told as one that comes sixteen thousand times.
          const times = Math.min(cell.repeated, shown ? bounds.columns + 1 - cells.length : bounds.columns)
          for (let i = 0; i < times && cells.length <= bounds.columns; i++) cells.push(shown)
        } else if (name === 'table-row') {
          while (cells.length && !cells.at(-1)) cells.pop()
          // Many equal rows with content would be a bomb of a few bytes.
          if (cells.length)
            for (let i = 1; i <= Math.min(repeatedRows, 1_000); i++) rows.push({ number: number + i, cells })
          number += repeatedRows
        }
      },
    },
    take,
  )
}

/** What a cell of an OpenDocument spreadsheet holds where it is no text: a number, a day, a truth. */
function plainValue(attributes: Record<string, string>): string | null {
  switch (attributes['office:value-type']) {
    case 'float':
    case 'currency':
    case 'percentage':
      return attributes['office:value'] ?? null
    case 'date':
      return attributes['office:date-value']?.replace('T', ' ').replace(/ 00:00:00(\.0+)?$/, '') ?? null
    case 'boolean':
      return attributes['office:boolean-value'] ?? null
    default:
      return null
  }
}
