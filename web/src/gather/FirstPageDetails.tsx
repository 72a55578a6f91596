import { getFirstPage } from '@dew-trail/contract/weigh'
import { useQuery } from '@tanstack/react-query'
import { call } from '../api/call.ts'
import { ChanceBar } from '../charts/ChanceBar.tsx'
import { PhraseStrip } from '../charts/PhraseStrip.tsx'
import { TerrainLarge } from '../charts/Terrain.tsx'
import { formatDay, formatOne, formatShare, formatWhole } from '../format.ts'
import { useSite } from '../shell/site-context.ts'
import type { Row } from '../sheet/row-source.ts'
import { featureNames } from '../weigh/feature-names.ts'
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
  const { data, error, isPending } = useQuery({
    queryKey: ['firstPage', site.id, row.id, market.id, row.weighedOn, row.difficulty],
    queryFn: () => call(getFirstPage, { siteId: site.id, keywordId: row.id, marketId: market.id }),
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
  const chance = data.chances?.['10']
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(300px, 340px) minmax(0, 1fr)', gap: 32 }}>
      <div>
        <div style={{ display: 'flex', gap: 30, marginBottom: 8 }}>
          <Figure
            value={data.difficulty === null ? 'unknown' : String(Math.round(data.difficulty))}
            label="difficulty"
            title="The site standing at which a new page with fit 90 and two linking sites has an even chance of the first page"
          />
          <Figure
            value={chance === undefined ? 'unknown' : formatShare(chance)}
            label="chance, first page"
            title="For a new, well-fitting page of your site"
          />
          <Figure
            value={
              data.likelyFrom === null
                ? 'beyond 20'
                : data.likelyTo === null
                  ? `${data.likelyFrom} to 20+`
                  : data.likelyFrom === data.likelyTo
                    ? String(data.likelyTo)
                    : `${data.likelyFrom}–${data.likelyTo}`
            }
            label="likely place"
            title="The places between which it lands six times in ten"
          />
        </div>
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
        <table className="results">
          <thead>
            <tr>
              <th className="n">#</th>
              <th>Result</th>
              <th className="n" title="The site standing that a new, well-fitting page would need to match this result">
                strength
              </th>
              <th className="n" title="Standing of the site, from its linking sites">
                site
              </th>
              <th className="n" title="Sites linking to this page">
                sites linking
              </th>
              <th className="n" title="Years since the site was registered">
                age
              </th>
              <th className="n" title="Phrase in title, address, description">
                phrase in
              </th>
            </tr>
          </thead>
          <tbody>
            {data.results.map(result => (
              <tr key={result.place} className={result.own ? 'own-result' : ''}>
                <td className="n quiet">{result.place}</td>
                <td title={`${result.title}\n${result.url}\n\n${result.snippet}`}>
                  <b style={{ fontWeight: 540 }}>{result.title}</b>{' '}
                  <small className={result.own ? 'own' : 'quiet'}>{result.url.replace(/^https?:\/\//, '')}</small>
                </td>
                <td
                  className="n"
                  title={`Level ${formatOne(result.level)} =\n${result.parts.map(part => `${featureNames[part.feature] ?? part.feature} ${part.value === null ? 'unknown' : formatOne(part.value)}: ${part.adds >= 0 ? '+' : ''}${part.adds.toFixed(2)}`).join('\n')}\n(${data.model})`}
                >
                  <b style={{ fontWeight: 640 }} className={result.opening ? 'own' : ''}>
                    {Math.round(result.level)}
                  </b>
                </td>
                <td
                  className="n"
                  title={
                    result.siteLinkingSites === null
                      ? 'Unknown: the link feed has nothing about the site'
                      : `100 · ln(1 + ${formatWhole(result.siteLinkingSites)} linking sites) / ln(1 + ${formatWhole(data.referenceSites)})`
                  }
                >
                  {result.siteStanding === null ? (
                    <span className="unknown">unknown</span>
                  ) : (
                    Math.round(result.siteStanding)
                  )}
                </td>
                <td
                  className="n"
                  title={result.links === null ? undefined : `${formatWhole(result.links)} links to this page`}
                >
                  {result.linkingSites === null ? (
                    <span className="unknown" title="The link feed does not know this page">
                      unknown
                    </span>
                  ) : (
                    formatWhole(result.linkingSites)
                  )}
                </td>
                <td className="n">
                  {result.ageYears === null ? (
                    <span className="unknown" title="The registry did not say">
                      unknown
                    </span>
                  ) : (
                    formatOne(result.ageYears)
                  )}
                </td>
                <td className="n">
                  <PhraseStrip matches={result.matches} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
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

function featureText(features: {
  answer: boolean
  questions: string[]
  images: boolean
  shopping: number
  map: number
  ads: number
}): string {
  const parts = [
    features.answer && 'an answer box',
    features.map > 0 && 'a map',
    features.shopping > 0 && 'shopping',
    features.images && 'images',
    features.questions.length > 0 && 'questions',
    features.ads > 0 && `${features.ads} ads`,
  ].filter(Boolean)
  return parts.length ? `, with ${parts.join(', ')}` : ''
}

function Figure({ value, label, title }: { value: string; label: string; title: string }) {
  return (
    <div title={title}>
      <div style={{ fontSize: 19, fontWeight: 640, lineHeight: '24px' }}>{value}</div>
      <div className="quiet" style={{ fontSize: 12 }}>
        {label}
      </div>
    </div>
  )
}
