import { Line } from 'react-chartjs-2'
import { type ClickPosition, isSetByOwner } from './click-positions.ts'
import { themeColour } from '../theme/theme-colour.ts'
import { useShownScheme } from '../theme/use-shown-scheme.ts'
import './chart-setup.ts'

/** Share of clicks by place: the default dashed and grey, the own log's curve in the own colour, and one that the owner set dotted. */
export function ClickCurveChart({ positions }: { positions: ClickPosition[] }) {
  const scheme = useShownScheme()
  const line = { borderWidth: 2, pointRadius: 0, pointHitRadius: 8, tension: 0.2 }
  return (
    <Line
      key={scheme}
      role="img"
      aria-label={`Share of clicks by place: ${positions
        .slice(0, 5)
        .map(
          each =>
            `${each.position}: default ${percent(each.standard)}${each.fitted === null ? '' : `, yours ${percent(each.fitted)}`}${isSetByOwner(positions) ? `, set ${percent(each.used)}` : ''}`,
        )
        .join('; ')}`}
      data={{
        labels: positions.map(each => each.position),
        datasets: [
          {
            ...line,
            label: 'default',
            data: positions.map(each => each.standard),
            borderColor: themeColour('ink3'),
            borderDash: [4, 4],
          },
          ...(positions.some(each => each.fitted !== null)
            ? [
                {
                  ...line,
                  label: 'your log',
                  data: positions.map(each => each.fitted),
                  borderColor: themeColour('own'),
                },
              ]
            : []),
          ...(isSetByOwner(positions)
            ? [
                {
                  ...line,
                  label: 'as you set it',
                  data: positions.map(each => each.used),
                  borderColor: themeColour('ink'),
                  borderDash: [1, 3],
                },
              ]
            : []),
        ],
      }}
      options={{
        responsive: true,
        maintainAspectRatio: false,
        interaction: { mode: 'index', intersect: false },
        plugins: {
          tooltip: {
            callbacks: {
              title: items => `Place ${items[0]!.label}`,
              label: item => `${item.dataset.label}: ${percent(item.parsed.y ?? 0)}`,
              footer: items => `${positions[items[0]!.dataIndex]!.impressions.toLocaleString()} impressions`,
            },
          },
        },
        scales: {
          x: {
            grid: { display: false },
            border: { color: themeColour('line') },
            ticks: { color: themeColour('ink2') },
          },
          y: {
            position: 'right',
            beginAtZero: true,
            grid: { color: themeColour('line') },
            border: { display: false },
            ticks: { color: themeColour('ink2'), maxTicksLimit: 5, callback: value => percent(Number(value)) },
          },
        },
      }}
    />
  )
}
const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)}%`
