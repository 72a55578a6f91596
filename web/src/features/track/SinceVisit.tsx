import { readChanges } from '@dew-trail/contract/track-changes'
import { reasonNames } from '@dew-trail/core/positions/reason-words'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatDay, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { Won } from './change-columns.tsx'
import { sinceVisit } from './since-visit.ts'

/** What moved since the user was here last, where that was on an earlier day; the way to what happened. */
export function SinceVisit({ lastDay }: { lastDay: string }) {
  const { site, market } = useSite()
  const [since] = useState(() => sinceVisit(site.id, market.id, lastDay))
  return since && <MovedSince since={since} />
}
function MovedSince({ since }: { since: string }) {
  const { site, market } = useSite()
  const { data } = useEndpoint(readChanges, { siteId: site.id, marketId: market.id, since })
  if (!data?.moved) return null
  const won = data.visits ? data.visits.now - data.visits.before : null
  const [reason] = data.reasons
  return (
    <p className="line-above" role="status">
      Since your last visit ({formatDay(since)}): <b>{plural(data.moved, 'keyword')}</b> moved beyond the usual
      {won !== null && (
        <>
          , <Won value={won} /> visits a month
        </>
      )}
      {reason && `; most of it by ${reasonNames[reason.kind]}`}.{' '}
      <Link className="link" to={`/${site.id}/track?market=${market.id}&see=changes&since=${since}`}>
        What happened
      </Link>
    </p>
  )
}
