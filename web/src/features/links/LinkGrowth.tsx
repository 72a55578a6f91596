import type { LinkFigures } from '@dew-trail/contract/link-lists'
import { MenuItem, TextField } from '@mui/material'
import { colourOf } from '../../compared/use-compared.ts'
import { AsTable } from '../../pictures/AsTable.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'

const [width, height, right, bars] = [620, 190, 46, 44]
const dashes = ['', '6 3', '2 3', '8 3 2 3', '1 4']
/** Weeks that are shown; `all` since the first link. */
const spans = {
  '5': '30 days',
  '13': '13 weeks',
  '26': 'half a year',
  '52': 'one year',
  '104': 'two years',
  all: 'all time',
} as const
type Step = { start: string; gained: number; lost: number; sites: number }

/** Linking sites over time, those of each compared site in its colour; below what the first gained and lost, by week or month. */
export function LinkGrowth({ figures }: { figures: readonly LinkFigures[] }) {
  const [params, change] = useAddress()
  const wanted = params.get('weeks') ?? '52'
  const chosen = (wanted in spans ? wanted : '52') as keyof typeof spans
  const byMonth = params.get('step') === 'month'
  const known = figures.filter(each => each.known && each.weeks.length)
  if (!known.length) return null
  const longest = known.reduce((a, b) => (b.weeks.length > a.weeks.length ? b : a))
  const span = chosen === 'all' ? longest.weeks.length : Number(chosen)
  const of = (each: LinkFigures): Step[] => (byMonth ? months : (steps: Step[]) => steps)(stepsOf(each).slice(-span))
  const starts = of(longest).map(step => step.start)
  const lines = known.map(each => {
    const steps = new Map(of(each).map(step => [step.start, step.sites]))
    // A site of which less is known begins later: before its first link it had none.
    return { each, at: figures.indexOf(each), values: starts.map(start => steps.get(start) ?? 0) }
  })
  const most = Math.max(1, ...lines.flatMap(line => line.values))
  const least = Math.min(...lines.flatMap(line => line.values))
  const foot = height - bars
  const x = (i: number): number => (i / Math.max(1, starts.length - 1)) * (width - right)
  const y = (value: number): number => 10 + (1 - value / most) * (foot - 24)
  const firstSteps = new Map(of(known[0]!).map(step => [step.start, step]))
  const own = starts.map(start => firstSteps.get(start) ?? { start, gained: 0, lost: 0, sites: 0 })
  const mostWeek = Math.max(1, ...own.flatMap(step => [step.gained, step.lost]))
  const barHeight = (value: number): number => (value / mostWeek) * (bars / 2 - 2)
  const bursts = known[0]!.bursts.map(burst => (byMonth ? monthOf(burst.week) : burst.week))
  const what = byMonth ? 'Month' : 'Week'
  return (
    <figure style={{ margin: 0 }}>
      <figcaption style={{ display: 'flex', gap: 14, alignItems: 'center', marginBottom: 4 }}>
        <b>Linking sites</b>
        <TextField
          select
          value={chosen}
          onChange={event => change(setParam('weeks', event.target.value === '52' ? null : event.target.value))}
          slotProps={{ htmlInput: { 'aria-label': 'How far back' } }}
        >
          {Object.entries(spans).map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        {(['week', 'month'] as const).map(step => (
          <button
            key={step}
            type="button"
            className="link"
            aria-pressed={byMonth === (step === 'month')}
            onClick={() => change(setParam('step', step === 'month' ? 'month' : null))}
          >
            by {step}
          </button>
        ))}
        <AsTable
          of={`Linking sites by ${what.toLowerCase()}`}
          head={[what, ...lines.map(line => line.each.target), 'gained', 'lost']}
          rows={() =>
            starts.map((start, i) => [
              start,
              ...lines.map(line => line.values[i] ?? null),
              own[i]?.gained ?? null,
              own[i]?.lost ?? null,
            ])
          }
        />
      </figcaption>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width="100%"
        role="img"
        aria-label={`Linking sites by ${what.toLowerCase()}; the table says the same`}
      >
        {[least, most].map(value => (
          <g key={value}>
            <line x1="0" x2={width - right} y1={y(value)} y2={y(value)} stroke="var(--mui-palette-dew-line)" />
            <text x={width - right + 6} y={y(value) + 4} fontSize="11" fill="var(--mui-palette-dew-ink2)">
              {formatWhole(value)}
            </text>
          </g>
        ))}
        {lines.map(({ each, at, values }) => (
          <path
            key={each.target}
            d={values.map((value, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`).join('')}
            fill="none"
            stroke={colourOf(at)}
            strokeWidth="2"
            strokeDasharray={at ? dashes[at % dashes.length] : ''}
          >
            <title>{each.target}</title>
          </path>
        ))}
        {own.map((week, i) => (
          <g key={week.start}>
            <title>{`${what} of ${formatDay(week.start)}: ${week.gained} came, ${week.lost} went`}</title>
            <rect
              x={x(i)}
              y={height - bars / 2 - barHeight(week.gained)}
              width={Math.max(1.5, (width - right) / starts.length - 2)}
              height={barHeight(week.gained)}
              fill={bursts.includes(week.start) ? 'var(--mui-palette-dew-own)' : 'var(--mui-palette-dew-scale2)'}
            />
            <rect
              x={x(i)}
              y={height - bars / 2}
              width={Math.max(1.5, (width - right) / starts.length - 2)}
              height={barHeight(week.lost)}
              fill="var(--mui-palette-dew-scale1)"
            />
          </g>
        ))}
      </svg>
    </figure>
  )
}

/** Weeks with the linking sites at their end: those of today less what came and plus what went since. */
function stepsOf({ weeks, linkingSites }: LinkFigures): Step[] {
  const steps = new Array<Step>(weeks.length)
  let sites = linkingSites
  for (let i = weeks.length - 1; i >= 0; i--) {
    const { week, gained, lost } = weeks[i]!
    steps[i] = { start: week, gained, lost, sites: Math.max(0, sites) }
    sites -= gained - lost
  }
  return steps
}
const monthOf = (day: string): string => `${day.slice(0, 7)}-01`
/** Weeks put together by the month in which they begin. */
function months(weeks: readonly Step[]): Step[] {
  const made: Step[] = []
  for (const { start, gained, lost, sites } of weeks) {
    const month = made.at(-1)
    if (month?.start === monthOf(start)) {
      month.gained += gained
      month.lost += lost
      month.sites = sites
    } else made.push({ start: monthOf(start), gained, lost, sites })
  }
  return made
}
