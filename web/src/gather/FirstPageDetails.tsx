import { useEndpoint } from '../api/use-endpoint.ts'
import { getFirstPage } from '@dew-trail/contract/weigh'
import { Link } from 'react-router'
import { ChanceBar } from '../charts/ChanceBar.tsx'
import { TerrainLarge } from '../charts/Terrain.tsx'
import { formatDay } from '../format.ts'
import { useSite } from '../shell/site-context.ts'
import type { Row } from '../sheet/row-source.ts'
import { FirstPageFigures } from '../weigh/FirstPageFigures.tsx'
import { featureText, ResultsTable } from '../weigh/ResultsTable.tsx'
import { DomainNames } from './DomainNames.tsx'
import { KeywordFigures } from './KeywordFigures.tsx'

export type RowActions = {
  keep(ids: number[], kept: boolean): void
  gather(ids: number[]): void
  weigh(ids: number[]): void
  plan(ids: number[]): void
  track(ids: number[]): void
  figures(ids: number[]): void
}

/** An unfolded keyword: terrain, its sentence and the results where it has been weighed; else its figures and the way to weigh it. */
export function FirstPageDetails({ row, actions }: { row: Row; actions: RowActions }) {
  const { site, market } = useSite()
  const { data, error, isPending } = useEndpoint(getFirstPage, {
    siteId: site.id,
    keywordId: row.id,
    marketId: market.id,
  })
  const ids = [row.id]
  const links = (
    <div style={{ display: 'flex', gap: 18, marginTop: 10, flexWrap: 'wrap' }}>
      <button type="button" className="link" onClick={() => actions.keep(ids, !row.kept)}>
        {row.kept ? (
          <>
            Let go<kbd>N</kbd>
          </>
        ) : (
          <>
            Keep<kbd>Y</kbd>
          </>
        )}
      </button>
      <button type="button" className="link" onClick={() => actions.weigh(ids)}>
        {data ? 'Weigh again' : 'Weigh'}
        <kbd>W</kbd>
      </button>
      <button type="button" className="link" onClick={() => actions.gather(ids)}>
        Gather from this<kbd>G</kbd>
      </button>
      <button type="button" className="link" onClick={() => actions.plan(ids)}>
        Put on a page<kbd>P</kbd>
      </button>
      {!row.tracked && (
        <button type="button" className="link" onClick={() => actions.track(ids)}>
          Track<kbd>T</kbd>
        </button>
      )}
      {row.demandState !== 'known' && (
        <button type="button" className="link" onClick={() => actions.figures(ids)}>
          Ask for figures<kbd>F</kbd>
        </button>
      )}
      {data && (
        <Link className="link" to={`/${site.id}/weigh/page/${row.id}?market=${market.id}`}>
          Open the first page
        </Link>
      )}
      <DomainNames phrase={String(row.phrase)} />
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
        <TerrainLarge places={data.results} ownLevel={data.ownLevel} />
        <div className="sentence">{data.sentence}</div>
        {data.chances && (
          <div style={{ display: 'flex', gap: 14, marginTop: 8, fontSize: 12 }} className="quiet">
            {['3', '10', '20'].map(place => (
              <span key={place}>
                within {place}
                <br />
                <ChanceBar chance={data.chances![place] ?? 0} />
              </span>
            ))}
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <ResultsTable page={data} />
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
