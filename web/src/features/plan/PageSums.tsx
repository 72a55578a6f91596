import type { PlannedPage } from '@dew-trail/contract/plan'
import { formatDay, formatMoney, formatWhole } from '../../ui/format.ts'
import { monthNames } from './plan-words.ts'

/** What a page brings now and could bring, with its range, its season, and which planning rules it meets. */
export function PageSums({ page }: { page: PlannedPage }) {
  const { visits, visitsNow, low, high, gain, worth, byMonth, peak, outBy } = page
  return (
    <div>
      <p style={{ margin: '4px 0', lineHeight: '19px' }}>
        {visits === null ? (
          <span className="unknown">
            Visits to expect are not known: none of its keywords is weighed in this market.
          </span>
        ) : (
          <>
            About <b>{formatWhole(visits)}</b> visits a month with the plan
            {low !== null && high !== null && page.kind !== 'keep' && (
              <span title="Holds the visits in eight of ten cases: by the chances of places and the spread of monthly demand">
                , likely {formatWhole(low)} to {formatWhole(high)}
              </span>
            )}
            {page.beside >= 0.5 && (
              <span title="What pages of your site get on the median from other keywords than those that bring them most, with the chance of the first page">
                , of which {formatWhole(page.beside)} from other keywords than these
              </span>
            )}
            {visitsNow !== null && <>; about {formatWhole(visitsNow)} now</>}.
            {gain !== null && gain > 0.5 && (
              <>
                {' '}
                That is {formatWhole(gain)} more
                {worth === null ? '' : `, worth about ${formatMoney(worth)} a month`}.
              </>
            )}
          </>
        )}
        {page.visitsUnknown > 0 && visits !== null && (
          <span className="quiet">
            {' '}
            {formatWhole(page.visitsUnknown)} of its keywords are not in it, as they are not weighed.
          </span>
        )}
        {peak !== null && outBy !== null && (
          <>
            {' '}
            Its peak is in {monthNames[peak]}: it should be out by {formatDay(outBy)} to have settled.
          </>
        )}
      </p>
      {byMonth && peak !== null && <MonthStrip months={byMonth} />}
      {page.rules.length > 0 && (
        <ul className="rules" aria-label="Rules">
          {page.rules.map(rule => (
            <li key={rule.rule} className={rule.met === false ? 'fall' : 'quiet'}>
              <span aria-hidden="true">{rule.met === null ? '?' : rule.met ? '✓' : '!'}</span>
              <span className="hidden">{rule.met === null ? 'Not known: ' : rule.met ? 'Met: ' : 'Not met: '}</span>
              {rule.text}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

function MonthStrip({ months }: { months: readonly number[] }) {
  const most = Math.max(...months)
  const words = months.map((value, i) => `${monthNames[i]} ${formatWhole(value)}`).join(', ')
  return (
    <svg width="240" height="44" role="img" aria-label={`Visits with the plan by month: ${words}`}>
      <title>{words}</title>
      {months.map((value, i) => (
        <g key={monthNames[i]} transform={`translate(${i * 20} 0)`}>
          <rect
            x="1"
            y={30 - (28 * value) / most}
            width="17"
            height={Math.max(1, (28 * value) / most)}
            fill={value === most ? 'var(--mui-palette-dew-scale3)' : 'var(--mui-palette-dew-scale1)'}
          />
          <text x="9.5" y="42" fontSize="10" textAnchor="middle" fill="var(--mui-palette-dew-ink2)">
            {monthNames[i]!.charAt(0)}
          </text>
        </g>
      ))}
    </svg>
  )
}
