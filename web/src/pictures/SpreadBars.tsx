import { formatShortDay, formatWhole } from '../ui/format.ts'

export type SpreadDay = { day: string; top3: number; top10: number; top30: number; beyond: number; notFound: number }
const parts = [
  ['top3', 'scale4', '1–3'],
  ['top10', 'scale3', '4–10'],
  ['top30', 'scale2', '11–30'],
  ['beyond', 'scale1', '31–100'],
  ['notFound', 'scale0', 'not found'],
] as const

/** Where the keywords stand, one bar a week, best at the bottom. */
export function SpreadBars({ days }: { days: SpreadDay[] }) {
  const weekly = days.filter((_, i) => (days.length - 1 - i) % 7 === 0).slice(-13)
  const most = Math.max(1, ...weekly.map(day => parts.reduce((sum, [key]) => sum + day[key], 0)))
  const height = 118
  return (
    <div>
      <svg
        width="100%"
        height={height}
        viewBox={`0 0 ${weekly.length * 26} ${height}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Last week: ${parts.map(([key, , label]) => `${label} ${weekly.at(-1)?.[key] ?? 0}`).join(', ')}`}
      >
        {weekly.map((day, i) => {
          let top = height
          return parts.map(([key, colour, label]) => {
            const part = (day[key] / most) * height
            top -= part
            return (
              <rect
                key={`${day.day}${key}`}
                x={i * 26 + 2}
                y={top}
                width={22}
                height={part}
                fill={`var(--mui-palette-dew-${colour})`}
              >
                <title>{`${formatShortDay(day.day)}: ${label}, ${formatWhole(day[key])}`}</title>
              </rect>
            )
          })
        })}
      </svg>
      <div className="quiet" style={{ display: 'flex', gap: 10, fontSize: 12, paddingTop: 4 }}>
        {parts.map(([key, colour, label]) => (
          <span key={key} style={{ display: 'inline-flex', gap: 4, alignItems: 'center' }}>
            <i
              style={{
                width: 8,
                height: 8,
                background: `var(--mui-palette-dew-${colour})`,
                border: '1px solid var(--mui-palette-dew-line)',
              }}
            />
            {label}
          </span>
        ))}
      </div>
    </div>
  )
}
