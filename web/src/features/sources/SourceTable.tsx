import { useEndpoint } from '../../api/use-endpoint.ts'
import { listSources, type Source } from '@dew-trail/contract/sources'
import { formatAge, formatDay, formatWhole } from '../../ui/format.ts'
import { DayLimit } from './DayLimit.tsx'
import { SourceKey } from './SourceKey.tsx'
import { TestSource } from './TestSource.tsx'
import { useSite } from '../../ui/site-context.ts'

const names: Record<Source['key'], [name: string, gives: string]> = {
  engines: ['Search engines', 'result pages, related searches, positions'],
  completions: ['Completions', 'what people type on'],
  ads: ['Ads data', 'searches, CPC, advertisers, ideas'],
  rankings: ['Rankings feed', 'for which keywords any site stands'],
  querylog: ['Query log', 'what the own site was shown and clicked for'],
  feeds: ['Link feeds', 'links between sites, north and south'],
  registry: ['Registry', 'when domains were registered'],
  maps: ['Town maps', 'streets, coast and businesses of towns'],
  web: ['The web', 'pages, read by our own crawler'],
}

/** One line a source: limits, use of today and the last days, age of the newest data, the last failure in its own words. */
export function SourceTable() {
  const { site } = useSite()
  const { data, error } = useEndpoint(listSources, { siteId: site.id }, { refetchInterval: 10_000 })
  return (
    <section aria-labelledby="sources-title">
      <h1 id="sources-title">Sources</h1>
      {error && <p className="fall">{error.message}</p>}
      <table className="results sources-table">
        <thead>
          <tr>
            <th>Source</th>
            <th>Gives</th>
            <th className="n">Newest data</th>
            <th className="n">Asked today</th>
            <th>Last 14 days</th>
            <th className="n">Most a second</th>
            <th className="n">Most a day</th>
            <th>Key</th>
            <th>Try it</th>
            <th>Last failure</th>
          </tr>
        </thead>
        <tbody>
          {data?.map(source => (
            <tr key={source.key}>
              <td>
                <b title={source.address}>{names[source.key][0]}</b>
              </td>
              <td className="quiet" title={names[source.key][1]}>
                {names[source.key][1]}
              </td>
              <td className="n">
                {source.newest === null ? (
                  <span className="unknown">none yet</span>
                ) : (
                  <span title={formatDay(source.newest)}>{formatAge(source.newest)}</span>
                )}
              </td>
              <td className="n">
                {formatWhole(source.today.requests)}
                {source.today.limited > 0 && (
                  <span className="fall" title="Times the source said that it was asked too often; we waited">
                    {' '}
                    · {formatWhole(source.today.limited)} waits
                  </span>
                )}
              </td>
              <td>
                <UseBars source={source} />
              </td>
              <td className="n" title={`At most ${source.atOnce} at the same time`}>
                {source.perSecond === null ? 'no limit' : source.perSecond}
                {source.key === 'web' && source.perSecond !== null ? ' a host' : ''}
              </td>
              <td className="n">
                <DayLimit source={source} name={names[source.key][0]} />
              </td>
              <td>
                <SourceKey source={source} name={names[source.key][0]} />
              </td>
              <td>
                <TestSource source={source} name={names[source.key][0]} />
              </td>
              <td className={source.lastFailure ? 'fall' : 'quiet'} title={source.lastFailure?.what}>
                {source.lastFailure ? `${formatDay(source.lastFailure.day)}: ${source.lastFailure.what}` : 'none'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** Requests by day as bars, failures darker at their foot. */
function UseBars({ source }: { source: Source }) {
  if (!source.days.length) return <span className="unknown">nothing asked</span>
  const most = Math.max(1, ...source.days.map(each => each.requests))
  const total = source.days.reduce((sum, each) => sum + each.requests, 0)
  const failures = source.days.reduce((sum, each) => sum + each.failures, 0)
  const label = `${formatWhole(total)} requests, ${formatWhole(failures)} failed`
  return (
    <svg width={14 * 5} height={18} role="img" aria-label={label}>
      <title>{label}</title>
      {source.days.map((each, i) => {
        const x = (14 - source.days.length + i) * 5
        const height = Math.max(1, (each.requests / most) * 17)
        const failed = each.requests ? (each.failures / each.requests) * height : 0
        return (
          <g key={each.day}>
            <rect x={x} y={18 - height} width={4} height={height} fill="var(--mui-palette-dew-scale1)" />
            <rect x={x} y={18 - failed} width={4} height={failed} fill="var(--mui-palette-dew-fall)" />
          </g>
        )
      })}
    </svg>
  )
}
