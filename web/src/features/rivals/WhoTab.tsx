import { judgeRival, listRivals, type RivalSite } from '@dew-trail/contract/rivals'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatShare, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { CompareBar } from './CompareBar.tsx'
import { coverageText } from './coverage-text.ts'
import { NoResults } from './ProfilesTab.tsx'
import { TargetChoice, useTarget } from '../../compared/TargetChoice.tsx'
import type { useCompared } from '../../compared/use-compared.ts'

const stateWords: Record<RivalSite['state'], string> = { proposed: '', accepted: 'rival', aside: 'set aside' }

/** The sites that stand beside a site most often, with the reason and the kind of site; of the own one each is accepted or set aside. */
export function WhoTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const target = useTarget(targets)
  const own = target === site.domain
  const { data, error, refetch } = useEndpoint(
    listRivals,
    { siteId: site.id, marketId: market.id, ...(own ? {} : { of: target }) },
    { keep: true },
  )
  const judge = async (domain: string, state: RivalSite['state'], say: string) => {
    const { actId } = await call(judgeRival, { siteId: site.id, domain, state })
    await refetch()
    return { say, actId }
  }
  const compared = targets.slice(1)
  return (
    <main className="screen whole">
      <ScreenTitle title="Rivals" />
      <div className="main">
        <CompareBar targets={targets} see="who" coverage={coverageText(data?.coverage)} setRivals={setRivals} />
        <div className="bar">
          <TargetChoice targets={targets} target={target} />
          {data && (
            <span className="quiet">
              Sites that stand within twenty for {plural(data.keywords, 'keyword')}{' '}
              {data.kept
                ? 'that you keep, those first that take most visits above you'
                : `for which ${own ? 'you stand' : `${target} stands`}, those first that share most visits with ${own ? 'you' : 'it'}`}
            </span>
          )}
        </div>
        {!data && <Waiting error={error} />}
        {data && !data.rivals.length && <NoResults />}
        {data && data.rivals.length > 0 && (
          <div style={{ overflow: 'auto', padding: '4px 16px 16px', minHeight: 0 }}>
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th>Site</th>
                  <th>Kind</th>
                  <th
                    className="n"
                    title="Visits of these keywords that it takes above, as a share of those that all results take"
                  >
                    takes above
                  </th>
                  <th
                    className="n"
                    title={`Visits that both get from the same keywords (of each the smaller), as a share of what ${own ? 'you get' : 'it gets'} from them all`}
                  >
                    shared
                  </th>
                  <th className="n">keywords</th>
                  <th className="n">above {own ? 'you' : 'it'}</th>
                  <th className="n">on first pages</th>
                  <th className="n">visits/mo</th>
                  <th className="n">standing</th>
                  <th>
                    <span className="hidden">What to do</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.rivals.map(rival => (
                  <tr key={rival.domain} style={rival.state === 'aside' ? { opacity: 0.75 } : {}}>
                    <td title={rival.reasons.join('\n')}>
                      <Link
                        className="link"
                        title={`Who links to ${rival.domain}`}
                        to={`/${site.id}/links?${new URLSearchParams({ market: String(market.id), with: rival.domain, see: 'sites', of: rival.domain })}`}
                      >
                        {rival.domain}
                      </Link>{' '}
                      {rival.state !== 'proposed' && <small className="quiet">{stateWords[rival.state]}</small>}
                    </td>
                    <td title={rival.reasons.slice(1).join('\n')}>
                      {rival.kind === 'unknown' ? <span className="unknown">unknown</span> : rival.kind}
                    </td>
                    <td className="n">{formatShare(rival.score)}</td>
                    <td className="n">{formatShare(rival.shared)}</td>
                    <td className="n">{formatWhole(rival.keywords)}</td>
                    <td className="n">{formatWhole(rival.above)}</td>
                    <td className="n">{formatWhole(rival.within10)}</td>
                    <td className="n">{formatWhole(rival.visits)}</td>
                    <td className="n">
                      {rival.standing === null ? <span className="unknown">unknown</span> : Math.round(rival.standing)}
                    </td>
                    <td style={{ whiteSpace: 'nowrap' }}>
                      <span style={{ display: 'inline-flex', gap: 14 }}>
                        {compared.includes(rival.domain) ? (
                          <span className="quiet" style={{ padding: '3px 0' }}>
                            compared
                          </span>
                        ) : (
                          <button
                            type="button"
                            className="link"
                            onClick={() => setRivals([...compared, rival.domain].slice(0, 9))}
                          >
                            Compare
                          </button>
                        )}
                        {own && rival.state !== 'accepted' && (
                          <ActButton
                            label={`Accept ${rival.domain}`}
                            onAct={() => judge(rival.domain, 'accepted', `${rival.domain} is a rival`)}
                          >
                            Accept
                          </ActButton>
                        )}
                        {own && rival.state !== 'aside' && (
                          <ActButton
                            label={`Set aside ${rival.domain}`}
                            onAct={() => judge(rival.domain, 'aside', `${rival.domain} is set aside`)}
                          >
                            Set aside
                          </ActButton>
                        )}
                        {own && rival.state !== 'proposed' && (
                          <ActButton
                            label={`Take back ${rival.domain}`}
                            onAct={() => judge(rival.domain, 'proposed', `${rival.domain} is only proposed again`)}
                          >
                            Take back
                          </ActButton>
                        )}
                      </span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        <div className="foot" style={{ marginTop: 'auto' }}>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
