import type { Job, JobKind } from '@dew-trail/contract/jobs'
import type { MovedFigures } from '@dew-trail/contract/weigh'
import { useState } from 'react'
import { Link } from 'react-router'
import { formatShare, formatMoment, formatWhole } from '../ui/format.ts'
import { useJobs } from '../ui/JobLine.tsx'
import { useSite } from '../ui/site-context.ts'

const shownForDays = 7
const reasons: Partial<Record<JobKind, string>> = {
  learn: 'what makes a result strong was learnt from first pages',
  log: 'the query log now tells how often readers click',
  importLog: 'the query log now tells how often readers click',
}

/** Figures that moved enough to be seen, before and after, as written. */
export function movesOf({ before, after }: MovedFigures): Array<{ name: string; before: string; after: string }> {
  return (
    [
      ['median difficulty', 'difficulty', formatWhole],
      ['median chance of a first page', 'chance', formatShare],
      ['visits a month', 'visits', formatWhole],
    ] as const
  )
    .map(([name, key, format]) => {
      const text = (value: number | null): string => (value === null ? 'unknown' : format(value))
      return { name, before: text(before[key]), after: text(after[key]) }
    })
    .filter(each => each.before !== each.after)
}

/** The last job that moved the figures of all keywords of a market, with what it moved; until it is seen off, for a week. */
function lastMoved(jobs: readonly Job[], marketId: number, now: number): { job: Job; moved: MovedFigures } | null {
  for (const job of jobs) {
    const moved = job.result?.moved as MovedFigures | undefined
    if (!job.endedAt || !moved || moved.marketId !== marketId || !reasons[job.kind]) continue
    return now - Date.parse(job.endedAt) < shownForDays * 86_400_000 ? { job, moved } : null
  }
  return null
}

/** Says, above the keywords, that figures of all of them were worked out again: from what to what, and why. */
export function FiguresMoved() {
  const { site, market } = useSite()
  const { jobs } = useJobs()
  const key = `moved:${site.id}:${market.id}`
  const [seen, setSeen] = useState(() => Number(localStorage.getItem(key)))
  const last = lastMoved(jobs, market.id, Date.now())
  const moves = last ? movesOf(last.moved) : []
  if (!last || !moves.length || last.job.id <= seen) return null
  return (
    <p className="moved" role="status">
      <span>
        {`Figures of all keywords moved on ${formatMoment(last.job.endedAt!)}, as ${reasons[last.job.kind]!}: `}
        {moves.map(({ name, before, after }, i) => (
          <span key={name}>
            {i ? ', ' : ''}
            {name} {before} → <b>{after}</b>
          </span>
        ))}
        .
      </span>
      <Link className="link" to={`/${site.id}/weigh/strengths?market=${market.id}`}>
        What ranks here
      </Link>
      <button
        type="button"
        className="link"
        onClick={() => {
          localStorage.setItem(key, String(last.job.id))
          setSeen(last.job.id)
        }}
      >
        Understood
      </button>
    </p>
  )
}
