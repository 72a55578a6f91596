import { Button } from '@mui/material'
import type { Row } from '../../rows/row-source.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { rhythmText } from '../../ui/rhythm-text.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useCheckTimes } from './CheckTimes.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import { NothingWatched } from './NothingWatched.tsx'
import { SinceVisit } from './SinceVisit.tsx'
import { TrackBar } from './TrackBar.tsx'
import { TrackDialogs } from './TrackDialogs.tsx'
import { TrackHead, TrackHeadToCome } from './TrackHead.tsx'
import { TrackRanges } from './TrackRanges.tsx'
import { TrackSums } from './TrackSums.tsx'
import { shippedViews } from './track-views.ts'
import { firstOrder, usePositionRows } from './use-position-rows.ts'
import { useTrackActs } from './use-track-acts.ts'
import { useTrackMenu } from './use-track-menu.ts'

const sumColumns = ['searches', 'visits', 'now']
const drawn = ['recent', 'nowValue']
const inWords = ['change']
const unfold = (row: Row) => <HistoryDetails keywordId={row.id} />

/** Positions of tracked keywords in a market. What is looked at stands in the address. */
export function PositionsTab() {
  const { site, market } = useSite()
  const [params, changeAddress] = useAddress()
  const compareDays = Number(params.get('compare') ?? 7)
  const days = Number(params.get('days') ?? 90)
  const set = (key: string, value: string | null) => changeAddress(setParam(key, value))
  const state = useSheetState(firstOrder)
  const { data, error, coming, source, columns } = usePositionRows(compareDays, state)
  const tracked = data?.total ?? 0
  const rhythm = useCheckTimes().data?.schedules.find(each => each.marketId === market.id)?.rhythm
  const { asking, checking, check, stop } = useTrackActs()
  const rowActions = useTrackMenu({ check, stop, busy: asking || checking })
  return (
    <>
      <TableScreen
        key={`${site.id}:${market.id}`}
        name="track"
        served="positions"
        label="Positions"
        fileName="positions"
        title="Track"
        noun="keyword"
        source={source}
        error={error}
        total={tracked}
        columns={columns}
        state={state}
        searchColumn="phrase"
        sums={sumColumns}
        unfold={unfold}
        rowActions={rowActions}
        // A place that was not found is an empty cell; the movement in words tells it from one that was not checked.
        shippedViews={shippedViews}
        leaveOut={drawn}
        add={inWords}
        top={
          <>
            <TrackBar see="positions" />
            {data?.lastDay && <SinceVisit lastDay={data.lastDay} />}
          </>
        }
        lead={<TrackRanges days={days} compareDays={compareDays} lastDay={data?.lastDay ?? null} onChange={set} />}
        actions={
          <>
            <button type="button" className="link" onClick={() => set('setup', 'open')}>
              Track keywords
            </button>
            <button type="button" className="link" onClick={() => set('import', 'positions')}>
              Import CSV
            </button>
          </>
        }
        head={data ? <TrackHead {...data} coming={coming} days={days} /> : !error && <TrackHeadToCome />}
        footSelected={take => (
          <>
            <button type="button" className="link" disabled={asking} onClick={async () => check((await take()).ids)}>
              Check these now
            </button>
            <button type="button" className="link" onClick={async () => stop(await take())}>
              Stop tracking
            </button>
          </>
        )}
        foot={({ sums }) =>
          coming ? <Listed data={data} first="at the best places" coming /> : <TrackSums sums={sums} data={data} />
        }
        footEnd={
          <>
            <button
              type="button"
              className="link"
              onClick={() => set('times', 'open')}
              title="When positions are checked by themselves"
            >
              {rhythm ? `Checked ${rhythmText(rhythm)}` : 'Checked only when asked'}
            </button>
            <Button onClick={() => check()} variant="outlined" disabled={!tracked || asking || checking}>
              {checking ? 'Checking' : 'Check now'}
            </Button>
          </>
        }
        none={<NothingWatched onSetUp={() => set('setup', 'open')} />}
      />
      <TrackDialogs tracked={tracked} />
    </>
  )
}
