import { listNotes } from '@dew-trail/contract/notes'
import { type listPositions, listVisibility, type TrackedRow } from '@dew-trail/contract/track'
import { listShifts } from '@dew-trail/contract/track-changes'
import { lazy, Suspense } from 'react'
import type { z } from 'zod'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { roundTicks } from '@dew-trail/core/pictures/line-picture'
import { fileColours, SavePicture } from '../../pictures/SavePicture.tsx'
import { AsTable } from '../../pictures/AsTable.tsx'
import { SpreadBars, type SpreadDay } from '../../pictures/SpreadBars.tsx'
import { formatDay, formatMarket, formatOne, formatShortDay, formatWhole, plural } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useSite } from '../../ui/site-context.ts'

const NotesDialog = lazy(() => import('./NotesDialog.tsx'))
const VisibilityChart = lazy(() => import('../../pictures/VisibilityChart.tsx'))

type Props = {
  rows: TrackedRow[]
  /** Whether there are more rows than are here yet. */
  coming: boolean
  days: number
  lastDay: string | null
  beforeDay: string | null
  visibility: z.output<(typeof listPositions)['output']>['visibility']
}
/** From which share of the keywords that a full day has a day is drawn: one of a few keywords says nothing of the others. */
const leastShare = 0.5
const checkedOn = ({ top3, top10, top30, beyond, notFound }: SpreadDay): number =>
  top3 + top10 + top30 + beyond + notFound

const headBox = {
  display: 'grid',
  gridTemplateColumns: '168px minmax(0, 1fr) 330px',
  gap: 24,
  padding: '12px 16px',
  minHeight: 214,
  borderBottom: '1px solid var(--mui-palette-dew-line)',
  background: 'var(--mui-palette-dew-open)',
}

/** The space of the head before it is there, so that the table below does not move when it comes. */
export const TrackHeadToCome = () => <div className="track-head" style={headBox} aria-busy="true" />

/** The screen's one headline figure, its course, and where the keywords stand. */
export function TrackHead({ rows, coming, days, lastDay, beforeDay, visibility }: Props) {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const notes = useEndpoint(listNotes, { siteId: site.id })
  const { data: allShifts } = useEndpoint(listShifts, { siteId: site.id, days: Math.max(30, days) })
  const shifts = (allShifts ?? [])
    .filter(each => each.engine === market.engine)
    .map(({ day, moved, usual }) => ({
      day,
      text: `${market.engine} shifted: keywords moved ${formatOne(moved)} places, usual ${formatOne(usual)}`,
    }))
  const { data } = useEndpoint(listVisibility, { siteId: site.id, marketId: market.id, days })
  if (!lastDay || data?.length === 0) return null
  if (!data) return <TrackHeadToCome />
  const full = Math.max(...data.map(checkedOn))
  const whole = data.filter(each => checkedOn(each) >= leastShare * full)
  const fewer = data.length - whole.length
  const moved = visibility.change
  const count = (test: (row: TrackedRow) => boolean): number => rows.filter(test).length
  const figure = (value: number): string => (coming ? '…' : formatWhole(value))
  const rose = count(row => row.now > 0 && (row.before < 0 || (row.before > 0 && row.now < row.before)))
  const fell = count(row => row.before > 0 && (row.now < 0 || row.now > row.before))
  const entered = count(row => row.now > 0 && row.now <= 10 && (row.before < 0 || row.before > 10))
  const left = count(row => row.before > 0 && row.before <= 10 && (row.now < 0 || row.now > 10))
  return (
    <section className="track-head" style={headBox} aria-label="Summary" aria-busy={coming}>
      <div>
        <div
          className="headline own"
          title="Σ searches × share of clicks at your place, of what first place everywhere would bring, × 100; each keyword by its last known position; default click curve; keywords with unknown searches are left out"
        >
          {visibility.now === null ? 'unknown' : formatOne(visibility.now)}
        </div>
        <div className="quiet">
          visibility
          {moved === null
            ? ''
            : moved >= 0.05
              ? `, up ${formatOne(moved)}`
              : moved <= -0.05
                ? `, down ${formatOne(-moved)}`
                : ', as before'}
        </div>
        <div className="quiet" style={{ fontSize: 12 }}>
          of {formatWhole(visibility.keywords)} keywords, {formatShortDay(lastDay)}
        </div>
        <div style={{ marginTop: 8, lineHeight: '18px' }}>
          <b>{figure(rose)}</b> rose, <b>{figure(fell)}</b> fell
          <br />
          <b>{figure(entered)}</b> entered the top 10
          <br />
          <b>{figure(left)}</b> left it
        </div>
        {beforeDay && (
          <div className="quiet" style={{ marginTop: 4, fontSize: 12 }}>
            since {formatShortDay(beforeDay)}
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <b style={{ fontSize: 12 }}>Visibility</b>{' '}
        <button
          type="button"
          className="link"
          style={{ fontSize: 12, padding: 0, minHeight: 0 }}
          onClick={() => change(setParam('notes', 'open'))}
        >
          {notes.data?.length ? plural(notes.data.length, 'note') : 'Add a note'}
        </button>
        {shifts.length > 0 && (
          <span className="quiet" style={{ fontSize: 12, color: 'var(--mui-palette-dew-rival2)' }}>
            {' '}
            {plural(shifts.length, 'engine shift')}
          </span>
        )}
        {fewer > 0 && (
          <span className="quiet" style={{ fontSize: 12 }}>
            {' '}
            without {plural(fewer, 'day')} on which few keywords were checked
          </span>
        )}
        <div style={{ height: 130 }}>
          <Suspense fallback={null}>
            <VisibilityChart days={whole} notes={notes.data ?? []} shifts={shifts} />
          </Suspense>
        </div>
        <AsTable
          of="Visibility by day"
          head={['Day', 'Visibility']}
          rows={() =>
            whole
              .toReversed()
              .map(({ day, visibility: value }) => [formatDay(day), value === null ? null : formatOne(value)])
          }
        />
        <SavePicture
          name={`${site.domain}-visibility`}
          picture={() => ({
            title: `Visibility of ${site.domain}, ${formatMarket(market)}`,
            labels: whole.map(each => formatShortDay(each.day)),
            lines: [{ name: site.domain, colour: fileColours[0]!, values: whole.map(each => each.visibility) }],
            ticks: roundTicks(Math.max(10, ...whole.map(each => each.visibility ?? 0))),
          })}
        />
      </div>
      <div>
        <b style={{ fontSize: 12 }}>Where the keywords stand, by week</b>
        <SpreadBars days={whole} />
        <AsTable
          of="Where the keywords stand"
          head={['Day', '1–3', '4–10', '11–30', '31–100', 'not found']}
          rows={() =>
            whole
              .toReversed()
              .map(each => [formatDay(each.day), each.top3, each.top10, each.top30, each.beyond, each.notFound])
          }
        />
      </div>
      {params.get('notes') === 'open' && (
        <Suspense fallback={null}>
          <NotesDialog onClose={() => change(setParam('notes', null))} />
        </Suspense>
      )}
    </section>
  )
}
