import { createWriteStream } from 'node:fs'
import { open, rename, rm } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import ExcelJS from 'exceljs'
import Papa from 'papaparse'

/** Whether a file is a workbook (XLSX, which is a zip archive) by its first bytes. */
export async function isWorkbook(path: string): Promise<boolean> {
  const file = await open(path)
  try {
    const { buffer } = await file.read(Buffer.alloc(4), 0, 4, 0)
    return buffer.readUInt32BE(0) === 0x504b0304
  } finally {
    await file.close()
  }
}

/** Puts the first sheet of a workbook in the file's place as CSV, row by row. Throws `badInput` where it cannot be read. */
export async function workbookToCsv(path: string): Promise<void> {
  const csv = `${path}.csv`
  try {
    const reader = new ExcelJS.stream.xlsx.WorkbookReader(path, {
      worksheets: 'emit',
      sharedStrings: 'cache',
      styles: 'cache',
      hyperlinks: 'ignore',
    })
    async function* lines(): AsyncGenerator<string> {
      for await (const sheet of reader) {
        let last = 0
        for await (const row of sheet) {
          // Empty rows are left out of the file; they are put back, so that line numbers stay those of the sheet.
          for (; last < row.number - 1; last++) yield '\n'
          last = row.number
          const values = Array.isArray(row.values) ? row.values.slice(1) : []
          yield `${Papa.unparse([Array.from(values, cellText)])}\n`
        }
        return
      }
    }
    await pipeline(Readable.from(lines()), createWriteStream(csv))
    await rename(csv, path)
  } catch (error) {
    await rm(csv, { force: true })
    throw new AppError(
      'badInput',
      `The workbook cannot be read (${(error as Error).message}). Save it again as XLSX or CSV.`,
    )
  }
}

/** What a cell shows: the result of a formula, a date as YYYY-MM-DD, the plain words of formatted text. */
function cellText(value: ExcelJS.CellValue | undefined): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString().slice(0, 10)
  if (typeof value !== 'object') return String(value)
  if ('richText' in value) return value.richText.map(part => part.text).join('')
  if ('result' in value) return cellText(value.result as ExcelJS.CellValue)
  if ('text' in value) return cellText(value.text as ExcelJS.CellValue)
  return ''
}
