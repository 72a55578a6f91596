import type { chooseFirst } from '@dew-trail/contract/brief'
import type { z } from 'zod'
import { AsTable } from '../../pictures/AsTable.tsx'
import { SavePicture } from '../../pictures/SavePicture.tsx'
import { formatMonth, formatWhole } from '../../ui/format.ts'

type Outlook = z.output<(typeof chooseFirst)['output']>['outlook']
const [width, height, left, bottom, topMargin] = [520, 150, 44, 22, 8]

/** The least round number at or above a value. */
const roundUp = (value: number): number => {
  const power = 10 ** Math.floor(Math.log10(Math.max(1, value)))
  return [1, 1.5, 2, 3, 4, 5, 6, 8, 10].map(each => each * power).find(each => each >= value)!
}

/** Visits a month over the next year: as today, and with the chosen pages, with the range that holds eight of ten cases. */
export function OutlookPicture({ outlook }: { outlook: Outlook }) {
  const { months, today, withPlan, low, high } = outlook
  const most = roundUp(Math.max(...high, ...withPlan, ...today))
  const x = (i: number): number => left + (i / (months.length - 1)) * (width - left - 8)
  const y = (value: number): number => topMargin + (1 - value / most) * (height - topMargin - bottom)
  const line = (values: readonly number[]): string =>
    values.map((value, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`).join('')
  const band = `${line(high)}${low
    .map((value, i) => ({ value, i }))
    .reverse()
    .map(({ value, i }) => `L${x(i).toFixed(1)} ${y(value).toFixed(1)}`)
    .join('')}Z`
  const last = months.length - 1
  const sentence = `About ${formatWhole(today[last]!)} visits a month in ${formatMonth(months[last]!)} as today, about ${formatWhole(withPlan[last]!)} with these pages, likely ${formatWhole(low[last]!)} to ${formatWhole(high[last]!)}.`
  return (
    <figure className="outlook">
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={sentence}>
        {[0, most / 2, most].map(tick => (
          <g key={tick}>
            <path d={`M${left} ${y(tick)}H${width - 8}`} stroke="var(--mui-palette-dew-line)" />
            <text x={left - 6} y={y(tick) + 4} fontSize="11" textAnchor="end" fill="var(--mui-palette-dew-ink2)">
              {formatWhole(tick)}
            </text>
          </g>
        ))}
        {months.map((month, i) =>
          i % 3 === 0 || i === last ? (
            <text
              key={month}
              x={x(i)}
              y={height - 5}
              fontSize="11"
              textAnchor={i === last ? 'end' : i === 0 ? 'start' : 'middle'}
              fill="var(--mui-palette-dew-ink2)"
            >
              {i % 3 === 0 && last - i < 2 && i !== last ? '' : formatMonth(month)}
            </text>
          ) : null,
        )}
        <path d={band} fill="var(--mui-palette-dew-own)" opacity="0.16" />
        <path
          d={line(today)}
          fill="none"
          stroke="var(--mui-palette-dew-ink2)"
          strokeWidth="1.5"
          strokeDasharray="5 4"
        />
        <path d={line(withPlan)} fill="none" stroke="var(--mui-palette-dew-own)" strokeWidth="2" />
      </svg>
      <figcaption>
        {sentence}{' '}
        <span className="quiet">
          Dashed: as today. Line: with these pages, and the range that holds eight of ten cases.
        </span>
        <div>
          <SavePicture
            name="visits-outlook"
            picture={() => ({
              title: 'Visits a month over the next year',
              labels: months.map(formatMonth),
              ticks: [0, most / 2, most],
              lines: [
                { name: 'as today', colour: '#5b6b6a', dash: '5 4', values: today },
                { name: 'with these pages', colour: '#b4540a', values: withPlan },
                { name: 'low', colour: '#e0b48f', dash: '2 3', values: low },
                { name: 'high', colour: '#e0b48f', dash: '2 3', values: high },
              ],
            })}
          />
          <AsTable
            of="Visits a month over the next year"
            head={['Month', 'As today', 'With these pages', 'Low', 'High']}
            rows={() =>
              months.map((month, i) => [
                formatMonth(month),
                ...[today, withPlan, low, high].map(values => formatWhole(values[i]!)),
              ])
            }
          />
        </div>
      </figcaption>
    </figure>
  )
}
