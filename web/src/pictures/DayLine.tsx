import type { MouseEvent } from 'react'
import { formatShortDay, formatWhole } from '../ui/format.ts'

const [width, height, margin] = [900, 84, 4]
const dayMs = 86_400_000

/** Values by day as a line from zero on; days of which nothing is known are gaps. The day and its value are told where the pointer rests. */
export function DayLine({ from, values, of }: { from: string; values: ReadonlyArray<number | null>; of: string }) {
  const known = values.flatMap((value, i) => (value === null ? [] : [{ value, i }]))
  if (!known.length) return <p className="quiet">Nothing of it is known yet.</p>
  const dayOf = (i: number): string => formatShortDay(new Date(Date.parse(from) + i * dayMs).toISOString())
  const most = Math.max(1, ...known.map(each => each.value))
  const x = (i: number): number => (values.length > 1 ? (i / (values.length - 1)) * width : 0)
  const y = (value: number): number => height - margin - (value / most) * (height - 2 * margin)
  let path = ''
  values.forEach((value, i) => {
    if (value !== null) path += `${i && values[i - 1] !== null ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`
  })
  const [first, last] = [known[0]!, known.at(-1)!]
  const name = (event: MouseEvent<SVGSVGElement>): void => {
    const box = event.currentTarget.getBoundingClientRect()
    const i = Math.round(((event.clientX - box.left) / (box.width || 1)) * (values.length - 1))
    const value = values[i]
    event.currentTarget.parentElement?.setAttribute(
      'title',
      `${dayOf(i)}: ${value === null || value === undefined ? 'not known' : formatWhole(value)} ${of}`,
    )
  }
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        preserveAspectRatio="none"
        style={{ width: '100%', height }}
        role="img"
        aria-label={`${of} by day: ${formatWhole(first.value)} on ${dayOf(first.i)}, ${formatWhole(last.value)} on ${dayOf(last.i)}, at most ${formatWhole(most)}`}
        onMouseMove={name}
      >
        <line x1={0} x2={width} y1={height - margin} y2={height - margin} stroke="var(--mui-palette-dew-line)" />
        <path
          d={path}
          fill="none"
          stroke="var(--mui-palette-dew-own)"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          strokeLinecap="round"
        />
      </svg>
      <figcaption className="quiet" style={{ display: 'flex', justifyContent: 'space-between' }}>
        <span>
          {dayOf(0)}: {values[0] === null ? 'not known' : formatWhole(values[0]!)}
        </span>
        <span>
          {of}, at most {formatWhole(most)}
        </span>
        <span>
          {dayOf(values.length - 1)}: {values.at(-1) === null ? 'not known' : formatWhole(values.at(-1)!)}
        </span>
      </figcaption>
    </figure>
  )
}
