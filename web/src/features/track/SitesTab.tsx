import { listGlances } from '@dew-trail/contract/track'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatMarket, formatOne, formatWhole } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { TrackBar } from './TrackBar.tsx'

/** All sites at a glance: visibility and its change, what entered and left the first page, and what needs a look, which comes first. */
export function SitesTab() {
  const { data, error } = useEndpoint(listGlances, {})
  return (
    <main className="screen whole">
      <ScreenTitle title="Track" />
      <div className="main">
        <TrackBar see="sites" />
        {!data ? (
          <Waiting error={error} />
        ) : (
          <div className="first">
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th>Site</th>
                  <th>Market</th>
                  <th className="n">watched</th>
                  <th className="n">visibility</th>
                  <th className="n">in seven days</th>
                  <th className="n" title="Keywords that came into the first ten in seven days">
                    entered 10
                  </th>
                  <th className="n" title="Keywords that left the first ten in seven days">
                    left 10
                  </th>
                  <th>checked</th>
                  <th>look at</th>
                </tr>
              </thead>
              <tbody>
                {data.map(row => (
                  <tr key={`${row.siteId} ${row.market.id}`}>
                    <td>
                      <Link className="link" to={`/${row.siteId}/track?market=${row.market.id}`} title={row.domain}>
                        {row.name}
                      </Link>
                    </td>
                    <td className="quiet">{formatMarket(row.market)}</td>
                    <td className="n">{formatWhole(row.tracked)}</td>
                    <td className="n own">
                      {row.visibility === null ? <span className="unknown">unknown</span> : formatOne(row.visibility)}
                    </td>
                    <td className="n">
                      {row.change === null ? (
                        <span className="unknown">–</span>
                      ) : (
                        <span className={row.change < -0.05 ? 'fall' : ''}>
                          {Math.abs(row.change) < 0.05
                            ? 'the same'
                            : `${row.change > 0 ? 'up' : 'down'} ${formatOne(Math.abs(row.change))}`}
                        </span>
                      )}
                    </td>
                    <td className="n">{row.entered ?? <span className="unknown">–</span>}</td>
                    <td className="n">{row.left ?? <span className="unknown">–</span>}</td>
                    <td className="quiet">{row.day === null ? 'never' : formatDay(row.day)}</td>
                    <td className="fall" style={{ whiteSpace: 'normal' }}>
                      {row.look.join('; ')}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
