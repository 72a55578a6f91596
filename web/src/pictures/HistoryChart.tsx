import { useColorScheme } from '@mui/material/styles'
import { Line } from 'react-chartjs-2'
import { formatDay, formatShortDay } from '../ui/format.ts'
import { themeColour } from '../theme/theme-colour.ts'
import './chart-setup.ts'

export type HistoryLine = { label: string; positions: number[]; main: boolean }
const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3], [1, 4]]

/** One keyword's places by day in several markets: log scale, first place on top; not found and not checked are gaps. */
export default function HistoryChart({ from, lines }: { from: string; lines: HistoryLine[] }) {
  const { colorScheme } = useColorScheme()
  const start = Date.parse(from)
  const labels = lines[0]?.positions.map((_, i) => new Date(start + i * 86_400_000).toISOString().slice(0, 10)) ?? []
  return (
    <Line
      key={colorScheme ?? ''}
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
              callback: (_, i) => formatShortDay(labels[i] ?? '1970-01-01'),
            },
          },
          y: {
            type: 'logarithmic',
            reverse: true,
            min: 1,
            max: 100,
            position: 'right',
            grid: { color: themeColour('line') },
            border: { display: false },
            afterBuildTicks: axis => {
              axis.ticks = [1, 3, 10, 30, 100].map(value => ({ value }))
            },
            ticks: { color: themeColour('ink2'), callback: value => String(value) },
          },
        },
      }}
    />
  )
}
