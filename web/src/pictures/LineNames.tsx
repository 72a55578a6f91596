import type { MonthSeries } from './MonthLines.tsx'

/** Dashes by which lines are told apart without colour; the first, the own site's, has none. */
export const lineDashes = ['', '6 3', '2 3', '8 3 2 3', '1 4']

/** Which line is whose, as drawn. */
export const LineNames = ({ series }: { series: ReadonlyArray<Pick<MonthSeries, 'name' | 'colour' | 'dash'>> }) => (
  <>
    {series.map(({ name, colour, dash }) => (
      <span key={name} style={{ display: 'inline-flex', alignItems: 'center', gap: 6, marginRight: 18 }}>
        <svg width="26" height="8" aria-hidden="true">
          <line x1="0" x2="26" y1="4" y2="4" stroke={colour} strokeWidth="2" strokeDasharray={dash} />
        </svg>
        {name}
      </span>
    ))}
  </>
)
