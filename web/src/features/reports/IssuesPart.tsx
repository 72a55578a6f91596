import {
  issueReport,
  listIssues,
  type Report,
  reportFormats,
  type ReportIssue,
  reportPath,
  removeIssue,
  renewReportLink,
} from '@dew-trail/contract/reports'
import { Button } from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatDay } from '../../ui/format.ts'
import { RhythmCells } from '../../ui/RhythmCells.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { TypedLine } from './TypedLine.tsx'
import type { ReportChange } from './use-report.ts'

type Props = { report: Report; mails: boolean; onChange: ReportChange }

/** What was issued, each as it was then, with its files and secret address; and when the report issues itself. */
export function IssuesPart({ report, mails, onChange }: Props) {
  const { site } = useSite()
  const act = useAct()
  const issuing = useChange()
  const [asOf, setAsOf] = useState('')
  const { data: issues } = useEndpoint(listIssues, { siteId: site.id, reportId: report.id })
  const issue = () =>
    issuing.run(() =>
      act(async () => {
        await onChange.settled()
        await call(issueReport, { siteId: site.id, reportId: report.id, ...(asOf ? { asOf } : {}) })
        return { say: 'The report is issued, and kept as it is now' }
      }),
    )
  return (
    <>
      <h2>Issued</h2>
      <div className="report-of">
        <Button variant="contained" disabled={issuing.pending || !report.sections.length} onClick={() => void issue()}>
          {issuing.pending ? 'Drawing it' : 'Issue it'}
        </Button>
        <label className="quiet">
          as of{' '}
          <input
            type="date"
            className="typed-line"
            style={{ width: 130 }}
            aria-label="As of; empty: the last checked day"
            value={asOf}
            onChange={event => setAsOf(event.target.value)}
          />
        </label>
      </div>
      <ul className="issue-list">
        {issues?.map(each => (
          <IssueLine key={each.id} reportId={report.id} issue={each} />
        ))}
      </ul>
      {issues?.length === 0 && (
        <p className="quiet" style={{ margin: 0 }}>
          Nothing yet. An issue stays as it was, whatever the data becomes.
        </p>
      )}
      <h2>By itself</h2>
      <table className="results report-rhythm">
        <tbody>
          <tr>
            <RhythmCells
              rhythm={report.rhythm}
              of="the report is issued"
              disabled={false}
              onChange={rhythm => void onChange({ rhythm })}
            />
          </tr>
        </tbody>
      </table>
      {report.problem && (
        <p className="fall" role="alert" style={{ margin: 0 }}>
          The last time: {report.problem}
        </p>
      )}
      {mails ? (
        <label>
          and mailed to{' '}
          <TypedLine
            label="Mailed to"
            value={report.mailTo ?? ''}
            most={254}
            optional
            placeholder="nobody"
            isRight={text => text === '' || /^\S+@\S+\.\S+$/.test(text)}
            onSave={text => void onChange({ mailTo: text || null })}
          />
        </label>
      ) : (
        <p className="quiet" style={{ margin: 0, fontSize: 12 }}>
          With a mail server (SMTP_URL, docs/configuration.md) it is mailed too.
        </p>
      )}
    </>
  )
}

function IssueLine({ reportId, issue }: { reportId: number; issue: ReportIssue }) {
  const { site } = useSite()
  const act = useAct()
  const of = { siteId: site.id, reportId, issueId: issue.id }
  const [endsOn, setEndsOn] = useState('')
  const { address } = issue.link
  return (
    <li>
      <div>
        <b>{formatDay(issue.asOf)}</b>{' '}
        <span className="quiet">{issue.bySchedule ? 'by itself' : `made ${formatDay(issue.madeAt.slice(0, 10))}`}</span>
        {reportFormats.map(format => (
          <a
            key={format}
            className="link"
            href={reportPath(site.id, reportId, issue.id, format)}
            aria-label={`${{ html: 'Page', pdf: 'PDF', xlsx: 'Workbook' }[format]} of ${formatDay(issue.asOf)}`}
            {...(format === 'html' ? { target: '_blank', rel: 'noreferrer' } : {})}
          >
            {{ html: 'Page', pdf: 'PDF', xlsx: 'Workbook' }[format]}
          </a>
        ))}
        <button
          type="button"
          className="link"
          aria-label={`Remove the issue of ${formatDay(issue.asOf)}`}
          onClick={() => void act(async () => void (await call(removeIssue, of)))}
        >
          Remove
        </button>
      </div>
      {address ? (
        <div>
          <input
            className="typed-line"
            readOnly
            aria-label={`Secret address of the issue of ${formatDay(issue.asOf)}`}
            value={`${location.origin}${address}`}
            onFocus={event => event.target.select()}
          />
          <small className="quiet">
            {issue.link.endsOn ? `until ${formatDay(issue.link.endsOn)}` : 'until it is ended'}
          </small>{' '}
          <button
            type="button"
            className="link"
            onClick={() =>
              void act(async () => {
                await call(renewReportLink, { ...of, end: true })
                return { say: 'The address has ended' }
              })
            }
          >
            End it
          </button>
        </div>
      ) : (
        <div>
          <button
            type="button"
            className="link"
            onClick={() =>
              void act(async () => {
                await call(renewReportLink, { ...of, endsOn: endsOn || null })
                return { say: 'Whoever knows the address reads this issue, and nothing else' }
              })
            }
          >
            Make a secret address
          </button>{' '}
          <label className="quiet">
            until{' '}
            <input
              type="date"
              className="typed-line"
              style={{ width: 130 }}
              aria-label="Last day of the address; empty: until it is ended"
              value={endsOn}
              onChange={event => setEndsOn(event.target.value)}
            />
          </label>
        </div>
      )}
    </li>
  )
}
