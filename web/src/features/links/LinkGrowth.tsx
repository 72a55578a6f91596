import type { LinkFigures } from '@dew-trail/contract/link-lists'
import { MenuItem, TextField } from '@mui/material'
import { colourOf } from '../../compared/use-compared.ts'
import { AsTable } from '../../pictures/AsTable.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'

const [width, height, right, bars] = [620, 190, 46, 44]
const dashes = ['', '6 3', '2 3', '8 3 2 3', '1 4']
const spans = { '13': '13 weeks', '26': 'half a year', '52': 'one year', '104': 'two years' } as const

/** Linking sites over time, those of each compared site in its colour; below what the first gained and lost week by week. */
export function LinkGrowth({ figures }: { figures: readonly LinkFigures[] }) {
  const [params, change] = useAddress()
  const wanted = params.get('weeks') ?? '52'
  const span = Number(wanted in spans ? wanted : '52')
  const known = figures.filter(each => each.known && each.weeks.length)
  if (!known.length) return null
  const weeks = known[0]!.weeks.slice(-span).map(each => each.week)
  const lines = known.map(each => ({ each, at: figures.indexOf(each), values: cumulative(each).slice(-span) }))
  const most = Math.max(1, ...lines.flatMap(line => line.values))
  const least = Math.min(...lines.flatMap(line => line.values))
  const foot = height - bars
  const x = (i: number): number => (i / Math.max(1, weeks.length - 1)) * (width - right)
  const y = (value: number): number => 10 + (1 - value / most) * (foot - 24)
  const own = known[0]!.weeks.slice(-span)
  const mostWeek = Math.max(1, ...own.flatMap(week => [week.gained, week.lost]))
  const barHeight = (value: number): number => (value / mostWeek) * (bars / 2 - 2)
  const burstWeeks = new Set(known[0]!.bursts.map(burst => burst.week))
  return (
    <figure style={{ margin: 0 }}>
      <figcaption style={{ display: 'flex', gap: 14, alignItems: 'center', marginBottom: 4 }}>
        <b>Linking sites</b>
        <TextField
          select
          value={String(span)}
          onChange={event => change(setParam('weeks', event.target.value === '52' ? null : event.target.value))}
          slotProps={{ htmlInput: { 'aria-label': 'How far back' } }}
        >
          {Object.entries(spans).map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <AsTable
          of="Linking sites by week"
          head={['Week', ...lines.map(line => line.each.target), 'gained', 'lost']}
          rows={() =>
            weeks.map((week, i) => [
              week,
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
        aria-label="Linking sites by week; the table says the same"
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
          <g key={week.week}>
            <title>{`Week of ${formatDay(week.week)}: ${week.gained} came, ${week.lost} went`}</title>
            <rect
              x={x(i)}
              y={height - bars / 2 - barHeight(week.gained)}
              width={Math.max(1.5, (width - right) / weeks.length - 2)}
              height={barHeight(week.gained)}
              fill={burstWeeks.has(week.week) ? 'var(--mui-palette-dew-own)' : 'var(--mui-palette-dew-scale2)'}
            />
            <rect
              x={x(i)}
              y={height - bars / 2}
              width={Math.max(1.5, (width - right) / weeks.length - 2)}
              height={barHeight(week.lost)}
              fill="var(--mui-palette-dew-scale1)"
            />
          </g>
        ))}
      </svg>
    </figure>
  )
}

/** Linking sites at the end of each week: those of today less what came and plus what went since. */
function cumulative({ weeks, linkingSites }: LinkFigures): number[] {
  const values = new Array<number>(weeks.length)
  let sites = linkingSites
  for (let i = weeks.length - 1; i >= 0; i--) {
    values[i] = Math.max(0, sites)
    sites -= weeks[i]!.gained - weeks[i]!.lost
  }
  return values
}
