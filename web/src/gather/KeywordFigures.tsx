import { MonthBars } from '../charts/MonthBars.tsx'
import { formatDay, formatMoney, formatWhole } from '../format.ts'
import type { Row } from '../sheet/row-source.ts'
import { intentLabels, s } from './keyword-columns.tsx'

/** The demand of a keyword, large, with source and date. */
export function KeywordFigures({ row }: { row: Row }) {
  const known = row.demandState === 'known'
  return (
    <div>
      {Array.isArray(row.months) && (
        <MonthBars months={row.months} end={(row.monthsEnd as string | null) ?? null} large />
      )}
      <table style={{ borderSpacing: '0 2px', marginTop: 6 }}>
        <tbody>
          <tr>
            <td className="quiet" style={{ paddingRight: 16 }}>
              Searches a month
            </td>
            <td>
              {row.searches === null ? <span className="unknown">unknown</span> : formatWhole(Number(row.searches))}
            </td>
          </tr>
          <tr>
            <td className="quiet">Bids</td>
            <td>
              {row.bidLow === null || row.bidHigh === null ? (
                <span className="unknown">unknown</span>
              ) : (
                `${formatMoney(Number(row.bidLow))} to ${formatMoney(Number(row.bidHigh))}`
              )}
            </td>
          </tr>
          <tr>
            <td className="quiet">Intent</td>
            <td>
              {intentLabels[s(row, 'intent')]}, {Math.round(Number(row.intentShare) * 100)}% by its words
            </td>
          </tr>
        </tbody>
      </table>
      <p className="quiet" style={{ fontSize: 12, margin: '6px 0 0' }}>
        {known && row.demandSource === 'import'
          ? `From your file, imported on ${row.demandDate ? formatDay(s(row, 'demandDate')) : 'an unknown day'}.`
          : known
            ? `From the ads data, asked on ${row.demandDate ? formatDay(s(row, 'demandDate')) : 'an unknown day'}, rounded to bands.`
            : row.demandState === 'nothing'
              ? 'The ads data has nothing about this keyword; that is not zero.'
              : 'The ads data has not been asked, or failed.'}
      </p>
    </div>
  )
}
