import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { JobActions, useJobs } from '../../ui/JobLine.tsx'

/** The last pieces of work with how they ended and what went wrong on the way. */
export function WorkLog() {
  const { jobs, known, error } = useJobs()
  return (
    <section aria-labelledby="work-title">
      <h2 id="work-title">Work</h2>
      {!known && <Waiting error={error} />}
      {known && !jobs.length && <p className="quiet">Nothing was done in the background yet.</p>}
      {jobs.length > 0 && (
        <table className="results">
          <thead>
            <tr>
              <th style={{ width: '34%' }}>What</th>
              <th style={{ width: '14%' }}>Begun</th>
              <th style={{ width: '14%' }}>State</th>
              <th>What went wrong</th>
              <th>
                <span className="hidden">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {jobs.slice(0, 25).map(job => {
              const wrong = [
                ...(job.error ? [job.error] : []),
                ...job.warnings.map(({ what, times }) => (times > 1 ? `${what} (${formatWhole(times)} times)` : what)),
              ].join('; ')
              return (
                <tr key={job.id}>
                  <td title={job.title}>{job.title}</td>
                  <td className="quiet">{formatDay(job.createdAt)}</td>
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
            })}
          </tbody>
        </table>
      )}
    </section>
  )
}
