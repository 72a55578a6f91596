import { loadFeeds } from '@dew-trail/contract/links'
import { readTarget } from '@dew-trail/core/rivals/target'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { useSite } from '../../ui/site-context.ts'
import { lostDays, useLinks } from './use-links.ts'

/** Says why there is no link, and how links come. */
export function NoLinks({ target }: { target: string }) {
  const { site, market } = useSite()
  const { age } = useLinks([target])
  const domain = readTarget(target)?.domain ?? target
  if (age === 'lost')
    return (
      <>
        <h2>
          No link to {target} was lost within {lostDays} days
        </h2>
        <p>A link is lost when our crawler, or a source, no longer finds it.</p>
      </>
    )
  return (
    <>
      <h2>Our graph knows no link to {target}</h2>
      <p>
        That is not zero: links may not have been loaded yet, or no feed, no file and no crawl has met one. Link feeds
        tell who links to a site; a list of links, a web graph and the crawler bring more.
      </p>
      <p style={{ display: 'flex', gap: 18, justifyContent: 'center' }}>
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
