import { AppError } from '@dew-trail/contract/errors'
import { id } from '@dew-trail/contract/common'
import {
  changeReport,
  createReport,
  issueReport,
  listIssues,
  listReports,
  removeIssue,
  removeReport,
  renewReportLink,
  type ReportFormat,
  reportFormats,
  setReportLogo,
  templates,
} from '@dew-trail/contract/reports'
import type { Express, Response } from 'express'
import { z } from 'zod'
import type { Context } from '../../context.ts'
import { doAct } from '../../domain/acts/do-act.ts'
import { endSecretLink, readSecretLink, renewSecretLink, whatIsShared } from '../../domain/sites/secret-links.ts'
import { checkIds } from '../../platform/http/check-ids.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { canMail } from '../../platform/outside/send-mail.ts'
import { drawReport, needReport } from './draw-report.ts'
import { fileNameOf, issueNow } from './issue-report.ts'
import { imageType } from './image-type.ts'
import {
  deleteIssue,
  insertReport,
  manyIssues,
  manyReports,
  maybeDocument,
  maybeLogo,
  setLogo,
  setRemoved,
  updateReport,
} from './queries.ts'
import { maybeRhythm, setRhythm, withRhythms } from './rhythms.ts'
import { reportFile, reportTypes } from './report-files.ts'

const today = (): string => new Date().toISOString().slice(0, 10)

export function mountReports(app: Express, context: Context): void {
  const { pool, events, config } = context
  mount(app, listReports, async ({ siteId }) => ({
    reports: await withRhythms(pool, siteId, await manyReports(pool, siteId)),
    hasLogo: (await maybeLogo(pool, siteId)) !== null,
    mails: canMail(config),
  }))
  mount(app, createReport, ({ siteId, marketId, name, template, sections }) =>
    doAct(context, siteId, async db => {
      const from = sections ?? templates[template ?? 'glance'].sections.map(kind => ({ kind, title: '' }))
      const reportId = await insertReport(db, siteId, { name, marketId, sections: from })
      const report = { ...(await needReport(db, siteId, reportId)), rhythm: null, problem: null }
      const title = `Report "${name}" made`
      return { answer: report, act: { kind: 'addReport', title, data: { reportId } }, changed: ['reports'] }
    }),
  )
  mount(app, changeReport, async ({ siteId, reportId, version, rhythm, ...change }) => {
    const done = await doAct(context, siteId, async db => {
      const before = await needReport(db, siteId, reportId)
      const rhythmBefore = await maybeRhythm(db, siteId, reportId)
      const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined))
      if (!(await updateReport(db, siteId, { ...before, ...given, version })))
        throw new AppError(
          'conflict',
          'Somebody changed this report meanwhile. Nothing was saved; look at it again first.',
        )
      await setRhythm(db, siteId, reportId, rhythm)
      const report = await needReport(db, siteId, reportId)
      // What did not change is not undone: somebody else may change it meanwhile.
      const data = {
        ...before,
        version: report.version,
        ...(rhythm === undefined ? {} : { rhythm: rhythmBefore }),
      }
      const title = `Report "${report.name}" changed`
      return { answer: report, act: { kind: 'changeReport', title, data }, changed: ['reports'] }
    })
    const [report] = await withRhythms(pool, siteId, [done])
    return { ...report!, actId: done.actId }
  })
  mount(app, removeReport, ({ siteId, reportId }) =>
    doAct(context, siteId, async db => {
      const { name } = await needReport(db, siteId, reportId)
      await setRemoved(db, siteId, reportId, true)
      const title = `Report "${name}" removed`
      return { answer: {}, act: { kind: 'removeReport', title, data: { reportId } }, changed: ['reports'] }
    }),
  )
  mount(app, listIssues, async ({ siteId, reportId }) => {
    const issues = []
    for (const issue of await manyIssues(pool, siteId, reportId))
      issues.push({ ...issue, link: await readSecretLink(pool, { siteId, kind: 'report', of: issue.id }) })
    return issues
  })
  mount(app, issueReport, async ({ siteId, reportId, asOf }) => {
    const issue = await issueNow(context, siteId, reportId, { asOf, bySchedule: false })
    return { ...issue, link: await readSecretLink(pool, { siteId, kind: 'report', of: issue.id }) }
  })
  mount(app, removeIssue, async ({ siteId, reportId, issueId }) => {
    await needDocument(context, siteId, reportId, issueId)
    await endSecretLink(pool, { siteId, kind: 'report', of: issueId })
    await deleteIssue(pool, siteId, reportId, issueId)
    events.publish(siteId, { type: 'reports' })
    return {}
  })
  mount(app, renewReportLink, async ({ siteId, reportId, issueId, end, endsOn }) => {
    await needDocument(context, siteId, reportId, issueId)
    const of = { siteId, kind: 'report', of: issueId } as const
    if (endsOn !== null && endsOn < today()) throw new AppError('badInput', 'endsOn: that day is over')
    const link = end ? await endSecretLink(pool, of) : await renewSecretLink(pool, of, endsOn)
    events.publish(siteId, { type: 'reports' })
    return link
  })
  mount(app, setReportLogo, async ({ siteId, logo }) => {
    if (logo) {
      const bytes = Buffer.from(logo.base64, 'base64')
      const type = imageType(bytes)
      if (!type) throw new AppError('badInput', 'logo: this file is neither a PNG nor a JPEG')
      await setLogo(pool, siteId, { type, bytes })
    } else await setLogo(pool, siteId, null)
    events.publish(siteId, { type: 'reports' })
    return {}
  })
  mountFiles(app, context)
}

/** Reports as files: as they would be now, as they were issued, and what a secret address shows. */
function mountFiles(app: Express, context: Context): void {
  const { pool } = context
  const format = z.enum(reportFormats)
  const send = async (response: Response, of: Awaited<ReturnType<typeof needDocument>>, as: ReportFormat) => {
    const file = await reportFile(of, as)
    const name = `${fileNameOf(of.title, of.asOf)}.${as}`
    response.setHeader('cache-control', 'no-store')
    response.setHeader('x-frame-options', 'SAMEORIGIN')
    // A page is looked at where it is; what it holds may neither run scripts nor ask anybody for anything.
    response.setHeader(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'self'; sandbox allow-popups allow-modals",
    )
    response.setHeader(
      'content-disposition',
      `${as === 'html' ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(name)}`,
    )
    response.type(reportTypes[as]).send(file)
  }
  app.get('/api/sites/:siteId/reports/:reportId/preview.:format', async (request, response) => {
    const input = checkInput(z.object({ siteId: id, reportId: id, format }), request.params)
    await checkIds(pool, input)
    const report = await needReport(pool, input.siteId, input.reportId)
    await send(response, await drawReport(context, input.siteId, report, undefined, today()), input.format)
  })
  app.get('/api/sites/:siteId/reports/:reportId/issues/:issueId.:format', async (request, response) => {
    const input = checkInput(z.object({ siteId: id, reportId: id, issueId: id, format }), request.params)
    await checkIds(pool, input)
    if (input.format !== 'html') context.people.noteExport(input.siteId, `Report as ${input.format.toUpperCase()}`)
    await send(response, await needDocument(context, input.siteId, input.reportId, input.issueId), input.format)
  })
  // Clients come by this address, without signing in.
  app.get(['/shared/report/:token', '/shared/report/:token/:format'], async (request, response) => {
    const { token, format: as } = checkInput(
      z.object({ token: z.string().max(100), format: format.default('html') }),
      request.params,
    )
    const { siteId, of } = await whatIsShared(pool, 'report', token)
    await send(response, await needDocument(context, siteId, null, of), as)
  })
}

async function needDocument({ pool }: Context, siteId: number, reportId: number | null, issueId: number) {
  const document = await maybeDocument(pool, siteId, reportId, issueId)
  if (!document) throw new AppError('notFound', 'This issue is not there, or its report was removed')
  return document
}
