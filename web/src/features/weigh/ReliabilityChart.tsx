import { formatShare, formatWhole } from '../../ui/format.ts'

type Bin = { from: number; to: number; count: number; predicted: number; happened: number }
const size = 260
const [left, bottom] = [40, 30]
const x = (share: number): number => left + share * (size - left - 8)
const y = (share: number): number => size - bottom - share * (size - bottom - 8)

/** Predicted chances against what happened: on the dashed line they were right. */
export function ReliabilityChart({ bins }: { bins: Bin[] }) {
  const most = Math.max(1, ...bins.map(bin => bin.count))
  return (
    <svg
      width={size}
      height={size}
      role="img"
      aria-label={`Predicted against happened: ${bins.map(bin => `${formatShare(bin.predicted)}: ${formatShare(bin.happened)}`).join(', ')}`}
    >
      {[0, 0.5, 1].map(share => (
        <g key={share} fontSize="11" fill="var(--mui-palette-dew-ink2)">
          <line x1={x(0)} x2={x(1)} y1={y(share)} y2={y(share)} stroke="var(--mui-palette-dew-line)" />
          <text x={left - 6} y={y(share) + 4} textAnchor="end">
            {formatShare(share)}
          </text>
          <text x={x(share)} y={size - bottom + 14} textAnchor={share === 1 ? 'end' : 'middle'}>
            {formatShare(share)}
          </text>
        </g>
      ))}
      <text x={x(0.5)} y={size - 3} textAnchor="middle" fontSize="11" fill="var(--mui-palette-dew-ink2)">
        chance said
      </text>
      <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--mui-palette-dew-ink3)" strokeDasharray="4 4" />
      <polyline
        points={bins.map(bin => `${x(bin.predicted)},${y(bin.happened)}`).join(' ')}
        fill="none"
        stroke="var(--mui-palette-dew-lagoon)"
        strokeWidth="1.5"
      />
      {bins.map(bin => (
        <circle
          key={bin.from}
          cx={x(bin.predicted)}
          cy={y(bin.happened)}
          r={3 + 6 * Math.sqrt(bin.count / most)}
          fill="var(--mui-palette-dew-lagoon)"
        >
          <title>{`Said ${formatShare(bin.predicted)}, happened ${formatShare(bin.happened)} of ${formatWhole(bin.count)} results`}</title>
        </circle>
      ))}
    </svg>
  )
}
