import type { TrackedRow } from '@dew-trail/contract/track'
import { listVisibility } from '@dew-trail/contract/track'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense } from 'react'
import { call } from '../api/call.ts'
import { SpreadBars } from '../charts/SpreadBars.tsx'
import { formatOne, formatShortDay } from '../format.ts'
import { useSite } from '../shell/site-context.ts'

const VisibilityChart = lazy(() => import('../charts/VisibilityChart.tsx'))

/** The screen's one headline figure, its course, and where the keywords stand. */
export function TrackHead({ rows, days, beforeDay }: { rows: TrackedRow[]; days: number; beforeDay: string | null }) {
  const { site, market } = useSite()
  const { data } = useQuery({
    queryKey: ['visibility', site.id, market.id, days],
    queryFn: () => call(listVisibility, { siteId: site.id, marketId: market.id, days }),
  })
  if (!data?.length) return null
  const last = data.at(-1)!
  const before = beforeDay ? data.find(each => each.day === beforeDay) : undefined
  const moved = last.visibility !== null && before?.visibility != null ? last.visibility - before.visibility : null
  const count = (test: (row: TrackedRow) => boolean): number => rows.filter(test).length
  const rose = count(row => row.now > 0 && (row.before < 0 || (row.before > 0 && row.now < row.before)))
  const fell = count(row => row.before > 0 && (row.now < 0 || row.now > row.before))
  const entered = count(row => row.now > 0 && row.now <= 10 && (row.before < 0 || row.before > 10))
  const left = count(row => row.before > 0 && row.before <= 10 && (row.now < 0 || row.now > 10))
  return (
    <section
      style={{
        display: 'grid',
        gridTemplateColumns: '168px minmax(0, 1fr) 330px',
        gap: 24,
        padding: '12px 16px',
        borderBottom: '1px solid var(--mui-palette-dew-line)',
        background: 'var(--mui-palette-dew-open)',
      }}
      aria-label="Summary"
    >
      <div>
        <div
          className="headline own"
          title="Σ searches × share of clicks at your place, of what first place everywhere would bring, × 100; default click curve; keywords with unknown searches are left out"
        >
          {last.visibility === null ? 'unknown' : formatOne(last.visibility)}
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
        <div style={{ marginTop: 10, lineHeight: '19px' }}>
          <b>{rose}</b> rose, <b>{fell}</b> fell
          <br />
          <b>{entered}</b> entered the top 10
          <br />
          <b>{left}</b> left it
        </div>
        {beforeDay && (
          <div className="quiet" style={{ marginTop: 6, fontSize: 12 }}>
            since {formatShortDay(beforeDay)}
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <b style={{ fontSize: 12 }}>Visibility</b>
        <div style={{ height: 130 }}>
          <Suspense fallback={null}>
            <VisibilityChart days={data} />
          </Suspense>
        </div>
      </div>
      <div>
        <b style={{ fontSize: 12 }}>Where the keywords stand, by week</b>
        <SpreadBars days={data} />
      </div>
    </section>
  )
}
