import { changeReport, type Report } from '@dew-trail/contract/reports'
import { useRef } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

type Change = Partial<
  Pick<Report, 'name' | 'marketId' | 'days' | 'colour' | 'language' | 'sections' | 'rhythm' | 'mailTo'>
>

/**
 * Changes a report, one change after the other, each over the version that the one before made. `settled` waits for those under way: what
 * was typed last must be in what is issued next.
 */
export type ReportChange = {
  (change: Change, say?: string): Promise<void>
  settled(): Promise<unknown>
}
export function useReportChange(report: Report): ReportChange {
  const { site } = useSite()
  const act = useAct()
  const version = useRef(report.version)
  version.current = Math.max(version.current, report.version)
  const queue = useRef<Promise<unknown>>(Promise.resolve())
  const changeReportInTurn = (change: Change, say?: string): Promise<void> => {
    const work = () =>
      act(async () => {
        const input = { siteId: site.id, reportId: report.id, version: version.current, ...change }
        const done = await call(changeReport, input)
        version.current = done.version
        return say ? { say, actId: done.actId } : undefined
      })
    const next = queue.current.then(work)
    queue.current = next
    return next
  }
  return Object.assign(changeReportInTurn, { settled: () => queue.current })
}
