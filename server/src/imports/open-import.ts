import { stat } from 'node:fs/promises'
import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../context.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { removeUpload } from './uploads.ts'
import { clearErrors, type ImportRow, insertErrors, maybeImport } from './queries.ts'

const mostErrors = 10_000

export type OpenImport = {
  row: ImportRow
  mapping: Record<string, number>
  bytes: number
  /** Lines that could not be used; all are counted, the first ten thousand listed. */
  wrong: number
  say(line: number, what: string, value: string): void
  cell(cells: readonly string[], field: string): string
  /** Saves the list of wrong lines and takes the file away. Kept until here, so that an import that fails can be tried again. */
  finish(): Promise<void>
}

/** What every import of an uploaded file begins with. */
export async function openImport(context: Context, control: JobControl): Promise<OpenImport> {
  const row = await maybeImport(context.pool, control.job.siteId, Number(control.job.payload.importId))
  const gone = new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  if (!row) throw gone
  const mapping = (control.job.payload.mapping ?? {}) as Record<string, number>
  const bytes = await stat(row.filePath).then(
    info => info.size,
    () => {
      throw gone
    },
  )
  await clearErrors(context.pool, row.id)
  const errors: Array<{ line: number; what: string; value: string }> = []
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
    async finish() {
      await insertErrors(context.pool, row.id, errors)
      await removeUpload(row.filePath)
    },
  }
  return file
}
