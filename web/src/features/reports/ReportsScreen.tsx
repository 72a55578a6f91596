import { listReports, type Report, reportPath } from '@dew-trail/contract/reports'
import { Button } from '@mui/material'
import { lazy, Suspense } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { ReportComposer } from './ReportComposer.tsx'

const NewReportDialog = lazy(() => import('./NewReportDialog.tsx'))

/** What is handed to a client or a chief: reports, each composed at the left and read at the right as it would be now. */
export default function ReportsScreen() {
  const { site } = useSite()
  const [params, change] = useAddress()
  const { data, error } = useEndpoint(listReports, { siteId: site.id })
  const chosen = data?.reports.find(each => String(each.id) === params.get('report')) ?? data?.reports[0]
  return (
    <main className="screen whole">
      <ScreenTitle title="Reports" />
      <div className="main">
        {!data ? (
          <Waiting error={error} />
        ) : !chosen ? (
          <div className="empty" style={{ flex: 1 }}>
            <h2>No report yet</h2>
            <p>
              A report is composed of sections that fill themselves: figures with their change, pictures with their
              sentence, tables, what happened and whether it helped, and your own words between them. It goes out as a
              page, PDF or workbook, at a secret address, or by mail each week or month.
            </p>
            <Button variant="contained" onClick={() => change(setParam('new', 'open'))}>
              New report
            </Button>
          </div>
        ) : (
          <div className="reports">
            <nav className="report-list" aria-label="Reports">
              <Button onClick={() => change(setParam('new', 'open'))} fullWidth variant="outlined">
                New report
              </Button>
              <ul>
                {data.reports.map(each => (
                  <li key={each.id}>
                    <button
                      type="button"
                      className="plain-button"
                      aria-current={each.id === chosen.id}
                      onClick={() => change(setParam('report', String(each.id)), true)}
                    >
                      <span className="cut">{each.name}</span>
                      <small className="quiet">{stateOf(each)}</small>
                    </button>
                  </li>
                ))}
              </ul>
            </nav>
            <ReportComposer key={chosen.id} report={chosen} hasLogo={data.hasLogo} mails={data.mails} />
            <iframe
              key={`${chosen.id} ${chosen.version} ${data.hasLogo}`}
              title={`${chosen.name} as it would be now`}
              className="report-preview"
              sandbox=""
              src={reportPath(site.id, chosen.id, null, 'html')}
            />
          </div>
        )}
        <div className="foot">
          {data && data.reports.length > 0 && <span>{plural(data.reports.length, 'report')}</span>}
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
      {params.get('new') === 'open' && (
        <Suspense fallback={null}>
          <NewReportDialog onClose={() => change(setParam('new', null))} />
        </Suspense>
      )}
    </main>
  )
}

const stateOf = ({ issues, lastIssued, rhythm }: Report): string =>
  `${issues ? `${plural(issues, 'issue')}, last of ${formatDay(lastIssued!)}` : 'not issued yet'}${rhythm ? `, every ${rhythm.every}` : ''}`
