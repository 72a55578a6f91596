const dashes = ['', '7 3', '2 3', '9 3 2 3', '4 2']
const [width, height, left, right, top, bottom] = [640, 220, 30, 210, 10, 24]
const x = (i: number): number => left + (i / 9) * (width - left - right)
const y = (level: number): number => height - bottom - (level / 100) * (height - top - bottom)
const lineHeight = 15

export type NamedTerrain = { id: number; name: string; levels: number[] }

/** The grounds of several keywords in one picture, told apart by dashes and by their names at the end of each line. */
export function Terrains({ terrains, ownLevel }: { terrains: NamedTerrain[]; ownLevel: number | null }) {
  // Names stand beside the ends of their lines, moved apart where those are close.
  const ends = terrains.map((terrain, i) => ({ terrain, i, at: y(terrain.levels.at(-1)!) })).sort((a, b) => a.at - b.at)
  ends.forEach((end, i) => {
    if (i) end.at = Math.max(end.at, ends[i - 1]!.at + lineHeight)
  })
  const over = Math.max(0, (ends.at(-1)?.at ?? 0) - (height - bottom))
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${width} ${height}`}
      style={{ maxWidth: 860 }}
      role="img"
      aria-label={`Levels of the results by place. ${terrains.map(each => `${each.name}: ${each.levels.map(level => Math.round(level)).join(', ')}`).join('; ')}${ownLevel === null ? '' : `; your level ${Math.round(ownLevel)}`}`}
    >
      {[0, 50, 100].map(level => (
        <g key={level}>
          <line x1={left} x2={x(9)} y1={y(level)} y2={y(level)} stroke="var(--mui-palette-dew-line)" />
          <text x={left - 6} y={y(level) + 4} textAnchor="end" fontSize="11" fill="var(--mui-palette-dew-ink2)">
            {level}
          </text>
        </g>
      ))}
      {Array.from({ length: 10 }, (_, i) => (
        <text key={x(i)} x={x(i)} y={height - 6} textAnchor="middle" fontSize="11" fill="var(--mui-palette-dew-ink2)">
          {i + 1}
        </text>
      ))}
      {ownLevel !== null && (
        <>
          <line
            x1={left}
            x2={x(9)}
            y1={y(ownLevel)}
            y2={y(ownLevel)}
            stroke="var(--mui-palette-dew-own)"
            strokeDasharray="4 3"
            strokeWidth="1.4"
          />
          <text x={left + 4} y={y(ownLevel) - 5} fontSize="11" fontWeight="540" fill="var(--mui-palette-dew-ownInk)">
            your level {Math.round(ownLevel)}
          </text>
        </>
      )}
      {ends.map(({ terrain, i, at }) => {
        const colour = `var(--mui-palette-dew-rival${(i % 5) + 1})`
        const last = terrain.levels.length - 1
        return (
          <g key={terrain.id}>
            <polyline
              points={terrain.levels.map((level, position) => `${x(position)},${y(level)}`).join(' ')}
              fill="none"
              stroke={colour}
              strokeWidth="2"
              strokeDasharray={dashes[i % 5]}
            />
            {terrain.levels.map((level, position) => (
              <circle key={x(position)} cx={x(position)} cy={y(level)} r="2.4" fill={colour}>
                <title>{`${terrain.name}, place ${position + 1}: ${Math.round(level)}`}</title>
              </circle>
            ))}
            <line
              x1={x(last) + 5}
              y1={y(terrain.levels[last]!)}
              x2={x(9) + 14}
              y2={at - over}
              stroke={colour}
              strokeWidth="1"
            />
            <text x={x(9) + 18} y={at - over + 4} fontSize="12" fill="var(--mui-palette-dew-ink)">
              {terrain.name.length > 28 ? `${terrain.name.slice(0, 27)}…` : terrain.name}
              <title>{terrain.name}</title>
            </text>
          </g>
        )
      })}
    </svg>
  )
}
