import { usePageTitle } from '../../ui/ScreenTitle.tsx'
import { type FirstPage, getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import { keepPhrases } from '@dew-trail/contract/gather'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Link, useParams } from 'react-router'
import { call } from '../../api/call.ts'
import { TerrainLarge } from '../../pictures/Terrain.tsx'
import { formatDay, formatMarket, plural } from '../../ui/format.ts'
import { LinksDialog } from '../../link-profile/LinksDialog.tsx'
import { SharedLinkers } from '../../link-profile/SharedLinkers.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { JobLine } from '../../ui/JobLine.tsx'
import { LiveLink } from '../../ui/LiveLink.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { BesidePanel } from './BesidePanel.tsx'
import { GapSentence } from '../../keywords/GapSentence.tsx'
import { FirstPageFigures } from '../../keywords/FirstPageFigures.tsx'
import { PageAsSeen } from './PageAsSeen.tsx'
import { ResultColumnMenu } from '../../keywords/ResultColumnMenu.tsx'
import { usualColumns } from '../../keywords/result-columns.tsx'
import { standsForPath } from '../../keywords/stands-for-path.ts'
import { type Before, featureText, ResultsTable } from '../../keywords/ResultsTable.tsx'

/** How results are shown. */
const ways = { figures: 'Figures', seen: 'As seen', linkers: 'Who links to several' }

/** One keyword's first page: its ground, its results, how they moved, and a page of one's own beside them. */
export default function FirstPageScreen() {
  const { site, market } = useSite()
  const keywordId = Number(useParams().keywordId)
  const [params, change] = useAddress()
  const act = useAct()
  const keep = async (phrase: string) => {
    const { changed, actId } = await call(keepPhrases, { siteId: site.id, marketId: market.id, phrases: [phrase] })
    return changed.length ? { say: `${phrase} is kept`, actId } : { say: `${phrase} is kept already` }
  }
  const day = params.get('day')
  const since = params.get('since')
  const linked = params.get('links')
  const pageOf = (date: string | null) => ({
    siteId: site.id,
    keywordId,
    marketId: market.id,
    ...(date ? { date } : {}),
  })
  const { data, error, isPending } = useEndpoint(getFirstPage, pageOf(day))
  usePageTitle(data?.phrase ?? 'First page')
  const { data: earlier } = useEndpoint(getFirstPage, pageOf(since), { enabled: Boolean(since) })
  const before: Before | undefined =
    since && earlier
      ? { day: earlier.fetchedOn, positions: new Map(earlier.results.map(result => [result.url, result.position])) }
      : undefined
  const show = params.get('show') ?? 'figures'
  const columns = params.get('columns')?.split(',') ?? usualColumns
  const marked = markedWords(data)
  const weigh = () =>
    act(async () => {
      await call(startWeighing, { siteId: site.id, marketId: market.id, keywordIds: [keywordId], again: true })
      return { say: 'Weighing' }
    })
  return (
    <main className="screen whole">
      <div className="main">
        <div className="sources">
          {error ? (
            <p role="alert" className="fall">
              {error.message}
            </p>
          ) : isPending ? (
            <p className="quiet">Loading</p>
          ) : data ? (
            <>
              <section aria-labelledby="first-page-title">
                <h1 id="first-page-title">{data.phrase}</h1>
                <div style={{ display: 'flex', gap: 16, alignItems: 'center', flexWrap: 'wrap' }}>
                  <span className="quiet">{formatMarket(market)}</span>
                  <DayChoice
                    label="First page of"
                    days={data.dates}
                    chosen={data.fetchedOn}
                    onChoose={each => change(setParam('day', each === data.dates[0] ? null : each))}
                  />
                  {data.dates.length > 1 && (
                    <DayChoice
                      label="compared with"
                      days={data.dates.filter(each => each !== data.fetchedOn)}
                      chosen={since}
                      none="no other day"
                      onChoose={each => change(setParam('since', each))}
                    />
                  )}
                  <button type="button" className="link" onClick={weigh}>
                    Weigh again
                  </button>
                  <LiveLink phrase={data.phrase} market={market} />
                  <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
                    Back to the weighed keywords
                  </Link>
                </div>
              </section>
              <div className="first-page">
                <div style={{ minWidth: 0 }}>
                  <div className="first-page-ground">
                    <div>
                      <FirstPageFigures page={data} />
                      <div className="sentence">{data.sentence}</div>
                      <GapSentence page={data} />
                    </div>
                    <TerrainLarge positions={data.results} ownLevel={data.ownLevel} />
                  </div>
                  <div
                    style={{ display: 'flex', gap: 6, marginBottom: 8 }}
                    role="group"
                    aria-label="How results are shown"
                  >
                    {Object.entries(ways).map(([way, label]) => (
                      <button
                        key={way}
                        type="button"
                        className="choice"
                        aria-pressed={show === way}
                        onClick={() => change(setParam('show', way === 'figures' ? null : way))}
                      >
                        {label}
                      </button>
                    ))}
                    {show === 'figures' && (
                      <ResultColumnMenu columns={columns} onChange={each => change(setParam('columns', each))} />
                    )}
                  </div>
                  {show === 'seen' ? (
                    <PageAsSeen page={data} />
                  ) : show === 'linkers' ? (
                    <SharedLinkers results={data.results} name={data.phrase} />
                  ) : (
                    <ResultsTable
                      page={data}
                      before={before}
                      columns={columns}
                      onLinks={each => change(setParam('links', each))}
                      listOf={target => standsForPath(site.id, market.id, target)}
                    />
                  )}
                  <OwnBelow page={data} />
                  {before && earlier && <Left now={data} earlier={earlier} />}
                  <p className="quiet" style={{ margin: '8px 0 0', fontSize: 12 }}>
                    First page of {formatDay(data.fetchedOn)}
                    {featureText(data.features)}. Strengths by{' '}
                    <Link className="link" to={`/${site.id}/weigh/strengths?market=${market.id}`}>
                      {data.model}
                    </Link>
                    {data.unknown.length ? `; unknown: ${data.unknown.join(', ')}` : ''}.
                  </p>
                  {marked.length > 0 && (
                    <p className="quiet" style={{ fontSize: 12 }}>
                      Words the engine marked, with the number of results: {marked.join(', ')}.
                    </p>
                  )}
                  {data.related.length > 0 && (
                    <p className="quiet" style={{ fontSize: 12 }}>
                      Related searches:{' '}
                      {data.related.map((phrase, i) => (
                        <span key={phrase}>
                          {i > 0 && ', '}
                          <ActButton
                            className="plain-link"
                            title="Keeps it as a keyword, whose figures are then asked for"
                            onAct={() => keep(phrase)}
                          >
                            {phrase}
                          </ActButton>
                        </span>
                      ))}
                    </p>
                  )}
                </div>
                {linked && (
                  <LinksDialog
                    url={linked}
                    keywordId={keywordId}
                    phrase={data.phrase}
                    onClose={() => change(setParam('links', null))}
                  />
                )}
                <BesidePanel key={`${data.keywordId} ${market.id}`} page={data} />
              </div>
            </>
          ) : (
            <div className="empty">
              <h1>No first page is kept here</h1>
              <p>This keyword was not weighed in {formatMarket(market)}. Weighing fetches its first page.</p>
              <button type="button" className="link" onClick={weigh}>
                Weigh it
              </button>
            </div>
          )}
        </div>
        <div className="foot">
          <span className="quiet">Figures of a result open where the pointer rests.</span>
          <span className="foot-end">
            <JobLine />
          </span>
        </div>
      </div>
    </main>
  )
}

/** Words that the engine marked, with how many results, most first. */
function markedWords(page: FirstPage | null | undefined): string[] {
  const counts = new Map<string, number>()
  for (const result of page?.results ?? [])
    for (const word of result.marked) counts.set(word, (counts.get(word) ?? 0) + 1)
  return [...counts]
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, 20)
    .map(([word, results]) => `${word} ${results}`)
}

function DayChoice({
  label,
  days,
  chosen,
  none,
  onChoose,
}: {
  label: string
  days: string[]
  chosen: string | null
  none?: string
  onChoose(day: string | null): void
}) {
  return (
    <label style={{ display: 'inline-flex', gap: 6, alignItems: 'center' }} className="quiet">
      {label}
      <select className="plain-input" value={chosen ?? ''} onChange={event => onChoose(event.target.value || null)}>
        {none && <option value="">{none}</option>}
        {days.map(day => (
          <option key={day} value={day}>
            {formatDay(day)}
          </option>
        ))}
      </select>
    </label>
  )
}

/** Where the own page stands that the first page does not show. */
function OwnBelow({ page }: { page: FirstPage }) {
  const { ownPage } = page
  if (!ownPage || page.results.some(result => result.own)) return null
  return (
    <p style={{ marginTop: 8 }}>
      {ownPage.position === null ? 'Tracking last found your page' : `Your page stands at ${ownPage.position}`}:{' '}
      <span className="own">{ownPage.url.replace('https://', '')}</span>
    </p>
  )
}

/** What stood on the first page then and does not now. */
function Left({ now, earlier }: { now: FirstPage; earlier: FirstPage }) {
  const here = new Set(now.results.map(result => result.url))
  const left = earlier.results.filter(result => !here.has(result.url))
  const entered = now.results.length - (earlier.results.length - left.length)
  return (
    <p style={{ marginTop: 8 }}>
      Since {formatDay(earlier.fetchedOn)} {plural(entered, 'result')} entered and {left.length} left
      {left.length ? (
        <>
          :{' '}
          {left.map((result, i) => (
            <span key={result.url} className={result.own ? 'own' : ''}>
              {i ? ', ' : ''}
              {result.position}. {result.domain}
            </span>
          ))}
        </>
      ) : null}
      .
    </p>
  )
}
