import { AppError } from '@dew-trail/contract/errors'
import type { Job, JobKind, JobState } from '@dew-trail/contract/jobs'
import type { Db } from '../db/pool.ts'

export type JobRow = {
  id: number
  /** Null where it is of the whole installation. */
  siteId: number | null
  kind: JobKind
  title: string
  state: JobState
  wanted: 'run' | 'pause' | 'cancel'
  payload: Record<string, unknown>
  progress: Record<string, unknown>
  done: number
  total: number | null
  attempts: number
  /** Ends of its process, or of its movement, without getting further than `furthest`. */
  deaths: number
  furthest: number
  runningMs: number
  warnings: Record<string, number>
  result: Record<string, unknown> | null
  error: string | null
  createdAt: Date
  endedAt: Date | null
}
const columns = `id, site_id "siteId", kind, title, state, wanted, payload, progress, done, total, attempts, deaths, furthest, running_ms "runningMs", warnings, result, error, created_at "createdAt", ended_at "endedAt"`

/** Makes a job, or gives the open one of the same key: `isNew` tells which. */
export async function insertJob(
  db: Db,
  siteId: number | null,
  kind: JobKind,
  title: string,
  payload: object,
  key: string,
): Promise<{ row: JobRow; isNew: boolean }> {
  // The open one may end between the two statements; then the first finds room.
  for (;;) {
    const made = await db.query<JobRow>(
      `insert into job (site_id, kind, title, payload, key) values ($1, $2, $3, $4, $5)
       on conflict (coalesce(site_id, 0), kind, key) where ended_at is null do nothing returning ${columns}`,
      [siteId, kind, title, payload, key],
    )
    if (made.rows[0]) return { row: made.rows[0], isNew: true }
    const row = await maybeOpenJob(db, siteId, kind, key)
    if (row) return { row, isNew: false }
  }
}
export async function maybeOpenJob(
  db: Db,
  siteId: number | null,
  kind: JobKind,
  key: string,
): Promise<JobRow | undefined> {
  const { rows } = await db.query<JobRow>(
    `select ${columns} from job where site_id is not distinct from $1 and kind = $2 and key = $3 and ended_at is null`,
    [siteId, kind, key],
  )
  return rows[0]
}
export async function maybeJob(db: Db, id: number): Promise<JobRow | undefined> {
  const { rows } = await db.query<JobRow>(`select ${columns} from job where id = $1`, [id])
  return rows[0]
}
/** Open jobs of a site and of the installation, and the last twenty that ended. */
export async function manyJobs(db: Db, siteId: number): Promise<JobRow[]> {
  const { rows } = await db.query<JobRow>(
    `(select ${columns} from job where (site_id = $1 or site_id is null) and ended_at is null)
      union all (select ${columns} from job
      where (site_id = $1 or site_id is null) and ended_at is not null order by id desc limit 20) order by id desc`,
    [siteId],
  )
  return rows
}
const listed = 50
/** Work of a site and of the installation, newest first, and all kinds that there are of it. */
export async function manyWork(
  db: Db,
  siteId: number,
  {
    state,
    kind,
    wrong,
    before,
  }: { state?: string | undefined; kind?: JobKind | undefined; wrong?: 'yes' | undefined; before?: number | undefined },
): Promise<{ rows: JobRow[]; kinds: JobKind[] }> {
  const { rows } = await db.query<JobRow>(
    `select ${columns} from job where (site_id = $1 or site_id is null) and ($2::text is null or state = $2)
       and ($3::text is null or kind = $3) and ($4::text is null or error is not null or warnings <> '{}')
       and ($5::bigint is null or id < $5) order by id desc limit ${listed}`,
    [siteId, state ?? null, kind ?? null, wrong ?? null, before ?? null],
  )
  const { rows: kinds } = await db.query<{ kind: JobKind }>(
    'select distinct kind from job where site_id = $1 or site_id is null order by 1',
    [siteId],
  )
  return { rows, kinds: kinds.map(row => row.kind) }
}
export async function hasWaitingJob(db: Db, kind: JobKind): Promise<boolean> {
  return (await db.query(`select from job where kind = $1 and state = 'waiting' limit 1`, [kind])).rows.length > 0
}
export async function maybeRunningJobId(db: Db, kind: JobKind): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `select id from job where kind = $1 and state = 'running' order by id desc limit 1`,
    [kind],
  )
  return rows[0]?.id ?? null
}
export async function manyUnfinishedJobs(
  db: Db,
  states: readonly JobState[],
): Promise<Array<{ id: number; kind: JobKind }>> {
  const { rows } = await db.query<{ id: number; kind: JobKind }>(
    `select id, kind from job where state = any($1) order by id`,
    [states],
  )
  return rows
}
export async function markRunning(db: Db, id: number): Promise<void> {
  await db.query(`update job set state = 'running', attempts = attempts + 1, error = null where id = $1`, [id])
}
/** Notes that a run ended with its process, or stopped moving. Getting further than at the last such end begins the count anew. Gives the count. */
export async function markDeath(db: Db, id: number): Promise<number> {
  const { rows } = await db.query<{ deaths: number }>(
    `update job set deaths = case when done > furthest then 1
      else deaths + 1 end, furthest = greatest(furthest, done) where id = $1 returning deaths`,
    [id],
  )
  return rows[0]?.deaths ?? 0
}
/** Hands a job back that was stopped by what is no fault of its own; this run does not count. */
export async function markHandedBack(db: Db, id: number): Promise<JobRow | undefined> {
  const { rows } = await db.query<JobRow>(
    `update job set state = 'waiting', attempts = greatest(0, attempts - 1) where id = $1 and state = 'running'
      returning ${columns}`,
    [id],
  )
  return rows[0]
}
export async function saveProgress(
  db: Db,
  id: number,
  row: { done: number; total: number | null; progress: object; warnings: object; runningMs: number },
): Promise<JobRow> {
  const { rows } = await db.query<JobRow>(
    `update job set done = $2, total = $3, progress = $4, warnings = $5, running_ms = $6 where id = $1
      returning ${columns}`,
    [id, row.done, row.total, row.progress, row.warnings, row.runningMs],
  )
  return rows[0]!
}
export async function markState(
  db: Db,
  id: number,
  state: JobState,
  more: { error?: string | null; result?: object | null } = {},
): Promise<JobRow> {
  const ended = ['done', 'failed', 'cancelled'].includes(state)
  const { rows } = await db.query<JobRow>(
    `update job set state = $2, error = $3, result = coalesce($4, result), ended_at = case when $5 then now()
      else null end, wanted = case when $2 = 'waiting' then 'run' else wanted end where id = $1 returning ${columns}`,
    [id, state, more.error ?? null, more.result ?? null, ended],
  )
  return rows[0]!
}
/** Hands an ended or paused job out again. Refused while the same work is under way as another job. */
export async function markAgain(db: Db, id: number): Promise<JobRow> {
  try {
    return await markState(db, id, 'waiting')
  } catch (error) {
    if ((error as { code?: string }).code !== '23505') throw error
    throw new AppError('conflict', 'The same is under way already; this job is not begun again')
  }
}
export async function setWanted(db: Db, id: number, wanted: 'run' | 'pause' | 'cancel'): Promise<void> {
  await db.query(`update job set wanted = $2 where id = $1`, [id, wanted])
}
export async function resetAttempts(db: Db, id: number): Promise<void> {
  await db.query(`update job set attempts = 0, deaths = 0, furthest = -1, warnings = '{}' where id = $1`, [id])
}
/** A session-level lock of a job: whoever holds it runs it; it goes when the process dies. */
export async function tryJobLock(db: Db, id: number): Promise<boolean> {
  const { rows } = await db.query<{ locked: boolean }>('select pg_try_advisory_lock(72002, $1) locked', [id])
  return rows[0]!.locked
}
export async function freeJobLock(db: Db, id: number): Promise<void> {
  await db.query('select pg_advisory_unlock(72002, $1)', [id])
}

export function toJob(row: JobRow): Job {
  const left =
    row.state === 'running' && row.total !== null && row.done > 0 && row.done <= row.total
      ? Math.round(((row.runningMs / row.done) * (row.total - row.done)) / 1000)
      : null
  return {
    id: row.id,
    siteId: row.siteId,
    kind: row.kind,
    state: row.state,
    stopping: row.state === 'running' && row.wanted !== 'run',
    title: row.title,
    done: row.done,
    total: row.total,
    secondsLeft: left,
    error: row.error,
    result: row.result,
    warnings: Object.entries(row.warnings)
      .map(([what, times]) => ({ what, times }))
      .sort((a, b) => b.times - a.times),
    createdAt: row.createdAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
  }
}
