import type { Report } from '@dew-trail/contract/reports'
import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { setRhythm } from './rhythms.ts'
import { maybeReport, type ReportFields, setRemoved, updateReport } from './queries.ts'

export const undoAddReport: UndoWork = async (db, siteId, { reportId }: { reportId: number }) => {
  const report = await maybeReport(db, siteId, reportId)
  if (report && report.version !== 1)
    throw new AppError('conflict', 'The report was changed since. Nothing was undone.')
  await setRemoved(db, siteId, reportId, true)
  return ['reports']
}
export const undoChangeReport: UndoWork = async (
  db,
  siteId,
  { rhythm, ...before }: ReportFields & { id: number; version: number; rhythm?: Report['rhythm'] },
) => {
  if (!(await updateReport(db, siteId, before)))
    throw new AppError('conflict', 'The report was changed or removed since. Nothing was undone.')
  await setRhythm(db, siteId, before.id, rhythm)
  return ['reports']
}
export const undoRemoveReport: UndoWork = async (db, siteId, { reportId }: { reportId: number }) => {
  await setRemoved(db, siteId, reportId, false)
  return ['reports']
}
