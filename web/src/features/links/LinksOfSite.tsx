import { listTargetLinks, type TargetLink } from '@dew-trail/contract/link-lists'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatShare, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAddress } from '../../ui/use-address.ts'
import { ageWords, useLinks } from './use-links.ts'

const mostShown = 5

/** The links of one site to the target, with the words around them. */
export function LinksOfSite({ domain, target }: { domain: string; target: string }) {
  const { site, market } = useSite()
  const [params] = useAddress()
  const { scope, age, days } = useLinks([target])
  const { data, error } = useEndpoint(listTargetLinks, { ...scope, target, from: domain, most: mostShown })
  if (!data) return <Waiting error={error} />
  const all = new URLSearchParams(params)
  all.set('market', String(market.id))
  all.set('see', 'links')
  all.set('from', domain)
  for (const name of ['where', 'sort', 'open']) all.delete(name)
  return (
    <div style={{ maxWidth: 980, display: 'grid', gap: 12 }}>
      {data.rows.map(row => (
        <LinkInWords key={row.id} row={row} />
      ))}
      {!data.rows.length && <p className="quiet">None of its links is {ageWords(age, days)}.</p>}
      <div style={{ display: 'flex', gap: 18 }}>
        <Link className="link" to={`/${site.id}/links?${all}`}>
          {data.total > 1 ? `All ${formatWhole(data.total)} links` : 'All about this link'}
        </Link>
      </div>
    </div>
  )
}

/** A link as it stands in its page: the words around it with the link marked, and what is known of its place. */
function LinkInWords({ row }: { row: TargetLink }) {
  const { around, anchor } = row
  const at = around && anchor ? around.indexOf(anchor) : -1
  const facts = [
    row.region,
    row.rel === 'follow' ? null : row.rel,
    row.linkedAround === null ? null : `${formatShare(row.linkedAround)} of the words around it are links`,
    row.pull === null ? null : `pull ${row.pull.toFixed(1)}`,
    row.linksOut === null ? null : plural(row.linksOut, 'link out', 'links out'),
    row.goneOn === null ? null : `gone since ${formatDay(row.goneOn)}`,
    row.verifiedOn === null ? 'not read by our crawler' : `read ${formatDay(row.verifiedOn)}`,
  ].filter(Boolean)
  return (
    <div>
      <p style={{ margin: 0 }}>
        {around === null ? (
          <b className="link-words">{anchor || 'a link without words'}</b>
        ) : at < 0 ? (
          <>
            … {around} … <b className="link-words">{anchor}</b>
          </>
        ) : (
          <>
            … {around.slice(0, at)}
            <b className="link-words">{anchor}</b>
            {around.slice(at + anchor.length)} …
          </>
        )}
      </p>
      <p className="quiet" style={{ margin: '2px 0 0' }}>
        <a href={row.source} target="_blank" rel="noreferrer" className="link" style={{ fontWeight: 400 }}>
          {row.title ?? row.source.replace(/^https?:\/\//, '')}
        </a>{' '}
        to {row.lands.replace(/^https?:\/\//, '')} · {facts.join(' · ')}
      </p>
    </div>
  )
}
