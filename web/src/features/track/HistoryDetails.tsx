import { useEndpoint } from '../../api/use-endpoint.ts'
import { fileColours, SavePicture } from '../../pictures/SavePicture.tsx'
import { LiveLink } from '../../ui/LiveLink.tsx'
import { AsTable } from '../../pictures/AsTable.tsx'
import { keywordHistory, resultHistory } from '@dew-trail/contract/track'
import { lazy, Suspense, useState } from 'react'
import { formatDay, formatMarket, formatShortDay } from '../../ui/format.ts'
import { DayRanges } from '../../ui/DayRanges.tsx'
import { useSite } from '../../ui/site-context.ts'

const KeptResults = lazy(() => import('./KeptResults.tsx'))
const HistoryChart = lazy(() => import('../../pictures/HistoryChart.tsx'))
const ranges = [30, 90, 400]

/** One keyword's history in every market, with the pages found. */
export function HistoryDetails({ keywordId }: { keywordId: number }) {
  const { site, market } = useSite()
  const [days, setDays] = useState(400)
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set())
  const { data, error } = useEndpoint(keywordHistory, { siteId: site.id, keywordId, days })
  const { data: results } = useEndpoint(
    resultHistory,
    { siteId: site.id, keywordId, marketId: market.id, from: data?.from ?? '2000-01-01', days },
    { enabled: data?.from != null },
  )
  const toggle = (label: string) => {
    const next = new Set(hidden)
    if (!next.delete(label)) next.add(label)
    setHidden(next)
  }
  if (error)
    return (
      <p className="fall" role="alert">
        {error.message}
      </p>
    )
  if (!data)
    return (
      <p className="quiet" style={{ height: 260 }}>
        Loading
      </p>
    )
  const { from } = data
  if (!from) return <p className="quiet">Not checked yet. "Check now" asks both engines, desktop and mobile.</p>
  const named = data.markets
    .map(each => ({ ...each, market: site.markets.find(other => other.id === each.marketId) }))
    .filter(each => each.market !== undefined)
    .sort((a, b) => Number(b.marketId === market.id) - Number(a.marketId === market.id))
  const all = [
    ...named.map(each => ({
      label: formatMarket(each.market!),
      positions: each.positions,
      main: each.marketId === market.id,
    })),
    ...(results?.rivals ?? []).map(each => ({ label: each.domain, positions: each.positions, main: false })),
  ]
  const lines = all.filter(line => !hidden.has(line.label))
  const pages = data.pages
    .filter(page => page.marketId === market.id)
    .slice(-5)
    .reverse()
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 290px', gap: 28 }}>
      <div>
        <div style={{ display: 'flex', gap: 12 }}>
          <DayRanges choices={ranges} days={days} onChange={setDays} />
        </div>
        <div style={{ height: 220 }}>
          <Suspense fallback={null}>
            <HistoryChart key={days} from={from} lines={lines} />
          </Suspense>
        </div>
        <AsTable
          of={`Positions of "${data.phrase}"`}
          head={['Day', ...lines.map(line => line.label)]}
          rows={() =>
            (lines[0]?.positions ?? [])
              .map(
                (_, i): Array<string | number | null> => [
                  formatDay(new Date(Date.parse(from) + i * 86_400_000).toISOString()),
                  ...lines.map(({ positions }) => {
                    const position = positions[i] ?? 0
                    return position > 0 ? position : position < 0 ? `not within ${-position}` : null
                  }),
                ],
              )
              .filter(([, ...cells]) => cells.some(cell => cell !== null))
              .toReversed()
          }
        />
        {results && results.kept.length > 0 && (
          <Suspense fallback={null}>
            <KeptResults keywordId={keywordId} kept={results.kept} />
          </Suspense>
        )}
        <LiveLink phrase={data.phrase} market={market} />{' '}
        <SavePicture
          name={`positions-${data.phrase.replace(/\s+/g, '-')}`}
          picture={() => ({
            title: `Positions of "${data.phrase}"`,
            labels: (lines[0]?.positions ?? []).map((_, i) =>
              formatShortDay(new Date(Date.parse(from) + i * 86_400_000).toISOString()),
            ),
            lines: lines.map(({ label, positions }, i) => ({
              name: label,
              colour: fileColours[i % fileColours.length]!,
              values: positions.map(position => (position > 0 ? position : null)),
            })),
            ticks: [1, 3, 10, 30, 100],
            ofPositions: true,
          })}
        />
      </div>
      <div>
        {all.map(line => {
          const at = lines.indexOf(line)
          return (
            <label key={line.label} className="line-choice">
              <input type="checkbox" checked={at >= 0} onChange={() => toggle(line.label)} />
              <svg width="22" height="6" aria-hidden="true">
                <line
                  x1="0"
                  x2="22"
                  y1="3"
                  y2="3"
                  stroke={`var(--mui-palette-dew-${line.main ? 'own' : `rival${(Math.max(0, at) % 5) + 1}`})`}
                  strokeWidth={line.main ? 2.2 : 1.5}
                  strokeDasharray={line.main ? undefined : ['6 3', '2 3', '8 3 2 3', '1 4'][Math.max(0, at) % 4]}
                  opacity={at >= 0 ? 1 : 0}
                />
              </svg>
              <span className={line.main ? 'own' : 'quiet cut'} title={line.label}>
                {line.label}
              </span>
            </label>
          )
        })}
        <h2 style={{ fontSize: 12, margin: '14px 0 4px' }}>Pages found in this market</h2>
        {pages.map(page => (
          <div
            key={page.day}
            style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            title={page.url ?? ''}
          >
            <span className="quiet">from {formatDay(page.day)}</span>{' '}
            {page.url ? page.url.replace(/^https?:\/\/[^/]+/, '') : 'none found'}
          </div>
        ))}
        {pages.length === 0 && (
          <p className="quiet" style={{ margin: 0 }}>
            None found
          </p>
        )}
      </div>
    </div>
  )
}
