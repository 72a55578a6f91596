import { positionX, scalePositions } from './position-scale.ts'

const width = 150
const x = (position: number): number => positionX(position, width)

/** A change of place: a line from a hollow dot (before) to a filled one (now); left is better. Values as in a day vector. */
export function RangeTrack({ before, now }: { before: number; now: number }) {
  const worse = before > 0 && (now < 0 || now > before)
  const colour = worse
    ? 'var(--mui-palette-dew-fall)'
    : before > 0 && before === now
      ? 'var(--mui-palette-dew-ink3)'
      : 'var(--mui-palette-dew-scale3)'
  return (
    <svg width={width} height="16" viewBox={`0 0 ${width} 16`} aria-hidden="true">
      <line x1={x(1)} x2={x(100)} y1="8" y2="8" stroke="var(--mui-palette-dew-scale0)" strokeWidth="1.5" />
      {scalePositions.map(position => (
        <line
          key={position}
          x1={x(position)}
          x2={x(position)}
          y1="3.5"
          y2="12.5"
          stroke="var(--mui-palette-dew-line)"
          strokeWidth="1.2"
        />
      ))}
      {before > 0 && now > 0 && before !== now && (
        <line x1={x(before)} x2={x(now)} y1="8" y2="8" stroke={colour} strokeWidth="2" />
      )}
      {before > 0 && before !== now && (
        <circle cx={x(before)} cy="8" r="3.2" fill="var(--mui-palette-dew-paper)" stroke={colour} strokeWidth="1.5" />
      )}
      {now > 0 && <circle cx={x(now)} cy="8" r="4" fill={colour} />}
    </svg>
  )
}
