import type { CellValue } from './column-spec.ts'

/** Most rows that are written to one workbook: more than that is what CSV is for. */
export const mostWorkbookRows = 100_000

/** A name that workbooks take for a sheet: 31 characters, none of those that part names. */
export const sheetName = (title: string): string =>
  title
    .replace(/[[\]:*?/\\\s]+/g, ' ')
    .replace(/^'|'$/g, '')
    .trim()
    .slice(0, 31) || 'Rows'

/** As many digits as a figure of its size is told with: what is behind them is noise of computing. */
const tidy = (value: number): number => {
  const size = Math.abs(value)
  return Number.isInteger(value) ? value : Number(value.toFixed(size >= 100 ? 1 : size >= 1 ? 2 : 4))
}

/** A value as a cell of a file: unknown is empty, flags are words, the numbers of a series stand with spaces between. */
export const fileCell = (value: CellValue): string | number =>
  value === null
    ? ''
    : typeof value === 'number'
      ? tidy(value)
      : Array.isArray(value)
        ? value.map(item => item ?? '').join(' ')
        : value === true
          ? 'yes'
          : value === false
            ? 'no'
            : (value as string | number)

/** A sheet's name that no other has yet, whatever their case; it is added to those taken. */
export function freeSheetName(wanted: string, taken: Set<string>): string {
  for (let number = 1; ; number++) {
    const end = number === 1 ? '' : ` ${number}`
    const name = `${sheetName(wanted).slice(0, 31 - end.length)}${end}`
    if (taken.has(name.toLowerCase())) continue
    taken.add(name.toLowerCase())
    return name
  }
}
