import { Chart, type Chart as ChartOf } from 'chart.js'
import zoomPlugin from 'chartjs-plugin-zoom'
import { useState } from 'react'
import { Line } from 'react-chartjs-2'
import { formatDay, formatShortDay } from '../ui/format.ts'
import { themeColour } from '../theme/theme-colour.ts'
import { useShownScheme } from '../theme/use-shown-scheme.ts'
import './chart-setup.ts'

Chart.register(zoomPlugin)

export type HistoryLine = { label: string; positions: number[]; main: boolean }
const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3], [1, 4]]

/** What of a chart is shown: days by their index, and places. */
type Bounds = { from: number; until: number; best: number; worst: number }
const tickPlaces = [1, 2, 3, 5, 7, 10, 15, 20, 30, 50, 70, 100]

/**
 * One keyword's places by day in several markets: log scale, first place on top; not found and not checked are gaps. Days and places are
 * bounded by dragging a frame over them.
 */
export default function HistoryChart({ from, lines }: { from: string; lines: HistoryLine[] }) {
  const scheme = useShownScheme()
  const [bounds, setBounds] = useState<Bounds | null>(null)
  const start = Date.parse(from)
  const labels = lines[0]?.positions.map((_, i) => new Date(start + i * 86_400_000).toISOString().slice(0, 10)) ?? []
  const bound = ({ chart }: { chart: ChartOf }): void => {
    const { x, y } = chart.scales
    const [best, worst] = [Math.max(1, Math.floor(y!.min)), Math.min(100, Math.ceil(y!.max))]
    setBounds({
      from: Math.max(0, Math.ceil(x!.min)),
      until: Math.floor(x!.max),
      best,
      worst: Math.max(worst, best + 1),
    })
  }
  const chart = (
    <Line
      key={scheme}
      aria-label="Places by day"
      role="img"
      data={{
        labels,
        datasets: lines.map((line, i) => ({
          label: line.label,
          data: line.positions.map(position => (position > 0 ? position : null)),
          borderColor: line.main ? themeColour('own') : themeColour(`rival${(i % 5) + 1}`),
          borderWidth: line.main ? 2 : 1.3,
          borderDash: line.main ? [] : dashes[(i % 4) + 1]!,
          pointRadius: 0,
          pointHitRadius: 6,
          spanGaps: false,
        })),
      }}
      options={{
        responsive: true,
        maintainAspectRatio: false,
        interaction: { mode: 'index', intersect: false },
        plugins: {
          zoom: {
            zoom: {
              mode: 'xy',
              drag: {
                enabled: true,
                threshold: 8,
                backgroundColor: themeColour('scale0'),
                borderColor: themeColour('lagoon'),
                borderWidth: 1,
              },
              onZoomComplete: bound,
            },
          },
          tooltip: {
            callbacks: {
              title: items => formatDay(items[0]!.label),
              label: item => `${item.dataset.label}: place ${item.parsed.y}`,
            },
          },
        },
        scales: {
          x: {
            grid: { display: false },
            border: { color: themeColour('line') },
            ticks: {
              color: themeColour('ink2'),
              maxTicksLimit: 8,
              maxRotation: 0,
              callback: value => formatShortDay(labels[Number(value)] ?? '1970-01-01'),
            },
            ...(bounds ? { min: bounds.from, max: bounds.until } : {}),
          },
          y: {
            type: 'logarithmic',
            reverse: true,
            min: bounds?.best ?? 1,
            max: bounds?.worst ?? 100,
            position: 'right',
            grid: { color: themeColour('line') },
            border: { display: false },
            afterBuildTicks: axis => {
              const all = bounds ? tickPlaces : [1, 3, 10, 30, 100]
              axis.ticks = all.filter(place => place >= axis.min && place <= axis.max).map(value => ({ value }))
            },
            ticks: { color: themeColour('ink2'), callback: value => String(value) },
          },
        },
      }}
    />
  )
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <div style={{ flex: 1, minHeight: 0, position: 'relative' }}>{chart}</div>
      {bounds ? (
        <small className="quiet">
          {formatShortDay(labels[bounds.from] ?? from)} to {formatShortDay(labels[bounds.until] ?? from)}, places{' '}
          {bounds.best} to {bounds.worst}.{' '}
          <button type="button" className="link" onClick={() => setBounds(null)}>
            Show all
          </button>
        </small>
      ) : (
        <small className="quiet">Drag over the chart to bound days and places.</small>
      )}
    </div>
  )
}
