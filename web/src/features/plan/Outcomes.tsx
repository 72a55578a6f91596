import type { listOutcomes } from '@dew-trail/contract/brief'
import type { z } from 'zod'
import { formatDay, formatWhole, today } from '../../ui/format.ts'

type Outcome = z.output<(typeof listOutcomes)['output']>[number]
/** What was expected of published pages and what came, once they have settled. */
export function Outcomes({ rows, onOpen }: { rows: readonly Outcome[]; onOpen(pageId: number): void }) {
  const known = (value: number | null) => (value === null ? <span className="unknown">–</span> : formatWhole(value))
  return (
    <>
      <h2>What was expected, and what came</h2>
      <table className="results whole-cells">
        <thead>
          <tr>
            <th>Page</th>
            <th>published</th>
            <th className="n">visits/mo before</th>
            <th className="n">expected</th>
            <th className="n">came</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map(row => (
            <tr key={row.pageId}>
              <td>
                <button type="button" className="link" onClick={() => onOpen(row.pageId)}>
                  {row.title}
                </button>
              </td>
              <td>{formatDay(row.publishedOn)}</td>
              <td className="n">{known(row.before)}</td>
              <td className="n">
                {known(row.expected)}
                {row.low !== null && row.high !== null && (
                  <span className="quiet">
                    {' '}
                    {formatWhole(row.low)}–{formatWhole(row.high)}
                  </span>
                )}
              </td>
              <td className="n">{row.dueOn > today() ? <span className="quiet">too early</span> : known(row.came)}</td>
              <td className="quiet">
                {row.dueOn > today()
                  ? `it will have settled on ${formatDay(row.dueOn)}`
                  : row.came === null || row.low === null || row.high === null
                    ? ''
                    : row.came < row.low
                      ? 'less than expected'
                      : row.came > row.high
                        ? 'more than expected'
                        : 'as expected'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
