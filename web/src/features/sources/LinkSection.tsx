import { useEndpoint } from '../../api/use-endpoint.ts'
import { loadFeeds, rankLinks, readLinkState, readStandings } from '@dew-trail/contract/links'
import { call } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatAge, formatDay, formatDoubt, formatOne, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { VettedSites } from './VettedSites.tsx'

const shown = 12

/** How much of the link graph is known, what it says of sites, and the work that makes it larger and newer. */
export function LinkSection() {
  const { site } = useSite()
  const act = useAct()
  const { data: state, error } = useEndpoint(readLinkState, { siteId: site.id })
  const { data: standings } = useEndpoint(readStandings, { siteId: site.id }, { enabled: Boolean(state?.snapshot) })
  const ranked = [...(standings ?? [])].sort((a, b) => b.standing - a.standing)
  const position = ranked.findIndex(each => each.domain === site.domain)
  const listed = ranked.map((each, i) => ({ ...each, position: i + 1 })).filter((_, i) => i < shown || i === position)
  const networks = new Map<number, { reasons: string[]; domains: string[] }>()
  for (const each of ranked)
    if (each.network !== null) {
      const network = networks.get(each.network) ?? { reasons: each.networkReasons ?? [], domains: [] }
      networks.set(each.network, { ...network, domains: [...network.domains, each.domain] })
    }
  return (
    <section aria-labelledby="links-title">
      <h2 id="links-title">Link graph</h2>
      {!state && <Waiting error={error} />}
      {state && (
        <p>
          <b>{formatWhole(state.links)}</b> links between <b>{formatWhole(state.pages)}</b> pages of{' '}
          <b>{formatWhole(state.sites)}</b> sites are known; <b>{formatWhole(state.fetched)}</b> of the pages were read
          by our crawler.{' '}
          {state.snapshot ? (
            <>
              Standing and trust were computed{' '}
              <span title={formatDay(state.snapshot.madeAt)}>{formatAge(state.snapshot.madeAt)}</span> in{' '}
              {formatOne(state.snapshot.seconds)} s; trust began with {plural(state.snapshot.vetted, 'vetted site')}.
            </>
          ) : (
            'Standing was not computed yet.'
          )}
        </p>
      )}
      <div style={{ display: 'flex', gap: 16 }}>
        <button
          type="button"
          className="link"
          onClick={() =>
            act(async () => {
              const { domains } = await call(loadFeeds, { siteId: site.id })
              return { say: `Loading links to ${plural(domains, 'site')}: your own and those on your result pages` }
            })
          }
        >
          Load links from the feeds
        </button>
        <button
          type="button"
          className="link"
          disabled={!state?.links}
          onClick={() =>
            act(async () => {
              await call(rankLinks, { siteId: site.id })
              return { say: 'Computing standing and trust' }
            })
          }
        >
          Compute standing now
        </button>
      </div>
      <VettedSites />
      {listed.length > 0 && (
        <table className="results" style={{ maxWidth: 760, marginTop: 8 }}>
          <caption className="hidden">Sites by standing</caption>
          <thead>
            <tr>
              <th className="n">#</th>
              <th>Site</th>
              <th className="n" title="0–100 on a log scale against a fixed reference, so that dates compare">
                standing
              </th>
              <th className="n" title="Rank that comes from vetted sites, on the same scale">
                trust
              </th>
              <th
                className="n"
                title="Share of its rank that does not come from vetted sites; below 0: more than usual does"
              >
                doubt
              </th>
              <th className="n">sites linking</th>
            </tr>
          </thead>
          <tbody>
            {listed.map(each => (
              <tr key={each.domain} className={each.domain === site.domain ? 'own-result' : ''}>
                <td className="n quiet">{each.position}</td>
                <td>{each.domain}</td>
                <td className="n">
                  <b>{Math.round(each.standing)}</b>
                </td>
                <td className="n">
                  {each.trust === null ? <span className="unknown">unknown</span> : Math.round(each.trust)}
                </td>
                <td className="n">
                  {each.doubt === null ? <span className="unknown">unknown</span> : formatDoubt(each.doubt)}
                </td>
                <td className="n">{formatWhole(each.linkingSites)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {[...networks].map(([number, { reasons, domains }]) => (
        <p key={number} className="sentence" style={{ marginTop: 10 }}>
          These sites look as if they were made to give links: {domains.sort().join(', ')}. {reasons.join('; ')}.
        </p>
      ))}
    </section>
  )
}
