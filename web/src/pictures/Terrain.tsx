/** The first page as ground, small in a row: strengths of the results left to right, the own level dashed in amber. */
export function TerrainSmall({ levels, ownLevel }: { levels: ReadonlyArray<number | null>; ownLevel: number | null }) {
  const known = levels.filter(level => level !== null)
  if (!known.length) return null
  const x = (i: number): number => (i / Math.max(1, known.length - 1)) * 76
  const y = (level: number): number => 17 - (level / 100) * 15
  const line = known.map((level, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(level).toFixed(1)}`).join('')
  return (
    <svg
      width="76"
      height="18"
      viewBox="0 0 76 18"
      role="img"
      aria-label={`Levels of the results: ${known.map(level => Math.round(level)).join(', ')}${ownLevel === null ? '' : `; yours ${Math.round(ownLevel)}`}`}
    >
      <path d={`${line}L76 18L0 18Z`} fill="var(--mui-palette-dew-scale1)" opacity="0.75" />
      <path d={line} fill="none" stroke="var(--mui-palette-dew-scale3)" strokeWidth="1.2" />
      {ownLevel !== null && (
        <line
          x1="0"
          x2="76"
          y1={y(ownLevel)}
          y2={y(ownLevel)}
          stroke="var(--mui-palette-dew-own)"
          strokeWidth="1.2"
          strokeDasharray="2 2"
        />
      )}
    </svg>
  )
}

type LargeProps = {
  positions: Array<{ position: number; level: number; opening: boolean; own: boolean; title: string }>
  ownLevel: number | null
}

/** The same ground unfolded: a point a result, openings in amber, every point named. */
export function TerrainLarge({ positions, ownLevel }: LargeProps) {
  const left = 26
  const right = 310
  const x = (i: number): number => left + (i / Math.max(1, positions.length - 1)) * (right - left - 8)
  const y = (level: number): number => 120 - (level / 100) * 108
  const line = positions
    .map((position, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(position.level).toFixed(1)}`)
    .join('')
  // The label stands at the end and on the side of the line where the ground leaves most room.
  const levelY = y(ownLevel ?? 0)
  const room = (near: typeof positions, centre: number): number =>
    Math.min(99, ...near.map(position => Math.abs(y(position.level) - centre)))
  const label = [
    { x: right, y: levelY - 5, anchor: 'end' as const, room: room(positions.slice(-3), levelY - 9) },
    { x: right, y: levelY + 13, anchor: 'end' as const, room: room(positions.slice(-3), levelY + 9) },
    { x: left + 4, y: levelY - 5, anchor: 'start' as const, room: room(positions.slice(0, 3), levelY - 9) },
    { x: left + 4, y: levelY + 13, anchor: 'start' as const, room: room(positions.slice(0, 3), levelY + 9) },
  ].reduce((best, each) => (each.room > best.room ? each : best))
  return (
    <svg
      width="100%"
      viewBox="0 0 316 140"
      role="img"
      aria-label={`Terrain of the first page: ${positions.map(position => `${position.position}: ${Math.round(position.level)}`).join(', ')}${ownLevel === null ? '' : `; your level ${Math.round(ownLevel)}`}`}
    >
      {[0, 50, 100].map(level => (
        <g key={level}>
          <line x1={left} x2={right} y1={y(level)} y2={y(level)} stroke="var(--mui-palette-dew-line)" />
          <text x={left - 6} y={y(level) + 4} textAnchor="end" fontSize="10" fill="var(--mui-palette-dew-ink2)">
            {level}
          </text>
        </g>
      ))}
      <path
        d={`${line}L${x(positions.length - 1)} 120L${x(0)} 120Z`}
        fill="var(--mui-palette-dew-scale1)"
        opacity="0.6"
      />
      <path d={line} fill="none" stroke="var(--mui-palette-dew-scale3)" strokeWidth="1.5" />
      {ownLevel !== null && (
        <>
          <line
            x1={left}
            x2={right}
            y1={y(ownLevel)}
            y2={y(ownLevel)}
            stroke="var(--mui-palette-dew-own)"
            strokeWidth="1.3"
            strokeDasharray="4 3"
          />
          <text
            x={label.x}
            y={label.y}
            textAnchor={label.anchor}
            fontSize="10.5"
            fontWeight="540"
            fill="var(--mui-palette-dew-ownInk)"
            stroke="var(--mui-palette-dew-open)"
            strokeWidth="3"
            paintOrder="stroke"
          >
            your level {Math.round(ownLevel)}
          </text>
        </>
      )}
      {positions.map((position, i) => (
        <g key={position.position}>
          <circle
            cx={x(i)}
            cy={y(position.level)}
            r={position.opening ? 4.5 : 3}
            fill={position.opening ? 'var(--mui-palette-dew-own)' : 'var(--mui-palette-dew-scale3)'}
          >
            <title>{`${position.position}. ${position.title}: level ${Math.round(position.level)}${position.opening ? ', below yours' : ''}`}</title>
          </circle>
          <text x={x(i)} y={135} textAnchor="middle" fontSize="10" fill="var(--mui-palette-dew-ink2)">
            {position.position}
          </text>
        </g>
      ))}
    </svg>
  )
}
