import { loadFeeds } from '@dew-trail/contract/links'
import { readTarget } from '@dew-trail/core/rivals/target'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useLinks } from './use-links.ts'

/** Says why there is no link, and how links come. */
export function NoLinks({ target }: { target: string }) {
  const { site, market } = useSite()
  const { age, days, sources } = useLinks([target])
  const [, change] = useAddress()
  const domain = readTarget(target)?.domain ?? target
  if (age === 'lost')
    return (
      <>
        <h2>
          No link to {target} was lost within {days} days
        </h2>
        <p>A link is lost when our crawler, or a source, no longer finds it.</p>
      </>
    )
  if (sources.length)
    return (
      <>
        <h2>None of the chosen sources knows a link to {target}</h2>
        <button type="button" className="link" onClick={() => change(setParam('sources', null), true)}>
          Count links of all sources
        </button>
      </>
    )
  return (
    <>
      <h2>Our graph knows no link to {target}</h2>
      <p>
        That is not zero: links may not have been loaded yet, or no feed, no file and no crawl has met one. Link feeds
        tell who links to a site; a list of links, a web graph and the crawler bring more.
      </p>
      <p style={{ display: 'flex', gap: 18 }}>
        <ActButton
          onAct={async () => {
            await call(loadFeeds, { siteId: site.id, domains: [domain] })
            return { say: `Loading links to ${domain}; the foot shows how far it is` }
          }}
        >
          Load what the link feeds know of {domain}
        </ActButton>
        <Link className="link" to={`/${site.id}/sources?market=${market.id}`}>
          Sources
        </Link>
      </p>
    </>
  )
}
