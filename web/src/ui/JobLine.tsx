import { useEndpoint } from '../api/use-endpoint.ts'
import { importErrorsPath } from '@dew-trail/contract/imports'
import { actOnJob, type Job, listJobs } from '@dew-trail/contract/jobs'
import { useState } from 'react'
import { call } from '../api/call.ts'
import { formatTimeLeft, formatWhole } from './format.ts'
import { useSite } from './site-context.ts'
import { useActing } from './use-act.ts'
import { Popover } from './floating-later.tsx'

/** Work of the site, newest first; none while it is not known. */
export function useJobs(): { jobs: Job[]; known: boolean; error: Error | null } {
  const { site } = useSite()
  const { data, error } = useEndpoint(listJobs, { siteId: site.id })
  return { jobs: data ?? [], known: data !== undefined, error }
}

const isImport = (job: Job): boolean => job.kind.startsWith('import')
const doneText = (job: Job): string =>
  isImport(job) && job.total
    ? `${Math.round((100 * job.done) / job.total)}%`
    : job.total === null
      ? formatWhole(job.done)
      : `${formatWhole(job.done)} of ${formatWhole(job.total)}`
const open = (job: Job): boolean => job.endedAt === null
const stateWords: Record<Job['state'], string> = {
  waiting: 'waiting',
  running: 'running',
  paused: 'paused',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
}

const stateOf = (job: Job): string => (job.stopping ? 'stopping' : stateWords[job.state])

/** Work in progress, at the end of the foot: count, share, time left, pause and cancel; a list of all when there is more. */
export function JobLine() {
  const { jobs } = useJobs()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const current = jobs.find(job => job.state === 'running') ?? jobs.find(open)
  const withWarnings = jobs.find(job => !open(job) && (job.state === 'failed' || job.warnings.length > 0))
  const shown = current ?? (withWarnings === jobs[0] ? withWarnings : undefined)
  const others = jobs.filter(open).length - (current ? 1 : 0)
  return (
    <>
      {shown && (
        <span style={{ display: 'inline-flex', alignItems: 'center', gap: 8, minWidth: 0 }} aria-live="polite">
          <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', maxWidth: 220 }} title={shown.title}>
            {shown.title}
          </span>
          {current ? (
            <>
              {current.total !== null && (
                <span
                  className="progress"
                  role="progressbar"
                  aria-label={current.title}
                  aria-valuenow={current.done}
                  aria-valuemax={current.total}
                >
                  <i style={{ width: `${(100 * current.done) / Math.max(1, current.total)}%` }} />
                </span>
              )}
              <span>
                <b>{doneText(current)}</b>
                {current.state !== 'running' || current.stopping
                  ? `, ${stateOf(current)}`
                  : current.secondsLeft
                    ? `, ${formatTimeLeft(current.secondsLeft)} left`
                    : ''}
              </span>
            </>
          ) : (
            <span className="fall">{shown.state === 'failed' ? 'failed' : 'done, with gaps'}</span>
          )}
          <JobActions job={shown} />
        </span>
      )}
      {jobs.length > 0 && (
        <button type="button" className="link" onClick={event => setAnchor(event.currentTarget)}>
          {others > 0 ? `Work, ${others} more` : 'Work'}
        </button>
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'right' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        slotProps={{ paper: { sx: { p: 4, width: 460, maxHeight: 420 } } }}
      >
        <h2 style={{ margin: '0 0 8px', fontSize: 14 }}>Work in the background</h2>
        {jobs.slice(0, 20).map(job => (
          <div key={job.id} style={{ padding: '6px 0', borderTop: '1px solid var(--mui-palette-dew-line)' }}>
            <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
              <span
                style={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
              >
                {job.title}
              </span>
              <span className="quiet">
                {doneText(job)}, {stateOf(job)}
              </span>
              <JobActions job={job} />
            </div>
            {job.error && <div className="fall">{job.error}</div>}
            {job.warnings.map(({ what, times }) => (
              <div key={what} className="fall">
                {what}
                {times > 1 ? ` (${formatWhole(times)} times)` : ''}
              </div>
            ))}
            {job.siteId !== null && typeof job.result?.wrong === 'number' && job.result.wrong > 0 && (
              <div>
                <a href={importErrorsPath(job.siteId, Number(job.result.importId))}>
                  {formatWhole(job.result.wrong)} lines not imported: list
                </a>
              </div>
            )}
          </div>
        ))}
      </Popover>
    </>
  )
}

/** What may be done with a piece of work now. */
export function JobActions({ job }: { job: Job }) {
  const { act, pending } = useActing()
  const button = (label: string, action: 'pause' | 'resume' | 'cancel' | 'retry') => (
    <button
      key={action}
      type="button"
      className="link"
      disabled={pending}
      onClick={() => void act(async () => void (await call(actOnJob, { jobId: job.id, action })))}
    >
      {label}
    </button>
  )
  if (job.stopping) return null
  if (job.state === 'running' || job.state === 'waiting')
    return (
      <>
        {isImport(job) ? null : button('Pause', 'pause')}
        {button('Cancel', 'cancel')}
      </>
    )
  if (job.state === 'paused')
    return (
      <>
        {button('Resume', 'resume')}
        {button('Cancel', 'cancel')}
      </>
    )
  if (job.state === 'failed' || job.state === 'cancelled' || (job.state === 'done' && job.warnings.length))
    return button('Try again', 'retry')
  return null
}
