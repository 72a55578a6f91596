import { AppError } from '@dew-trail/contract/errors'
import { maybeImport } from '../../domain/imports/queries.ts'
import type { TakeBackWork } from '../../domain/imports/take-back-work.ts'
import type { JobWork } from '../../platform/jobs/jobs.ts'

/** Takes an import of any kind but keywords back, or puts it back, by what its feature registered. */
export const takeBackJob =
  (works: Readonly<Record<string, TakeBackWork>>): JobWork =>
  async (context, control) => {
    const { importId, on } = control.job.payload as { importId: number; on: boolean }
    const row = await maybeImport(context.pool, control.siteId, importId)
    const work = row && works[row.kind]
    if (!row?.brought || !work) throw new AppError('notFound', `There is no import ${importId} to take back`)
    const done = await work(context, control, row, on)
    await control.step(1, 1)
    return { importId, on, ...done }
  }
