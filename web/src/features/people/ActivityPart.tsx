import { type Activity, activityKinds, listActivity, listAllActivity } from '@dew-trail/contract/people'
import { useEffect, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatTime } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useMe } from '../../ui/use-me.ts'

const kindNames: Record<Activity['kind'], string> = {
  signIn: 'Sign-ins',
  signInFailed: 'Failed sign-ins',
  signOut: 'Sign-outs',
  act: 'Changes',
  export: 'Exports',
  people: 'People',
  keys: 'Access keys',
  sources: 'Sources',
  keeping: 'Backups and keeping',
  site: 'The site',
}
const step = 100

/** What was done in the site, or in the whole installation, and by whom: the latest first. */
export default function ActivityPart() {
  const { site } = useSite()
  const me = useMe()
  const [params, change] = useAddress()
  const kind = activityKinds.find(each => each === params.get('kind'))
  const who = params.get('who') ?? undefined
  const isAll = params.get('where') === 'all' && me?.isAdministrator === true
  const query = { ...(kind ? { kind } : {}), ...(who ? { who } : {}) }
  const ofSite = useEndpoint(listActivity, { siteId: site.id, ...query }, { enabled: !isAll })
  const ofAll = useEndpoint(listAllActivity, query, { enabled: isAll })
  const { data, error } = isAll ? ofAll : ofSite
  const [older, setOlder] = useState<Activity[]>([])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was read further back is of another question then.
  useEffect(() => setOlder([]), [kind, who, isAll, site.id])
  if (!data) return <Waiting error={error} />
  const rows = [...data, ...older]
  const readOn = async () => {
    const input = { ...query, before: rows.at(-1)!.id }
    const more = isAll ? await call(listAllActivity, input) : await call(listActivity, { siteId: site.id, ...input })
    setOlder(before => [...before, ...more])
    if (!more.length) return { say: 'That is all' }
  }
  return (
    <section aria-labelledby="done-title">
      <h2 id="done-title">What was done</h2>
      <div className="people-form">
        <select
          aria-label="What"
          value={kind ?? ''}
          onChange={event => change(setParam('kind', event.target.value || null))}
        >
          <option value="">everything</option>
          {activityKinds.map(each => (
            <option key={each} value={each}>
              {kindNames[each]}
            </option>
          ))}
        </select>
        {me?.isAdministrator && (
          <select
            aria-label="Where"
            value={isAll ? 'all' : ''}
            onChange={event => change(setParam('where', event.target.value || null))}
          >
            <option value="">in {site.domain}</option>
            <option value="all">in the whole installation</option>
          </select>
        )}
        {who && (
          <button type="button" className="link" onClick={() => change(setParam('who', null))}>
            by {who} ×
          </button>
        )}
      </div>
      {rows.length === 0 ? (
        <p className="quiet">Nothing of this kind yet.</p>
      ) : (
        <table className="results whole-cells people-table">
          <thead>
            <tr>
              <th>When</th>
              <th>Who</th>
              <th>What</th>
              <th>From</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(each => (
              <tr key={each.id}>
                <td className="quiet">
                  {formatDay(each.at.slice(0, 10))}, {formatTime(each.at)}
                </td>
                <td>
                  <button
                    type="button"
                    className="link"
                    title={`Only what ${each.who} did`}
                    onClick={() => change(setParam('who', each.who))}
                  >
                    {each.who}
                  </button>
                </td>
                <td className={each.kind === 'signInFailed' ? 'fall' : ''}>{each.what}</td>
                <td className="quiet">{each.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length >= step && <ActButton onAct={readOn}>Further back</ActButton>}
    </section>
  )
}
