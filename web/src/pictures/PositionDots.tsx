import { positionX, scalePositions } from './position-scale.ts'

const width = 176
type Props = { positions: ReadonlyArray<number | null>; colours: readonly string[]; names: readonly string[] }

/** Where several sites stand for one keyword, on one scale; left is better. Who stands nowhere has no dot. */
export function PositionDots({ positions, colours, names }: Props) {
  const words = positions.flatMap((position, i) => (position === null ? [] : [`${names[i]} ${position}`]))
  return (
    <svg width={width} height="16" viewBox={`0 0 ${width} 16`} role="img" aria-label={words.join(', ') || 'nobody'}>
      <title>{words.join(', ') || 'nobody'}</title>
      <line
        x1={positionX(1, width)}
        x2={positionX(100, width)}
        y1="8"
        y2="8"
        stroke="var(--mui-palette-dew-scale0)"
        strokeWidth="1.5"
      />
      {scalePositions.map(position => (
        <line
          key={position}
          x1={positionX(position, width)}
          x2={positionX(position, width)}
          y1="3.5"
          y2="12.5"
          stroke="var(--mui-palette-dew-line)"
          strokeWidth="1.2"
        />
      ))}
      {positions.map((position, i) =>
        position === null ? null : (
          <circle
            key={i}
            cx={positionX(position, width)}
            cy="8"
            r="4.2"
            fill={colours[i]}
            stroke="var(--mui-palette-dew-paper)"
          />
        ),
      )}
    </svg>
  )
}
