import { formatOne } from '../../ui/format.ts'

type Curve = { log: boolean; x: number[]; y: number[] }
const [width, height] = [150, 34]

/** What a feature adds to strength from its least to its most, all features of a table on one scale. */
export function StrengthCurve({ name, curve, reach }: { name: string; curve: Curve; reach: number }) {
  const [first, last] = [curve.x[0]!, curve.x.at(-1)!]
  const [least, most] = [curve.y[0]!, curve.y.at(-1)!]
  const at = (value: number): string => formatOne(curve.log ? Math.expm1(value) : value)
  const points = curve.x.map((x, i): [number, number] => [
    4 + ((x - first) / (last - first || 1)) * (width - 8),
    height - 4 - ((curve.y[i]! - least) / (reach || 1)) * (height - 8),
  ])
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${name} from ${at(first)} to ${at(last)} adds up to ${formatOne(most - least)}`}
    >
      <title>{curve.x.map((x, i) => `${at(x)}: ${(curve.y[i]! - least).toFixed(2)} over the least`).join('\n')}</title>
      <line x1={4} x2={width - 4} y1={height - 4} y2={height - 4} stroke="var(--mui-palette-dew-line)" />
      <polyline
        points={points.map(point => point.join(',')).join(' ')}
        fill="none"
        stroke="var(--mui-palette-dew-scale3)"
        strokeWidth="1.6"
      />
      {points.map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r={2} fill="var(--mui-palette-dew-scale3)" />
      ))}
    </svg>
  )
}
