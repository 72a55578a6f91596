import { checkNow, listPositions, trackKeywords } from '@dew-trail/contract/track'
import { Button, MenuItem, Select } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { z } from 'zod'
import { call } from '../api/call.ts'
import { formatDay, formatWhole, plural } from '../format.ts'
import { useSums } from '../gather/use-source-facts.ts'
import { ImportDialog } from '../imports/ImportDialog.tsx'
import { JobLine, useJobs } from '../shell/JobLine.tsx'
import { useSite } from '../shell/site-context.ts'
import { setParam, useAddress } from '../shell/use-address.ts'
import { useAct } from '../shell/use-act.ts'
import { ColumnMenu } from '../sheet/ColumnMenu.tsx'
import { ConditionsBar } from '../sheet/ConditionsBar.tsx'
import { ExportMenu } from '../sheet/ExportMenu.tsx'
import { useExport } from '../sheet/use-export.ts'
import type { Row } from '../sheet/row-source.ts'
import { Sheet } from '../sheet/Sheet.tsx'
import { useColumnTable } from '../sheet/use-column-table.ts'
import { useRowsInWorker } from '../sheet/use-rows-in-worker.ts'
import { SumText } from '../sheet/SumText.tsx'
import { useSheetState } from '../sheet/use-sheet-state.ts'
import { CheckTimes, useCheckTimes } from './CheckTimes.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import { rhythmText } from './rhythm-text.ts'
import { trackBatch, trackColumns, trackSpecs } from './track-columns.tsx'
import { TrackHead } from './TrackHead.tsx'

const comparisons = [1, 7, 30, 90, 365]
const ranges = [30, 90, 180, 400]
const sumColumns = ['searches', 'visits', 'now']

export default function TrackScreen() {
  const { site, market } = useSite()
  const [params, changeAddress] = useAddress()
  const compareDays = Number(params.get('compare') ?? 7)
  const days = Number(params.get('days') ?? 90)
  const set = (key: string, value: string | null) => changeAddress(setParam(key, value))
  const { data, error } = useQuery({
    queryKey: ['positions', site.id, market.id, compareDays],
    queryFn: () => call(listPositions, { siteId: site.id, marketId: market.id, compareDays }),
  })
  const specs = useMemo(() => trackSpecs(site.markets), [site.markets])
  const batch = useMemo(() => (data ? trackBatch(data.rows, site.markets, data.lastDay) : null), [data, site.markets])
  const source = useRowsInWorker(specs, batch)
  if (error)
    return (
      <main className="screen whole">
        <div className="main">
          <div className="empty" role="alert">
            <h1>The positions could not be loaded</h1>
            <p>{error.message}</p>
          </div>
        </div>
      </main>
    )
  if (!source || !data) return null
  return (
    <main className="screen whole">
      <TrackTable
        source={source}
        data={data}
        days={days}
        lead={
          <>
            <Select
              size="small"
              value={days}
              onChange={event => set('days', String(event.target.value))}
              slotProps={{ input: { 'aria-label': 'Range of the pictures' } }}
            >
              {ranges.map(each => (
                <MenuItem key={each} value={each}>
                  Last {each} days
                </MenuItem>
              ))}
            </Select>
            <Select
              size="small"
              value={compareDays}
              onChange={event => set('compare', String(event.target.value))}
              slotProps={{ input: { 'aria-label': 'Compare with' } }}
            >
              {comparisons.map(each => (
                <MenuItem key={each} value={each}>
                  Compare with {each === 1 ? 'the day' : `${each} days`} before
                </MenuItem>
              ))}
            </Select>
          </>
        }
        onImport={() => set('import', 'positions')}
        onTimes={() => set('times', 'open')}
      />
      {params.get('times') === 'open' && <CheckTimes tracked={data.rows.length} onClose={() => set('times', null)} />}
      {params.get('import') === 'positions' && <ImportDialog kind="positions" onClose={() => set('import', null)} />}
    </main>
  )
}

type Props = {
  source: NonNullable<ReturnType<typeof useRowsInWorker>>
  data: z.output<(typeof listPositions)['output']>
  days: number
  lead: React.ReactNode
  onImport(): void
  onTimes(): void
}
function TrackTable({ source, data, days, lead, onImport, onTimes }: Props) {
  const { rows, lastDay, beforeDay, checkedAt, checked, visibility } = data
  const { site, market } = useSite()
  const act = useAct()
  const rhythm = useCheckTimes().data?.schedules.find(each => each.marketId === market.id)?.rhythm
  const state = useSheetState('now')
  const columns = useMemo(() => trackColumns(market, site.markets), [market, site.markets])
  const table = useColumnTable(`track-${market.id}`, columns)
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set())
  const sums = useSums(source, sumColumns, selected)
  const unfold = useCallback((row: Row) => <HistoryDetails keywordId={row.id} />, [])
  const ids = [...selected]
  const { jobs } = useJobs()
  const checking = jobs.some(job => job.kind === 'check' && job.endedAt === null)
  const [asking, setAsking] = useState(false)
  const check = async (keywordIds?: number[]) => {
    setAsking(true)
    await act(async () => {
      const { requests } = await call(checkNow, { siteId: site.id, ...(keywordIds ? { keywordIds } : {}) })
      return { say: `Asking the engines ${plural(requests, 'time')}` }
    })
    setAsking(false)
  }
  const stop = () =>
    act(async () => {
      const { changed } = await call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: false })
      setSelected(new Set())
      return {
        say: `${plural(changed.length, 'keyword')} no longer tracked; the history stays`,
        undo: () => call(trackKeywords, { siteId: site.id, keywordIds: changed, tracked: true }),
      }
    })
  // A place that was not found is an empty cell; the movement in words tells it from one that was not checked.
  const exporting = useExport({
    source,
    table,
    columns,
    selected,
    fileName: `${site.domain}-positions`,
    title: 'Positions',
    leaveOut: ['recent', 'nowValue'],
    add: ['change'],
  })
  const keys = useMemo(() => ({}), [])
  return (
    <div className="main">
      <ConditionsBar
        columns={columns}
        state={state}
        searchColumn="phrase"
        lead={lead}
        end={
          <>
            <button type="button" className="link" onClick={onImport}>
              Import CSV
            </button>
            <ColumnMenu table={table} columns={columns} />
            <ExportMenu {...exporting} />
          </>
        }
      />
      <TrackHead rows={rows} days={days} lastDay={lastDay} beforeDay={beforeDay} visibility={visibility} />
      <Sheet
        label="Positions"
        source={source}
        columns={columns}
        table={table}
        state={state}
        selected={selected}
        onSelect={setSelected}
        unfold={unfold}
        keys={keys}
        empty={
          rows.length ? (
            <div className="empty">
              <h1>No keyword meets all conditions</h1>
              <p>Take a condition away to see more.</p>
              <button type="button" className="link" onClick={() => state.setWhere([])}>
                Clear all conditions
              </button>
            </div>
          ) : (
            <div className="empty">
              <h1>Nothing is watched yet</h1>
              <p>
                Send keywords here from a page of the plan, or from Gather and Weigh with T; or import positions that
                you already have.
              </p>
              <Link className="link" to={`/${site.id}/plan?market=${market.id}`}>
                Go to Plan
              </Link>
            </div>
          )
        }
      />
      <div className="foot">
        {selected.size > 0 && (
          <>
            <span>
              <b>{formatWhole(selected.size)}</b> selected
            </span>
            <button type="button" className="link" disabled={asking} onClick={() => check(ids)}>
              Check these now
            </button>
            <button type="button" className="link" onClick={stop}>
              Stop tracking
            </button>
          </>
        )}
        {sums && (
          <>
            <span>
              <b>{formatWhole(sums.rows)}</b> shown of {formatWhole(rows.length)}
            </span>
            <span>
              mean place <b>{sums.sums.now!.mean === null ? 'unknown' : sums.sums.now!.mean.toFixed(1)}</b>
              {sums.sums.now!.mean !== null && sums.sums.now!.unknown > 0 && (
                <span
                  className="quiet"
                  title="Not found within the checked depth, or not checked: they have no place to be in the mean"
                >
                  {' '}
                  of {formatWhole(sums.sums.now!.known)} found
                </span>
              )}
            </span>
            <span>
              <SumText sum={sums.sums.visits!} of="visits/mo" about />
            </span>
          </>
        )}
        {lastDay && (
          <span className="quiet" title={checkedAt ? `Written ${new Date(checkedAt).toLocaleString()}` : ''}>
            last day {formatDay(lastDay)}
            {checked < rows.length && `, ${formatWhole(checked)} of ${formatWhole(rows.length)} checked`}
          </span>
        )}
        <div className="foot-end">
          <JobLine />
          <button type="button" className="link" onClick={onTimes} title="When positions are checked by themselves">
            {rhythm ? `Checked ${rhythmText(rhythm)}` : 'Checked only when asked'}
          </button>
          <Button onClick={() => check()} variant="outlined" disabled={!rows.length || asking || checking}>
            {checking ? 'Checking' : 'Check now'}
          </Button>
        </div>
      </div>
    </div>
  )
}
