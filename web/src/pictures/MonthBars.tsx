import type { MouseEvent } from 'react'
import { formatMonth, formatWhole } from '../ui/format.ts'

const height = 18
type Props = { months: ReadonlyArray<number | null>; end: string | null; large?: boolean; of?: string }

/** One path for bars of the same colour: a table draws hundreds of these while somebody types. */
function bars(months: ReadonlyArray<number | null>, most: number, from: number, to: number): string {
  let path = ''
  for (let i = from; i < to; i++) {
    const month = months[i]
    if (month === null || month === undefined) continue
    const tall = Math.max(1, (month / most) * height)
    path += `M${i * 5.5} ${height}v${-tall.toFixed(1)}h4v${tall.toFixed(1)}z`
  }
  return path
}

/** Months as bars, the last one dark; an unknown month is a gap with a dot, not a zero. The months are named when pointed at. */
export function MonthBars({ months, end, large = false, of = 'Searches' }: Props) {
  const most = Math.max(1, ...months.map(month => month ?? 0))
  const scale = large ? 3 : 1
  const last = months.length - 1
  const nameMonths = (event: MouseEvent<SVGSVGElement>) => {
    const lines = months.map(
      (month, i) =>
        `${end ? formatMonth(monthsBefore(end, last - i)) : `month ${i + 1}`}: ${month === null ? 'unknown' : formatWhole(month)}`,
    )
    event.currentTarget.parentElement?.setAttribute('title', lines.join('\n'))
  }
  return (
    <svg
      width={months.length * 5.5 * scale}
      height={height * scale}
      viewBox={`0 0 ${months.length * 5.5} ${height}`}
      role="img"
      aria-label={`${of} by month: ${months.map(month => (month === null ? 'unknown' : Math.round(month))).join(', ')}`}
      onMouseEnter={nameMonths}
    >
      <path d={bars(months, most, 0, last)} fill="var(--mui-palette-dew-scale1)" />
      <path d={bars(months, most, last, months.length)} fill="var(--mui-palette-dew-scale3)" />
      {months.includes(null) &&
        months.map((month, i) =>
          month === null ? (
            <circle key={i} cx={i * 5.5 + 2} cy={height - 1.5} r={1} fill="var(--mui-palette-dew-ink3)" />
          ) : null,
        )}
    </svg>
  )
}

export function monthsBefore(yearMonth: string, months: number): string {
  const at = Number(yearMonth.slice(0, 4)) * 12 + Number(yearMonth.slice(5, 7)) - 1 - months
  return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`
}
