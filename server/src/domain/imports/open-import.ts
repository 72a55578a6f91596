import { stat } from 'node:fs/promises'
import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { fileBounds } from '../../platform/files/file-bounds.ts'
import { readFileParts } from '../../platform/files/read-file.ts'
import type { TablePart } from '../../platform/files/read-table.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { fetchUpload, removeUpload } from './uploads.ts'
import { clearErrors, type ImportRow, insertErrors, maybeImport } from './queries.ts'
import { type Cell, readDate } from './read-cells.ts'

const mostErrors = 10_000
const mostDays = 10_000

export type OpenImport = {
  row: ImportRow
  mapping: Record<string, number>
  bytes: number
  /** Lines that could not be used; all are counted, the first ten thousand listed. */
  wrong: number
  say(line: number, what: string, value: string): void
  cell(cells: readonly string[], field: string): string
  /** A day in a text, not later than tomorrow: it may be so already where the file comes from. */
  day(text: string): Cell<string>
  /** The rows of the file, read in a thread; lines that are no rows are listed. `plain`: lines that need no parser come as bytes. */
  parts(plain?: boolean): AsyncGenerator<TablePart>
  /**
   * Saves the list of wrong lines and takes the file away. Kept until here, so that an import that fails can be tried again. A file of no
   * lines is said to be one.
   */
  finish(lines: number): Promise<void>
}

/** What every import of an uploaded file begins with. */
export async function openImport(context: Context, control: JobControl): Promise<OpenImport> {
  const known = await maybeImport(context.pool, control.siteId, Number(control.job.payload.importId))
  const gone = new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  if (!known) throw gone
  if (known.takenBack) throw new AppError('conflict', 'This import was taken back; upload the file again')
  const path = await fetchUpload(context, known.filePath)
  if (!path) throw gone
  const row = { ...known, filePath: path }
  const mapping = (control.job.payload.mapping ?? {}) as Record<string, number>
  const { size: bytes } = await stat(path)
  await clearErrors(context.pool, row.siteId, row.id)
  const errors: Array<{ line: number; what: string; value: string }> = []
  const latest = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)
  // Days as they are written: a file has few of them, each thousands of times.
  const days = new Map<string, Cell<string>>()
  const file: OpenImport = {
    row,
    mapping,
    bytes,
    wrong: 0,
    say(line, what, value) {
      file.wrong++
      if (errors.length < mostErrors) errors.push({ line, what, value: value.slice(0, 200) })
    },
    cell: (cells, field) => (mapping[field] === undefined ? '' : (cells[mapping[field]!] ?? '').trim()),
    day(text) {
      let day = days.get(text)
      if (day) return day
      if (days.size > mostDays) days.clear()
      day = readDate(text, latest)
      days.set(text, day)
      return day
    },
    async *parts(plain = false) {
      const { filePath: path, encoding, separator, headerLine, columns } = row
      const input = { path, encoding, separator, headerLine, columns, plain }
      for await (const part of readFileParts('table', input, fileBounds(context.config), control.signal)) {
        if (part.kind === 'rows') for (const { line, what, value } of part.problems) file.say(line, what, value)
        yield part
      }
    },
    async finish(lines) {
      if (!lines) control.warn('The file has no rows below the names of its columns')
      await insertErrors(context.pool, row.siteId, row.id, errors)
      await removeUpload(context.pool, row.filePath)
    },
  }
  return file
}
