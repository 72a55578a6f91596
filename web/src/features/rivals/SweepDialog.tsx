import type { Rhythm } from '@dew-trail/contract/schedules'
import { listSweeps, type Sweep, setSweep, startSweep } from '@dew-trail/contract/sweeps'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useMutation } from '@tanstack/react-query'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatMarket, formatWhole, plural } from '../../ui/format.ts'
import { useJobs } from '../../ui/JobLine.tsx'
import { RhythmCells } from '../../ui/RhythmCells.tsx'
import { momentText, rhythmText } from '../../ui/rhythm-text.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const names: Record<Sweep['part'], string> = { weekly: 'Weekly part', full: 'Full part' }

/** When results of many keywords are fetched anew, and what that costs. Every choice counts at once. */
export default function SweepDialog({ onClose }: { onClose(): void }) {
  const { site, market } = useSite()
  const act = useAct()
  const at = { siteId: site.id, marketId: market.id }
  const { data, error, refetch } = useEndpoint(listSweeps, at)
  const { jobs } = useJobs()
  const running = jobs.some(job => job.kind === 'sweep' && job.endedAt === null)
  const { mutate, isPending } = useMutation({
    mutationFn: ({ part, rhythm }: { part: Sweep['part']; rhythm: Rhythm | null }) =>
      act(async () => {
        await call(setSweep, { ...at, part, rhythm })
        await refetch()
      }),
  })
  const tooMany = data?.mostADay != null && data.sweeps.some(each => each.requests > data.mostADay!)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Sweeps: results fetched anew in {formatMarket(market)}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 3 }}>
        {error && <p role="alert">{error.message}</p>}
        {data && (
          <>
            <p className="quiet" style={{ margin: 0 }}>
              Rivals are read from results. A sweep asks the engine once for each keyword, tracked or not. The weekly
              part takes the kept and the {formatWhole(data.mostSearched)} most searched, 20 deep; the full part takes
              all, 100 deep. Results that were fetched today as deep are not asked for again.
            </p>
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th>Part</th>
                  <th className="n">keywords</th>
                  <th className="n">requests now</th>
                  <th>How often</th>
                  <th>Day</th>
                  <th>Hour</th>
                  <th>Next</th>
                  <th>Last</th>
                  <th>
                    <span className="hidden">Begin</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.sweeps.map(({ part, keywords, requests, rhythm, nextAt, lastAt, wasLate, lastError }) => (
                  <tr key={part}>
                    <td>{names[part]}</td>
                    <td className="n">{formatWhole(keywords)}</td>
                    <td className="n">{formatWhole(requests)}</td>
                    <RhythmCells
                      rhythm={rhythm}
                      of={`the ${names[part].toLowerCase()} is fetched`}
                      disabled={isPending}
                      onChange={next => mutate({ part, rhythm: next })}
                    />
                    <td title={rhythm ? rhythmText(rhythm) : ''}>{nextAt ? momentText(nextAt, data.timeZone) : ''}</td>
                    <td>
                      {lastAt ? `${momentText(lastAt, data.timeZone)}${wasLate ? ', late' : ''}` : ''}
                      {lastError && <div role="alert">{lastError}</div>}
                    </td>
                    <td>
                      <ActButton
                        label={`Begin now: ${names[part].toLowerCase()}`}
                        disabled={running || !requests}
                        title={running ? 'A sweep is under way' : `Asks the engine ${plural(requests, 'time')}`}
                        onAct={async () => {
                          const begun = await call(startSweep, { ...at, part })
                          return { say: `Fetching results: ${plural(begun.requests, 'request')}` }
                        }}
                      >
                        Begin now
                      </ActButton>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {tooMany && (
              <p className="quiet" style={{ margin: 0 }}>
                Your limit is {formatWhole(data.mostADay!)} requests a day to the engines. A sweep that reaches it keeps
                what it has, the kept and most searched keywords first, and goes on when its job is started again.
              </p>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
