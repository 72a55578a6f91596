import type { Context } from '../../context.ts'
import type { ScheduleWork } from '../../domain/schedules/run-due.ts'
import { canMail, sendMail } from '../../platform/outside/send-mail.ts'
import { drawReport, needReport } from './draw-report.ts'
import { insertIssue, type IssueRow, maybeReport } from './queries.ts'
import { reportFile } from './report-files.ts'

const today = (): string => new Date().toISOString().slice(0, 10)

/** Draws a report as of a day and keeps it as it is then. */
export async function issueNow(
  context: Context,
  siteId: number,
  reportId: number,
  { asOf, bySchedule }: { asOf: string | undefined; bySchedule: boolean },
): Promise<IssueRow> {
  const report = await needReport(context.pool, siteId, reportId)
  const document = await drawReport(context, siteId, report, asOf, today())
  const issue = await insertIssue(context.pool, siteId, reportId, document, bySchedule)
  context.events.publish(siteId, { type: 'reports' })
  if (bySchedule && report.mailTo && canMail(context.config))
    await sendMail(context.config, {
      to: report.mailTo,
      subject: `${document.title}: ${document.site}, ${document.asOf}`,
      text: `The report "${document.title}" of ${document.domain} for ${document.asOf} is attached.\n`,
      html: (await reportFile(document, 'html')) as string,
      attachments: [
        {
          filename: `${fileNameOf(document.title, document.asOf)}.pdf`,
          content: (await reportFile(document, 'pdf')) as Buffer,
          contentType: 'application/pdf',
        },
      ],
    })
  return issue
}

/** Issues a report by its rhythm; one that was removed meanwhile is passed over. */
export const issueBySchedule: ScheduleWork = async (context, { siteId, subject }) => {
  // Its rhythm stays, so that undo brings the report back whole.
  if (!(await maybeReport(context.pool, siteId, subject.reportId!))) return
  await issueNow(context, siteId, subject.reportId!, { asOf: undefined, bySchedule: true })
}

/** Of what a file may be called: letters, figures and dashes of the title, and the day. */
export const fileNameOf = (title: string, day: string): string =>
  `${
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'report'
  }-${day}`
