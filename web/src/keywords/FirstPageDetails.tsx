import { useEndpoint } from '../api/use-endpoint.ts'
import { getFirstPage } from '@dew-trail/contract/weigh'
import { Link } from 'react-router'
import { ChanceBar } from '../pictures/ChanceBar.tsx'
import { TerrainLarge } from '../pictures/Terrain.tsx'
import { formatDay } from '../ui/format.ts'
import { LiveLink } from '../ui/LiveLink.tsx'
import { useSite } from '../ui/site-context.ts'
import type { Row } from '../rows/row-source.ts'
import { GapSentence } from './GapSentence.tsx'
import { FirstPageFigures } from './FirstPageFigures.tsx'
import { featureText, ResultsTable } from './ResultsTable.tsx'
import { type ActionDetails, useKeywordActions } from './keyword-actions.ts'
import { KeywordFigures } from './KeywordFigures.tsx'
import { standsForPath } from './stands-for-path.ts'

/** An unfolded keyword: terrain, its sentence and the results where it has been weighed; else its figures and the way to weigh it. */
export function FirstPageDetails({ row, details }: { row: Row; details?: ActionDetails }) {
  const { site, market } = useSite()
  const { actions, run } = useKeywordActions()
  const { data, error, isPending } = useEndpoint(getFirstPage, {
    siteId: site.id,
    keywordId: row.id,
    marketId: market.id,
  })
  const links = (
    <div style={{ display: 'flex', gap: 18, marginTop: 10, flexWrap: 'wrap' }}>
      {actions.map(action => {
        const label = action.labelFor ? action.labelFor(row) : action.label
        return label === null ? null : (
          <button key={action.name} type="button" className="link" onClick={() => run(action.name, [row.id], details)}>
            {label}
            {action.key && <kbd>{action.key.toUpperCase()}</kbd>}
          </button>
        )
      })}
      {data && (
        <Link className="link" to={`/${site.id}/weigh/page/${row.id}?market=${market.id}`}>
          Open the first page
        </Link>
      )}
      <LiveLink phrase={String(row.phrase)} market={market} />
    </div>
  )
  if (error)
    return (
      <div role="alert" className="fall">
        {error.message}
        {links}
      </div>
    )
  if (isPending) return <p className="quiet">Loading</p>
  if (!data) {
    return (
      <div style={{ display: 'grid', gridTemplateColumns: '320px minmax(0, 1fr)', gap: 32 }}>
        <KeywordFigures row={row} />
        <div>
          <p className="quiet" style={{ margin: 0 }}>
            This keyword has not been weighed in this market. Weighing fetches the first page and tells how hard it is
            and what your site could win.
          </p>
          {links}
        </div>
      </div>
    )
  }
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(300px, 340px) minmax(0, 1fr)', gap: 32 }}>
      <div>
        <FirstPageFigures page={data} />
        <TerrainLarge positions={data.results} ownLevel={data.ownLevel} />
        <div className="sentence">{data.sentence}</div>
        <GapSentence page={data} />
        {data.chances && (
          <div style={{ display: 'flex', gap: 14, marginTop: 8, fontSize: 12 }} className="quiet">
            {['3', '10', '20'].map(position => (
              <span key={position}>
                {data.standing ? 'a new page within' : 'within'} {position}
                <br />
                <ChanceBar chance={data.chances![position] ?? 0} />
              </span>
            ))}
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <ResultsTable page={data} listOf={target => standsForPath(site.id, market.id, target)} />
        <p className="quiet" style={{ margin: '8px 0 0', fontSize: 12 }}>
          First page of {formatDay(data.fetchedOn)}
          {featureText(data.features)}. Strengths by {data.model}
          {data.unknown.length ? `; unknown: ${data.unknown.join(', ')}` : ''}.
        </p>
        {links}
      </div>
    </div>
  )
}
