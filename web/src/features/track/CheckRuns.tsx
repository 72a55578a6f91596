import { checkAgain, type CheckRun, listCheckFailures, listCheckRuns } from '@dew-trail/contract/check-runs'
import { Fragment, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatMarket, formatWhole, plural } from '../../ui/format.ts'
import { momentText } from '../../ui/rhythm-text.ts'
import { useSite } from '../../ui/site-context.ts'
import { useActing } from '../../ui/use-act.ts'

const atFirst = 8

/** Checks of positions as they ran, the latest first, with what each could not ask. */
export function CheckRuns({ timeZone }: { timeZone: string }) {
  const { site } = useSite()
  const { act, pending } = useActing()
  const [all, setAll] = useState(false)
  const [open, setOpen] = useState<number | null>(null)
  const { data, error } = useEndpoint(listCheckRuns, { siteId: site.id })
  const again = (run: CheckRun) =>
    act(async () => {
      await call(checkAgain, { siteId: site.id, checkRunId: run.id })
      return { say: `Asking again for ${formatWhole(run.failed)} of this check` }
    })
  if (error) return <p role="alert">{error.message}</p>
  if (!data?.length)
    return data ? (
      <p className="quiet">No check has run yet. Each is kept here, with what an engine did not answer.</p>
    ) : null
  const marketName = (id: number | null) => {
    const market = site.markets.find(each => each.id === id)
    return market ? formatMarket(market) : 'all markets'
  }
  return (
    <section aria-labelledby="check-runs">
      <h3 id="check-runs" style={{ margin: '8px 0 4px', fontSize: 14 }}>
        Checks as they ran
      </h3>
      <p className="quiet" style={{ marginTop: 0 }}>
        What an engine did not answer is “not checked”, never “not found”; it is asked again through the day, up to four
        times.
      </p>
      <table className="results whole-cells">
        <thead>
          <tr>
            <th>Began</th>
            <th>Market</th>
            <th>By</th>
            <th className="n">Checked</th>
            <th className="n">Failed</th>
            <th className="n">Not asked</th>
            <th>
              <span className="hidden">Act</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.slice(0, all ? data.length : atFirst).map(run => {
            const notRequested = run.endedAt === null ? null : run.requested - run.checked - run.failed
            return (
              <Fragment key={run.id}>
                <tr>
                  <td>{momentText(run.beganAt, timeZone)}</td>
                  <td>{marketName(run.marketId)}</td>
                  <td>
                    {run.scheduled ? 'schedule' : 'hand'}
                    {run.late && <span className="fall">, late</span>}
                  </td>
                  <td
                    className="n"
                    title={run.checkedLater ? `${formatWhole(run.checkedLater)} of them when asked again` : undefined}
                  >
                    {formatWhole(run.checked)} of {formatWhole(run.requested)}
                  </td>
                  <td className="n">
                    {run.failed || run.checkedLater ? (
                      <button
                        type="button"
                        className={run.failed ? 'link fall' : 'link'}
                        aria-expanded={open === run.id}
                        onClick={() => setOpen(open === run.id ? null : run.id)}
                      >
                        {formatWhole(run.failed)}
                      </button>
                    ) : (
                      0
                    )}
                  </td>
                  <td className="n">
                    {notRequested === null ? (
                      <span className="quiet">not at its end</span>
                    ) : (
                      formatWhole(Math.max(0, notRequested))
                    )}
                  </td>
                  <td>
                    {run.failed > 0 && (
                      <button type="button" className="link" disabled={pending} onClick={() => void again(run)}>
                        Ask again
                      </button>
                    )}
                  </td>
                </tr>
                {open === run.id && (
                  <tr>
                    <td colSpan={7}>
                      <Failures runId={run.id} timeZone={timeZone} marketName={marketName} />
                    </td>
                  </tr>
                )}
              </Fragment>
            )
          })}
        </tbody>
      </table>
      {data.length > atFirst && (
        <button type="button" className="link" onClick={() => setAll(!all)}>
          {all ? 'The latest only' : `${plural(data.length - atFirst, 'earlier check')}`}
        </button>
      )}
    </section>
  )
}

const mostShown = 200
function Failures({
  runId,
  timeZone,
  marketName,
}: {
  runId: number
  timeZone: string
  marketName(id: number): string
}) {
  const { site } = useSite()
  const { data, error } = useEndpoint(listCheckFailures, { siteId: site.id, checkRunId: runId })
  if (error) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Loading</p>
  return (
    <ul style={{ margin: 0, paddingLeft: 18 }} aria-label="What it could not ask">
      {data.slice(0, mostShown).map(each => (
        <li key={`${each.keywordId} ${each.marketId}`}>
          <b>{each.phrase}</b>, {marketName(each.marketId)}:{' '}
          {each.checkedAt ? (
            <span className="quiet">checked after all on {momentText(each.checkedAt, timeZone)}</span>
          ) : (
            <>
              {each.what}; tried {each.tries === 1 ? 'once' : `${each.tries} times`}
            </>
          )}
        </li>
      ))}
      {data.length > mostShown && <li className="quiet">and {formatWhole(data.length - mostShown)} more</li>}
    </ul>
  )
}
