import { formatMonth, formatWhole } from '../ui/format.ts'

export type MonthSeries = { name: string; colour: string; dash: string; values: ReadonlyArray<number | null> }
type Props = {
  label: string
  months: readonly string[]
  series: readonly MonthSeries[]
  /** Texts of notes by the month under which they are marked. */
  notes?: ReadonlyMap<string, readonly string[]>
  /** How a point on the line of time is called; a month where nothing is given. */
  nameOf?: (month: string) => string
  show?: (value: number) => string
}
const [width, height, left, right, bottom, top] = [1100, 260, 64, 32, 24, 8]

/** A round number at or above the largest value, so that the axis ends where a label stands. */
function roundUp(value: number): number {
  const size = 10 ** Math.floor(Math.log10(Math.max(1, value)))
  return [1, 2, 2.5, 5, 10].map(step => step * size).find(step => step >= value) ?? 10 * size
}

/** Several lines over months, each with a colour and a dash of its own; an unknown month is a gap. The table beside it says the same. */
export function MonthLines({
  label,
  months,
  series,
  notes,
  nameOf = month => formatMonth(month.slice(0, 7)),
  show = formatWhole,
}: Props) {
  const most = roundUp(Math.max(1, ...series.flatMap(({ values }) => values.map(value => value ?? 0))))
  const x = (i: number): number => left + (months.length > 1 ? (i / (months.length - 1)) * (width - left - right) : 0)
  const y = (value: number): number => top + (1 - value / most) * (height - top - bottom)
  const every = Math.ceil(months.length / 8)
  const pathOf = (values: ReadonlyArray<number | null>): string =>
    values
      .map((value, i) =>
        value === null ? '' : `${i && values[i - 1] !== null ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`,
      )
      .join('')
  return (
    <svg viewBox={`0 0 ${width} ${height}`} width="100%" style={{ maxWidth: width }} role="img" aria-label={label}>
      {[0, 0.5, 1].map(part => (
        <g key={part}>
          <line
            x1={left}
            x2={width - right}
            y1={y(part * most)}
            y2={y(part * most)}
            stroke="var(--mui-palette-dew-line)"
          />
          <text x={left - 8} y={y(part * most) + 4} textAnchor="end" fontSize="11" fill="var(--mui-palette-dew-ink2)">
            {show(part * most)}
          </text>
        </g>
      ))}
      {months.map((month, i) =>
        i % every === 0 ? (
          <text
            key={month}
            x={x(i)}
            y={height - 6}
            textAnchor="middle"
            fontSize="11"
            fill="var(--mui-palette-dew-ink2)"
          >
            {nameOf(month)}
          </text>
        ) : null,
      )}
      {months.map((month, i) => {
        const texts = notes?.get(month)
        const foot = height - bottom
        return texts ? (
          <g key={month}>
            <line x1={x(i)} x2={x(i)} y1={top} y2={foot} stroke="var(--mui-palette-dew-scale2)" />
            <path d={`M${x(i)} ${foot - 5}l4 5l-4 5l-4 -5Z`} fill="var(--mui-palette-dew-scale3)">
              <title>{texts.join('\n')}</title>
            </path>
          </g>
        ) : null
      })}
      {series.map(({ name, colour, dash, values }) => (
        <g key={name}>
          <path d={pathOf(values)} fill="none" stroke={colour} strokeWidth="2" strokeDasharray={dash} />
          {values.map((value, i) =>
            value === null ? null : (
              <circle key={months[i]} cx={x(i)} cy={y(value)} r="3" fill={colour}>
                <title>{`${name}, ${nameOf(months[i]!)}: ${show(value)}`}</title>
              </circle>
            ),
          )}
        </g>
      ))}
    </svg>
  )
}
