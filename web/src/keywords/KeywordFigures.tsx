import { MonthBars } from '../pictures/MonthBars.tsx'
import { explainRange, explainSearches, explainSeason, explainTrend } from '@dew-trail/core/demand/explain-demand'
import { formatDay, formatMoney, formatOne, formatWhole } from '../ui/format.ts'
import type { Row } from '../rows/row-source.ts'
import { demandFacts } from './demand-facts.ts'
import { intentLabels, s } from './column-parts.tsx'

/** The demand of a keyword, large, with source and date. */
export function KeywordFigures({ row }: { row: Row }) {
  const known = row.demandState === 'known'
  const facts = demandFacts(row)
  return (
    <div>
      {Array.isArray(row.months) && (
        <MonthBars months={row.months} end={(row.monthsEnd as string | null) ?? null} large />
      )}
      <div style={{ marginTop: 8 }}>
        {[explainSearches, explainRange, explainTrend, explainSeason].map(explain => {
          const { figure, value, note } = explain(facts)
          return (
            <div key={figure} style={{ display: 'flex', gap: 12, lineHeight: '20px' }} title={note ?? ''}>
              <span className="quiet" style={{ width: 130 }}>
                {figure}
              </span>
              {value === null ? <span className="unknown">unknown</span> : <span>{value}</span>}
            </div>
          )
        })}
        {row.logImpressions !== null && (
          <div style={{ display: 'flex', gap: 12, lineHeight: '20px' }}>
            <span className="quiet" style={{ width: 130 }}>
              Your query log
            </span>
            <span>
              {formatWhole(Number(row.logImpressions))} impressions, {formatWhole(Number(row.logClicks))} clicks in 30
              days at place {formatOne(Number(row.logPosition))}
            </span>
          </div>
        )}
        <div style={{ display: 'flex', gap: 12, lineHeight: '20px' }}>
          <span className="quiet" style={{ width: 130 }}>
            Bids
          </span>
          {row.bidLow === null || row.bidHigh === null ? (
            <span className="unknown">unknown</span>
          ) : (
            <span>
              {formatMoney(Number(row.bidLow))} to {formatMoney(Number(row.bidHigh))}
            </span>
          )}
        </div>
        <div style={{ display: 'flex', gap: 12, lineHeight: '20px' }}>
          <span className="quiet" style={{ width: 130 }}>
            Intent
          </span>
          <span>
            {intentLabels[s(row, 'intent')]}, {Math.round(Number(row.intentShare) * 100)}% by its words
          </span>
        </div>
      </div>
      <p className="quiet" style={{ fontSize: 12, margin: '6px 0 0' }}>
        {known
          ? `From ${row.demandSource === 'import' ? 'your file, imported' : 'the ads data, asked'} on ${row.demandDate ? formatDay(s(row, 'demandDate')) : 'an unknown day'}. I shows how each figure comes about.`
          : explainSearches(facts).note}
      </p>
    </div>
  )
}
