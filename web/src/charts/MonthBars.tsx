import { formatMonth, formatWhole } from '../format.ts'

const height = 18
type Props = { months: ReadonlyArray<number | null>; end: string | null; large?: boolean }

/** Twelve months as bars, the last one dark; an unknown month is a gap with a dot, not a zero. */
export function MonthBars({ months, end, large = false }: Props) {
  const most = Math.max(1, ...months.map(month => month ?? 0))
  const scale = large ? 3 : 1
  const title = months
    .map(
      (month, i) =>
        `${end ? formatMonth(monthsBefore(end, months.length - 1 - i)) : `month ${i + 1}`}: ${month === null ? 'unknown' : formatWhole(month)}`,
    )
    .join('\n')
  return (
    <svg
      width={months.length * 5.5 * scale}
      height={height * scale}
      viewBox={`0 0 ${months.length * 5.5} ${height}`}
      role="img"
      aria-label={`Searches by month, ${months
        .filter(month => month !== null)
        .map(month => formatWhole(month!))
        .join(', ')}`}
    >
      <title>{title}</title>
      {months.map((month, i) =>
        month === null ? (
          <circle key={i} cx={i * 5.5 + 2} cy={height - 1.5} r={1} fill="var(--mui-palette-dew-ink3)" />
        ) : (
          <rect
            key={i}
            x={i * 5.5}
            y={height - Math.max(1, (month / most) * height)}
            width={4}
            height={Math.max(1, (month / most) * height)}
            rx={0.8}
            fill={i === months.length - 1 ? 'var(--mui-palette-dew-scale3)' : 'var(--mui-palette-dew-scale1)'}
          />
        ),
      )}
    </svg>
  )
}

export function monthsBefore(yearMonth: string, months: number): string {
  const at = Number(yearMonth.slice(0, 4)) * 12 + Number(yearMonth.slice(5, 7)) - 1 - months
  return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`
}
