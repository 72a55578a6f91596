import { usePageTitle } from '../../ui/ScreenTitle.tsx'
import { AsTable } from '../../pictures/AsTable.tsx'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { getStrengths, learnStrengths, type Strengths } from '@dew-trail/contract/weigh'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { formatDay, formatOne, formatShare, formatSigned, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useAct } from '../../ui/use-act.ts'
import { featureNames, featureNotes } from '../../keywords/feature-names.ts'
import { PredictionsSection } from './PredictionsSection.tsx'
import { ReliabilityChart } from './ReliabilityChart.tsx'
import { ScaleSection } from './ScaleSection.tsx'
import { StrengthCurve } from './StrengthCurve.tsx'

const nameOf = ({ engine, device }: { engine: string; device: string }): string =>
  `${engine[0]!.toUpperCase()}${engine.slice(1)}, ${device}`

/** How each engine puts pages in order, as far as this program knows, and how often its chances came true. */
export default function StrengthsScreen() {
  usePageTitle('What ranks')
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const act = useAct()
  const { data, error } = useEndpoint(getStrengths, { siteId: site.id })
  const wanted = params.get('of') ?? `${market.engine} ${market.device}`
  const shown = data?.find(each => `${each.engine} ${each.device}` === wanted) ?? data?.[0]
  return (
    <main className="screen whole">
      <div className="main">
        <div className="sources">
          <section aria-labelledby="strengths-title">
            <h1 id="strengths-title">What ranks</h1>
            <p>
              Difficulty, chances and levels rest on the strength of each result. What makes a result strong is learnt
              from result pages fetched 60 deep, for each engine and device on its own.{' '}
              <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
                Back to the weighed keywords
              </Link>
            </p>
            {error && (
              <p role="alert" className="fall">
                {error.message}
              </p>
            )}
            <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }} role="group" aria-label="Engine and device">
              {data?.map(each => (
                <button
                  key={nameOf(each)}
                  type="button"
                  className="choice"
                  aria-pressed={each === shown}
                  onClick={() => change(setParam('of', `${each.engine} ${each.device}`))}
                >
                  {nameOf(each)} <small>{each.learnt ? 'learnt' : 'default'}</small>
                </button>
              ))}
            </div>
          </section>
          {shown && (
            <>
              <section aria-label={`How well ${nameOf(shown)} is known`}>
                <Sentence strengths={shown} />
                <button
                  type="button"
                  className="link"
                  disabled={shown.keywords < shown.needed}
                  onClick={() =>
                    act(async () => {
                      await call(learnStrengths, { siteId: site.id, marketId: shown.marketId })
                      return { say: `Learning what ranks on ${nameOf(shown)}` }
                    })
                  }
                >
                  {shown.learnt ? 'Learn again' : 'Learn now'}
                </button>
              </section>
              <ScaleSection />
              <div style={{ display: 'flex', gap: 48, flexWrap: 'wrap', alignItems: 'flex-start' }}>
                <Features strengths={shown} />
                {shown.siteEffects.sites > 0 && <SiteEffects strengths={shown} />}
                {shown.report && (
                  <section aria-labelledby="reliability-title">
                    <h2 id="reliability-title">Chances said and what happened</h2>
                    <ReliabilityChart bins={shown.report.reliability} />
                    <AsTable
                      of="Chances said and what happened"
                      head={['Said', 'happened', 'results']}
                      rows={() =>
                        shown.report!.reliability.map(bin => [
                          formatShare(bin.predicted),
                          formatShare(bin.happened),
                          formatWhole(bin.count),
                        ])
                      }
                    />
                    <p style={{ maxWidth: 300 }}>
                      Each result of {plural(shown.report.pages, 'page')}, by what was learnt from others, asked “first
                      page or not?”. The chances were off by <b>{formatShare(shown.report.calibrationError)}</b> on
                      average.
                    </p>
                    <p className="quiet" style={{ maxWidth: 300, fontSize: 12 }}>
                      These are pages that stand already. The chance of a new page is that of one that has stood some
                      two months; engines place it lower at first. Where a keyword names another site, its words count
                      for little.
                    </p>
                  </section>
                )}
              </div>
              <PredictionsSection engine={shown.engine} device={shown.device} />
            </>
          )}
        </div>
        <div className="foot">
          <span className="quiet">
            Learnt anew when 500 more keywords were weighed, or when you ask for it. Weighed keywords are then judged
            again.
          </span>
          <span className="foot-end">
            <JobLine />
          </span>
        </div>
      </div>
    </main>
  )
}

function Sentence({ strengths }: { strengths: Strengths }) {
  const { report, fittedAt, learnt, keywords, needed, sample, pages } = strengths
  if (report && learnt)
    return (
      <p>
        Learnt on {formatDay(fittedAt!)} from <b>{plural(report.pages, 'result page')}</b>. Of any two results it had
        not seen, it puts <b>{formatShare(report.pairAccuracy)}</b> in the engine’s order; the default weights{' '}
        {formatShare(report.defaultAccuracy)}, the site's level alone {formatShare(report.standingAccuracy)}. No rule is
        sure: engines move from day to day.
      </p>
    )
  return (
    <p>
      The documented default weights are in use.{' '}
      {keywords < needed
        ? `Learning takes ${formatWhole(needed)} keywords; this site has ${formatWhole(keywords)}. Gather more first.`
        : fittedAt
          ? `The last learning, on ${formatDay(fittedAt)}, had ${plural(pages, 'usable result page')}, which was too few or told nothing of links.`
          : `Learning begins by itself once 30 keywords are weighed. It fetches up to ${formatWhole(sample)} result pages 60 deep; how many is set in the server's configuration.`}
    </p>
  )
}

/** Sites whose results stand higher or lower than their features tell. */
function SiteEffects({ strengths: { siteEffects } }: { strengths: Strengths }) {
  return (
    <section aria-labelledby="site-effects-title" style={{ maxWidth: 300 }}>
      <h2 id="site-effects-title">What sites add</h2>
      <p style={{ marginTop: 0 }}>
        Some sites stand higher or lower than all of this tells, since they are more or less about the subject. Their
        results add this to strength; a site with few results keeps little of it. How a page stood at similar keywords
        counts as well: that is told among the figures of a result.
      </p>
      <table className="results">
        <tbody>
          {siteEffects.own !== null && (
            <tr className="own-result">
              <td>your site</td>
              <td className="n">{formatSigned(siteEffects.own)}</td>
            </tr>
          )}
          {[...siteEffects.highest, ...siteEffects.lowest.toReversed()].map(({ domain, adds }) => (
            <tr key={domain}>
              <td>{domain}</td>
              <td className="n">{formatSigned(adds)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet" style={{ fontSize: 12 }}>
        The highest and lowest of {plural(siteEffects.sites, 'site')}
        {siteEffects.own === null ? '; your own has no result among those learnt from' : ''}.
      </p>
    </section>
  )
}

function Features({ strengths }: { strengths: Strengths }) {
  const reachOf = (feature: string): number => {
    const { y } = strengths.curves[feature]!
    return y.at(-1)! - y[0]!
  }
  const features = Object.keys(strengths.curves).sort((a, b) => reachOf(b) - reachOf(a))
  const most = Math.max(...features.map(reachOf))
  return (
    <section aria-labelledby="features-title">
      <h2 id="features-title">What makes a result strong</h2>
      <table className="results" style={{ width: 560 }}>
        <thead>
          <tr>
            <th>Feature</th>
            <th style={{ width: 166 }} title="From its least to its most, all on one scale">
              least to most
            </th>
            <th
              className="n"
              style={{ width: 110 }}
              title="How much stronger the most of it makes a result than the least"
            >
              adds up to
            </th>
          </tr>
        </thead>
        <tbody>
          {features.map(feature => (
            <tr key={feature} style={{ height: 42 }}>
              <td title={featureNotes[feature]}>
                {featureNames[feature] ?? feature}
                <br />
                <small className="quiet">{featureNotes[feature]}</small>
              </td>
              <td>
                {strengths.curves[feature]!.x.length > 1 ? (
                  <StrengthCurve
                    name={featureNames[feature] ?? feature}
                    curve={strengths.curves[feature]!}
                    reach={most}
                  />
                ) : (
                  <span className="unknown">not known of any result</span>
                )}
              </td>
              <td className="n">{strengths.curves[feature]!.x.length > 1 ? formatOne(reachOf(feature)) : '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
