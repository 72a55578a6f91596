import { useEndpoint } from '../api/use-endpoint.ts'
import { listSharedLinkers, type SharedLinker } from '@dew-trail/contract/link-profile'
import { formatDoubt, formatWhole, plural } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { download } from '../ui/download.ts'
import { exportTable } from '../rows/export-table.ts'

/** Sites that link to several of some results' sites: where the own site should be linked, too. */
export function SharedLinkers({
  results,
  name,
}: {
  results: ReadonlyArray<{ position: number; domain: string }>
  name: string
}) {
  const { site } = useSite()
  const domains = [...new Set(results.map(result => result.domain))].filter(domain => domain !== site.domain)
  const { data, error, isPending } = useEndpoint(
    listSharedLinkers,
    { siteId: site.id, domains },
    { enabled: domains.length > 1 },
  )
  if (domains.length < 2)
    return <p className="quiet">This page shows one other site only, so nobody can link to several.</p>
  if (error)
    return (
      <p role="alert" className="fall">
        {error.message}
      </p>
    )
  if (isPending) return <p className="quiet">Loading</p>
  const positionsOf = ({ to }: SharedLinker): string =>
    results
      .filter(result => to.includes(result.domain))
      .map(result => result.position)
      .join(', ')
  const save = async () => {
    const columns = ['site', 'links to places', 'hub', 'standing', 'doubt', 'links to you'].map(label => ({
      key: label,
      label,
    }))
    const rows = data.linkers.map(each => [
      each.domain,
      positionsOf(each),
      Math.round(each.hub),
      each.standing,
      each.doubt,
      each.linksToOwn ? 'yes' : 'no',
    ])
    download(await exportTable('csv', { title: 'Linkers', columns, rows }), `${site.domain}-${name}-linkers.csv`)
  }
  return (
    <section aria-label="Sites that link to several of these results">
      <p className="quiet" style={{ margin: '0 0 6px' }}>
        {data.count
          ? `${plural(data.count, 'site links', 'sites link')} to at least two of the ${formatWhole(domains.length)} sites on this page${data.linkers.length < data.count ? `; the ${formatWhole(data.linkers.length)} best hubs are listed` : ''}.`
          : 'Our graph knows no site that links to two of the sites on this page.'}
        {data.unknown.length > 0 && ` No links are known yet of ${data.unknown.join(', ')}: Sources loads them.`}{' '}
        {data.count > 0 && (
          <button type="button" className="link" onClick={() => void save()}>
            Save as CSV
          </button>
        )}
      </p>
      {data.count > 0 && (
        <table className="results">
          <thead>
            <tr>
              <th>Site</th>
              <th>Links to places</th>
              <th
                className="n"
                title="How good a hub the site is, of the best listed: a hub links to sites that many good hubs link to"
              >
                hub
              </th>
              <th className="n">standing</th>
              <th className="n" title="1 = none of its standing comes from vetted sites">
                doubt
              </th>
              <th className="n">links to you</th>
            </tr>
          </thead>
          <tbody>
            {data.linkers.map(each => (
              <tr key={each.domain}>
                <td style={{ width: '38%' }} title={each.domain}>
                  {each.domain}
                </td>
                <td style={{ width: '30%' }} title={each.to.join(', ')}>
                  {positionsOf(each)}
                </td>
                <td className="n">{formatWhole(each.hub)}</td>
                <td className="n">{each.standing === null ? <Unknown /> : formatWhole(each.standing)}</td>
                <td className="n">{each.doubt === null ? <Unknown /> : formatDoubt(each.doubt)}</td>
                <td className="n">{each.linksToOwn ? 'yes' : 'no'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

const Unknown = () => <span className="unknown">unknown</span>
