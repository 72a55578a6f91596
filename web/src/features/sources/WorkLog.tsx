import { type Job, jobKinds, jobStates, listWork } from '@dew-trail/contract/jobs'
import { useEffect, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatMoment, formatWhole } from '../../ui/format.ts'
import { JobActions } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { kindWords } from './kind-words.ts'

const step = 50

/** Work in the background, with how it ended and what went wrong on the way; by kind, state or warning, as far back as it is kept. */
export function WorkLog() {
  const { site } = useSite()
  const [params, change] = useAddress()
  const state = jobStates.find(each => each === params.get('work-state'))
  const kind = jobKinds.find(each => each === params.get('work-kind'))
  const wrong = params.get('work-wrong') === 'yes'
  const query = {
    siteId: site.id,
    ...(state ? { state } : {}),
    ...(kind ? { kind } : {}),
    ...(wrong ? { wrong: 'yes' as const } : {}),
  }
  const { data, error } = useEndpoint(listWork, query, { keep: true })
  const [older, setOlder] = useState<Job[]>([])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was read further back is of another question then.
  useEffect(() => setOlder([]), [state, kind, wrong, site.id])
  const jobs = data ? [...data.jobs, ...older.filter(each => !data.jobs.some(job => job.id === each.id))] : []
  const isAsked = state !== undefined || kind !== undefined || wrong
  const readOn = async () => {
    const more = await call(listWork, { ...query, before: jobs.at(-1)!.id })
    setOlder(before => [...before, ...more.jobs])
    if (!more.jobs.length) return { say: 'That is all that is kept' }
  }
  return (
    <section aria-labelledby="work-title">
      <h2 id="work-title">Work</h2>
      {!data && <Waiting error={error} />}
      {data && (data.jobs.length > 0 || isAsked) && (
        <div className="people-form">
          <select
            aria-label="Kind"
            value={kind ?? ''}
            onChange={event => change(setParam('work-kind', event.target.value || null))}
          >
            <option value="">every kind</option>
            {data.kinds.map(each => (
              <option key={each} value={each}>
                {kindWords[each]}
              </option>
            ))}
          </select>
          <select
            aria-label="State"
            value={state ?? ''}
            onChange={event => change(setParam('work-state', event.target.value || null))}
          >
            <option value="">in every state</option>
            {jobStates.map(each => (
              <option key={each} value={each}>
                {each}
              </option>
            ))}
          </select>
          <label style={{ paddingTop: 0 }}>
            <input
              type="checkbox"
              checked={wrong}
              onChange={event => change(setParam('work-wrong', event.target.checked ? 'yes' : null))}
            />{' '}
            only where something went wrong
          </label>
        </div>
      )}
      {data && !jobs.length && (
        <p className="quiet">{isAsked ? 'Nothing of this kind.' : 'Nothing was done in the background yet.'}</p>
      )}
      {jobs.length > 0 && (
        <table className="results">
          <thead>
            <tr>
              <th style={{ width: '32%' }}>What</th>
              <th style={{ width: '12%' }}>Begun</th>
              <th style={{ width: '12%' }}>Ended</th>
              <th style={{ width: '14%' }}>State</th>
              <th>What went wrong</th>
              <th>
                <span className="hidden">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {jobs.map(job => (
              <WorkLine key={job.id} job={job} />
            ))}
          </tbody>
        </table>
      )}
      {jobs.length >= step && <ActButton onAct={readOn}>Further back</ActButton>}
    </section>
  )
}

function WorkLine({ job }: { job: Job }) {
  const wrong = [
    ...(job.error ? [job.error] : []),
    ...job.warnings.map(({ what, times }) => (times > 1 ? `${what} (${formatWhole(times)} times)` : what)),
  ].join('; ')
  return (
    <tr>
      <td title={job.title}>{job.title}</td>
      <td className="quiet">{formatMoment(job.createdAt)}</td>
      <td className="quiet">{job.endedAt ? formatMoment(job.endedAt) : ''}</td>
      <td>
        {job.state}
        {job.total ? `, ${formatWhole(job.done)} of ${formatWhole(job.total)}` : ''}
      </td>
      <td className={wrong ? 'fall' : 'quiet'} title={wrong}>
        {wrong || 'nothing'}
      </td>
      <td className="n">
        <span style={{ display: 'inline-flex', gap: 10 }}>
          <JobActions job={job} />
        </span>
      </td>
    </tr>
  )
}
