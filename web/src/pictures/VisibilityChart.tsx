import { Line } from 'react-chartjs-2'
import { formatOne, formatShortDay } from '../ui/format.ts'
import { themeColour } from '../theme/theme-colour.ts'
import { useShownScheme } from '../theme/use-shown-scheme.ts'
import './chart-setup.ts'
import { noteMarks, notesByDay } from './note-marks.ts'

type Props = {
  days: Array<{ day: string; visibility: number | null }>
  notes: ReadonlyArray<{ day: string; text: string }>
  /** Days on which the engine shifted. */
  shifts: ReadonlyArray<{ day: string; text: string }>
}
/** Visibility by day, 0–100; the own site's line is amber. Days with notes and shifts of the engine are marked, each in its colour. */
export default function VisibilityChart({ days, notes, shifts }: Props) {
  const names = days.map(each => each.day)
  const [noted, shifted] = [notesByDay(notes, names), notesByDay(shifts, names)]
  const positionsOf = (marked: ReadonlyMap<string, unknown>): number[] =>
    days.flatMap((each, i) => (marked.has(each.day) ? [i] : []))
  const [positions, shiftPositions] = [positionsOf(noted), positionsOf(shifted)]
  const scheme = useShownScheme()
  return (
    <Line
      key={`${scheme} ${positions.join()} ${shiftPositions.join()}`}
      plugins={[
        noteMarks(positions, themeColour('ink2')),
        noteMarks(shiftPositions, themeColour('rival2'), 'shiftMarks'),
      ]}
      aria-label="Visibility by day"
      role="img"
      data={{
        labels: days.map(each => each.day),
        datasets: [
          {
            data: days.map(each => each.visibility),
            borderColor: themeColour('own'),
            borderWidth: 2,
            pointRadius: 0,
            pointHitRadius: 8,
            tension: 0.2,
            spanGaps: false,
          },
        ],
      }}
      options={{
        responsive: true,
        maintainAspectRatio: false,
        interaction: { mode: 'index', intersect: false },
        plugins: {
          tooltip: {
            callbacks: {
              title: items => formatShortDay(items[0]!.label),
              label: item => `visibility ${formatOne(item.parsed.y ?? 0)}`,
              afterBody: items => [noted, shifted].flatMap(marked => marked.get(items[0]!.label) ?? []),
            },
          },
        },
        scales: {
          x: {
            grid: { display: false },
            border: { color: themeColour('line') },
            ticks: {
              color: themeColour('ink2'),
              maxTicksLimit: 6,
              maxRotation: 0,
              callback: (_, i) => formatShortDay(days[i]?.day ?? '1970-01-01'),
            },
          },
          y: {
            position: 'right',
            beginAtZero: true,
            suggestedMax: 10,
            grid: { color: themeColour('line') },
            border: { display: false },
            ticks: { color: themeColour('ink2'), maxTicksLimit: 4 },
          },
        },
      }}
    />
  )
}
