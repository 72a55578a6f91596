import { listRankedKeywords } from '@dew-trail/contract/rivals'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const mostShown = 20

/** The keywords of one page, with the way to its whole list; `why`: what to do next about it. */
export function PageKeywords({ url, why }: { url: string; why: string | null }) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listRankedKeywords, {
    siteId: site.id,
    marketId: market.id,
    target: url,
    most: mostShown,
  })
  if (!data) return <Waiting error={error} />
  return (
    <div style={{ maxWidth: 760 }}>
      {why && <p className="sentence">{why}.</p>}
      <table className="results">
        <thead>
          <tr>
            <th>Keyword</th>
            <th className="n">position</th>
            <th className="n">searches</th>
            <th className="n">visits</th>
          </tr>
        </thead>
        <tbody>
          {data.rows.map(row => (
            <tr key={row.id}>
              <td title={row.phrase}>{row.phrase}</td>
              <td className="n">{row.now ?? <span className="quiet">left</span>}</td>
              <td className="n">
                {row.searches === null ? <span className="unknown">unknown</span> : formatWhole(row.searches)}
              </td>
              <td className="n">
                {row.visits === null ? <span className="unknown">unknown</span> : formatWhole(row.visits)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ display: 'flex', gap: 18, marginTop: 8 }}>
        <Link
          className="link"
          to={`/${site.id}/rivals?${new URLSearchParams({ market: String(market.id), see: 'keywords', of: url })}`}
        >
          {data.rows.length > mostShown ? `All ${formatWhole(data.rows.length)} keywords` : 'Its keywords as a table'}
        </Link>
        <a className="link" href={url} target="_blank" rel="noreferrer">
          Open the page
        </a>
      </div>
    </div>
  )
}
