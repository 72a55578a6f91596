import type { PlaceSum } from '@dew-trail/contract/places'
import { fileColours, SavePicture } from '../../pictures/SavePicture.tsx'
import { AsTable } from '../../pictures/AsTable.tsx'
import { formatDay, formatOne } from '../../ui/format.ts'

const [width, height, left, right, top, bottom] = [900, 150, 34, 150, 8, 22]
const dashes = ['', '6 3', '2 3', '8 3 2 3', '4 4']

/** Mean positions of the own businesses over the runs, a line for each keyword; the first position is on top. */
export function MeansOverTime({ sums, depth }: { sums: readonly PlaceSum[]; depth: number }) {
  const own = sums.filter(each => each.own)
  const days = [...new Set(own.map(each => each.day))].sort()
  const names = [...new Set(own.map(each => each.name))]
  const lines = [...new Set(own.map(each => `${each.keyword}\n${each.name}`))].slice(0, 6).map((key, i) => {
    const [keyword, name] = key.split('\n') as [string, string]
    const values = days.map(
      day => own.find(each => each.day === day && each.keyword === keyword && each.name === name)?.mean ?? null,
    )
    return {
      name: names.length > 1 ? `${keyword}, ${name}` : keyword,
      values,
      dash: dashes[i % dashes.length]!,
      colour: fileColours[i % fileColours.length]!,
    }
  })
  if (days.length < 2)
    return (
      <p className="quiet" style={{ margin: 0 }}>
        A line over time appears with the second run.
      </p>
    )
  const [first, last] = [Date.parse(days[0]!), Date.parse(days.at(-1)!)]
  const x = (day: string): number => left + ((Date.parse(day) - first) / (last - first)) * (width - left - right)
  const y = (mean: number): number => top + (Math.log(mean) / Math.log(depth + 1)) * (height - top - bottom)
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width="100%"
        style={{ maxWidth: width }}
        role="img"
        aria-label="Mean positions over the runs"
      >
        {[1, 3, 10, depth].map(place => (
          <g key={place}>
            <line x1={left} x2={width - right} y1={y(place)} y2={y(place)} stroke="var(--mui-palette-dew-line)" />
            <text x={left - 6} y={y(place) + 4} textAnchor="end" fontSize="11" fill="var(--mui-palette-dew-ink2)">
              {place}
            </text>
          </g>
        ))}
        {lines.map((line, i) => (
          <g key={line.name}>
            <polyline
              fill="none"
              stroke="var(--mui-palette-dew-own)"
              strokeWidth="2"
              strokeDasharray={line.dash}
              points={line.values
                .flatMap((value, at) => (value === null ? [] : [`${x(days[at]!)},${y(value)}`]))
                .join(' ')}
            />
            {line.values.map((value, at) =>
              value === null ? null : (
                <circle key={days[at]} cx={x(days[at]!)} cy={y(value)} r="3" fill="var(--mui-palette-dew-own)">
                  <title>{`${line.name}, ${formatDay(days[at]!)}: ${formatOne(value)}`}</title>
                </circle>
              ),
            )}
            <text
              x={width - right + 8}
              y={labelY(
                lines.map(each => y(each.values.findLast(value => value !== null) ?? depth)),
                i,
              )}
              fontSize="11"
              fill="var(--mui-palette-dew-ink2)"
            >
              {line.name.length > 24 ? `${line.name.slice(0, 23)}…` : line.name}
            </text>
          </g>
        ))}
        {[days[0]!, days.at(-1)!].map((day, i) => (
          <text
            key={day}
            x={x(day)}
            y={height - 4}
            textAnchor={i ? 'end' : 'start'}
            fontSize="11"
            fill="var(--mui-palette-dew-ink2)"
          >
            {formatDay(day)}
          </text>
        ))}
      </svg>
      <figcaption>
        <AsTable
          of="Mean positions over the runs"
          head={['Run', ...lines.map(line => line.name)]}
          rows={() =>
            days.map((day, at) => [
              formatDay(day),
              ...lines.map(line => (line.values[at] === null ? null : formatOne(line.values[at]!))),
            ])
          }
        />
        <SavePicture
          name="mean-positions"
          picture={() => ({
            title: 'Mean positions over the runs',
            labels: days.map(formatDay),
            lines: lines.map(({ name, colour, dash, values }) => ({ name, colour, dash, values })),
            ticks: [1, 3, 10, depth],
            ofPositions: true,
          })}
        />
      </figcaption>
    </figure>
  )
}
/** Labels at the line ends, apart from each other. */
function labelY(ends: readonly number[], at: number): number {
  const order = [...ends.keys()].sort((a, b) => ends[a]! - ends[b]!)
  let last = Number.NEGATIVE_INFINITY
  for (const each of order) {
    last = Math.max(ends[each]!, last + 12)
    if (each === at) return last + 4
  }
  return last
}
