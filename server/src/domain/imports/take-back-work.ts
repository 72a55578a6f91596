import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import type { ImportRow } from './queries.ts'

/**
 * Takes what an import alone brought away, or (`on` false) puts it back, and notes that with `setTakenBack` in the same transaction as the
 * last of it; gives what it did. A job that was cut off comes again: what is done then stays done, and what derives from it is worked out anew.
 * Throws "conflict" with a reason where it cannot.
 */
export type TakeBackWork = (context: Context, control: JobControl, row: ImportRow, on: boolean) => Promise<object>
