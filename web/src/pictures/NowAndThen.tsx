import { formatWhole } from '../ui/format.ts'

const width = 62
type Props = { now: number | null; then: number | null; most: number }
/** Visits now in full amber, with the plan in pale amber behind it; the number is that with the plan. Unknown is said, not drawn. */
export function NowAndThen({ now, then, most }: Props) {
  if (now === null && then === null) return <span className="unknown">–</span>
  const of = (value: number): number => (most > 0 ? Math.max(value > 0 ? 1.5 : 0, (value / most) * width) : 0)
  const whole = then ?? now!
  const words = `about ${formatWhole(now ?? 0)} visits a month now${then === null ? '' : `, about ${formatWhole(then)} with the plan`}`
  return (
    <span className="bar-picture" title={words}>
      <svg width={width} height="8" role="img" aria-label={words}>
        <rect width={of(whole)} height="8" rx="2" fill="var(--mui-palette-dew-own)" opacity="0.28" />
        <rect width={of(now ?? 0)} height="8" rx="2" fill="var(--mui-palette-dew-own)" />
      </svg>
      <span aria-hidden="true">{formatWhole(whole)}</span>
    </span>
  )
}
