import { familyOnce } from '@dew-trail/core/tables/once-by'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { listPositions } from '@dew-trail/contract/track'
import { Button } from '@mui/material'
import { readChanges } from '@dew-trail/contract/track-changes'
import { reasonNames } from '@dew-trail/core/positions/reason-words'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { ImportDialog } from '../../imports/ImportDialog.tsx'
import { formatDay, plural } from '../../ui/format.ts'
import { rhythmText } from '../../ui/rhythm-text.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import type { Row } from '../../rows/row-source.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { AlertsTab } from './AlertsTab.tsx'
import { ChangesTab } from './ChangesTab.tsx'
import { Won } from './change-columns.tsx'
import { CheckTimes, useCheckTimes } from './CheckTimes.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import { trackBatch, trackSpecs } from '@dew-trail/contract/track-table'
import { useTab } from '../../ui/TabBar.tsx'
import { PagesTab } from './PagesTab.tsx'
import { SitesTab } from './SitesTab.tsx'
import { TrackBar, tabs } from './TrackBar.tsx'
import { VoiceTab } from './VoiceTab.tsx'
import { trackColumns } from './track-columns.tsx'
import { TrackRanges } from './TrackRanges.tsx'
import { TrackSums } from './TrackSums.tsx'
import { sinceVisit } from './since-visit.ts'
import { shippedViews } from './track-views.ts'
import { useTrackActs } from './use-track-acts.ts'
import { useTrackMenu } from './use-track-menu.ts'
import { TrackHead, TrackHeadToCome } from './TrackHead.tsx'

const TrackSetup = lazy(() => import('./TrackSetup.tsx'))
const sumColumns = ['searches', 'visits', 'now']
const drawn = ['recent', 'nowValue']
const inWords = ['change']
const unfold = (row: Row) => <HistoryDetails keywordId={row.id} />

/** Positions of tracked keywords, who else gets their visits, and all sites at a glance. What is looked at stands in the address. */
export default function TrackScreen() {
  const see = useTab(tabs)
  if (see === 'changes') return <ChangesTab />
  if (see === 'voice') return <VoiceTab />
  if (see === 'pages') return <PagesTab />
  if (see === 'alerts') return <AlertsTab />
  if (see === 'sites') return <SitesTab />
  return <PositionsTab />
}

function PositionsTab() {
  const { site, market } = useSite()
  const [params, changeAddress] = useAddress()
  const compareDays = Number(params.get('compare') ?? 7)
  const days = Number(params.get('days') ?? 90)
  const set = (key: string, value: string | null) => changeAddress(setParam(key, value))
  const { data, error } = useEndpoint(listPositions, { siteId: site.id, marketId: market.id, compareDays })
  // Kept by their names: answers come anew with every check, columns only with other rivals.
  const rivalNames = (data?.rivals ?? []).map(each => each.domain).join(' ')
  const rivals = useMemo(() => rivalNames.split(' ').filter(Boolean), [rivalNames])
  const specs = useMemo(() => trackSpecs(site.markets, rivals), [site.markets, rivals])
  const batch = useMemo(() => (data ? trackBatch(data, site.markets, market) : null), [data, site.markets, market])
  const source = useRowsInWorker(specs, batch, familyOnce)
  const positions = data?.rows ?? []
  const state = useSheetState('now')
  const columns = useMemo(() => trackColumns(market, site.markets, rivals), [market, site.markets, rivals])
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
        total={positions.length}
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
        head={data ? <TrackHead {...data} days={days} /> : !error && <TrackHeadToCome />}
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
        foot={({ sums }) => <TrackSums sums={sums} data={data} />}
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
            <Button onClick={() => check()} variant="outlined" disabled={!positions.length || asking || checking}>
              {checking ? 'Checking' : 'Check now'}
            </Button>
          </>
        }
        none={
          <>
            <h2>Nothing is watched yet</h2>
            <p>
              Take keywords from the query log, the plan, themes, a rival or pasted lines, and choose the markets they
              are checked in; or send them here from Gather, Weigh and Plan with T; or import positions that you already
              have.
            </p>
            <Button variant="contained" onClick={() => set('setup', 'open')}>
              Track keywords
            </Button>
          </>
        }
      />
      {params.get('times') === 'open' && <CheckTimes tracked={positions.length} onClose={() => set('times', null)} />}
      {params.get('setup') === 'open' && (
        <Suspense fallback={null}>
          <TrackSetup onClose={() => set('setup', null)} />
        </Suspense>
      )}
      {params.get('import') === 'positions' && <ImportDialog kind="positions" onClose={() => set('import', null)} />}
    </>
  )
}

/** What moved since the user was here last, where that was on an earlier day; the way to what happened. */
function SinceVisit({ lastDay }: { lastDay: string }) {
  const { site, market } = useSite()
  const [since] = useState(() => sinceVisit(site.id, market.id, lastDay))
  return since && <MovedSince since={since} />
}
function MovedSince({ since }: { since: string }) {
  const { site, market } = useSite()
  const { data } = useEndpoint(readChanges, { siteId: site.id, marketId: market.id, since })
  if (!data?.moved) return null
  const won = data.visits ? data.visits.now - data.visits.before : null
  const [reason] = data.reasons
  return (
    <p className="line-above" role="status">
      Since your last visit ({formatDay(since)}): <b>{plural(data.moved, 'keyword')}</b> moved beyond the usual
      {won !== null && (
        <>
          , <Won value={won} /> visits a month
        </>
      )}
      {reason && `; most of it by ${reasonNames[reason.kind]}`}.{' '}
      <Link className="link" to={`/${site.id}/track?market=${market.id}&see=changes&since=${since}`}>
        What happened
      </Link>
    </p>
  )
}
