import type { CheckRun, listCheckFailures } from '@dew-trail/contract/check-runs'
import { AppError } from '@dew-trail/contract/errors'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import type { Db } from '../../platform/db/pool.ts'

/** Runs are kept this long, as what they found is never older than this in any view. */
const keptDays = 400
const mostListed = 60
/** What failed is asked again by itself, this long after the last try, so many times, and within this long of its run. */
const [againAfterHours, mostTries, againWithinHours] = [2, 4, 20]

/** What is known of a check when it is made. */
export type RunOf = { marketId: number | null; scheduled: boolean; late: boolean }
export type Checked = { marketId: number; keywordId: number }
export type Failure = Checked & { what: string }

/** Begins the run of a job, or goes on with it, and gives its id. `requested`: keywords × markets. */
export async function beginRun(db: Db, siteId: number, jobId: number, of: RunOf, requested: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into check_run (site_id, job_id, market_id, scheduled, late, requested) values ($1, $2, $3, $4, $5, $6)
     on conflict (site_id, job_id) do update set requested = excluded.requested, ended_at = null returning id`,
    [siteId, jobId, of.marketId, of.scheduled, of.late, requested],
  )
  return rows[0]!.id
}

/** Notes what a run could not ask, or could not again. */
export async function noteFailures(db: Db, siteId: number, runId: number, failures: readonly Failure[]): Promise<void> {
  await db.query(
    `insert into check_failure (site_id, run_id, market_id, keyword_id, what)
     select $1, $2, u.* from unnest($3::bigint[], $4::bigint[], $5::text[]) u
     on conflict (site_id, run_id, market_id, keyword_id)
       do update set what = excluded.what, tries = check_failure.tries + 1, last_at = now()`,
    [
      siteId,
      runId,
      failures.map(each => each.marketId),
      failures.map(each => each.keywordId),
      failures.map(each => each.what),
    ],
  )
}

/** Notes that keywords were checked which the run had failed to before. */
export async function noteChecked(db: Db, siteId: number, runId: number, checked: readonly Checked[]): Promise<void> {
  await db.query(
    `update check_failure f set checked_at = now() from unnest($3::bigint[], $4::bigint[]) u (market_id, keyword_id)
     where f.site_id = $1 and f.run_id = $2 and f.market_id = u.market_id and f.keyword_id = u.keyword_id
       and f.checked_at is null`,
    [siteId, runId, checked.map(each => each.marketId), checked.map(each => each.keywordId)],
  )
}

/** Notes how much a run checked, and whether it is at its end. */
export async function noteRun(db: Db, siteId: number, runId: number, checked: number, ended: boolean): Promise<void> {
  await db.query(
    'update check_run set ended_at = case when $4 then now() end, checked = $3 where site_id = $1 and id = $2',
    [siteId, runId, checked, ended],
  )
}

/** The latest runs, newest first. */
export async function manyRuns(db: Db, siteId: number): Promise<CheckRun[]> {
  const { rows } = await db.query<CheckRun>(
    `select r.id, r.market_id "marketId", r.scheduled, r.late, r.began_at "beganAt", r.ended_at "endedAt", r.requested,
       r.checked + f.since checked, f.open failed, f.since "checkedLater"
     from check_run r cross join lateral (
       select count(*) filter (where checked_at is null)::integer open,
         count(checked_at)::integer since from check_failure where site_id = $1 and run_id = r.id) f
     where r.site_id = $1 order by r.id desc limit $2`,
    [siteId, mostListed],
  )
  return rows.map(row => ({
    ...row,
    beganAt: new Date(row.beganAt).toISOString(),
    endedAt: row.endedAt === null ? null : new Date(row.endedAt).toISOString(),
  }))
}

type Listed = z.output<(typeof listCheckFailures)['output']>
/** What a run could not ask, by keyword. */
export async function manyFailures(db: Db, siteId: number, runId: number): Promise<Listed> {
  const { rows } = await db.query<Listed[number]>(
    `select f.keyword_id "keywordId", k.phrase, f.market_id "marketId", f.what, f.tries, f.checked_at "checkedAt"
     from check_failure f join keyword k on k.site_id = $1 and k.id = f.keyword_id
     where f.site_id = $1 and f.run_id = $2 order by k.phrase, f.market_id limit 2000`,
    [siteId, runId],
  )
  return rows.map(row => ({ ...row, checkedAt: row.checkedAt === null ? null : new Date(row.checkedAt).toISOString() }))
}

/** What of a run was not checked yet. */
export async function manyOpen(db: Db, siteId: number, runId: number): Promise<Checked[]> {
  const { rows } = await db.query<Checked>(
    `select market_id "marketId", keyword_id "keywordId" from check_failure
     where site_id = $1 and run_id = $2 and checked_at is null`,
    [siteId, runId],
  )
  return rows
}

/** Makes a job that asks again for what a run could not; the same while it waits or runs. Throws `conflict` where nothing is left. */
export async function startAgain(context: Context, siteId: number, runId: number): Promise<{ jobId: number }> {
  const open = await manyOpen(context.pool, siteId, runId)
  if (!open.length) throw new AppError('conflict', 'Everything that this check asked for is checked by now')
  const title = `Asking again for ${open.length.toLocaleString('en')} of a check`
  const job = await context.jobs.add(siteId, 'check', title, { again: runId }, `again ${runId}`)
  return { jobId: job.id }
}

/** Asks again for what checks of today could not ask, some hours after the last try. Gives how many jobs it made. */
export async function askAgainForFailed(context: Context): Promise<number> {
  const { rows } = await context.pool.query<{ siteId: number; runId: number }>(
    `select f.site_id "siteId", f.run_id "runId" from check_failure f
     join check_run r on r.site_id = f.site_id and r.id = f.run_id and r.ended_at is not null
     join site s on s.id = f.site_id and s.removed_at is null
     where f.checked_at is null and r.began_at > now() - make_interval(hours => $1) and not exists (
       select from job j where j.site_id = f.site_id and j.kind = 'check'
         and j.state in ('waiting', 'running', 'paused'))
     group by 1, 2 having max(f.last_at) < now() - make_interval(hours => $2) and min(f.tries) < $3`,
    [againWithinHours, againAfterHours, mostTries],
  )
  for (const { siteId, runId } of rows) await startAgain(context, siteId, runId)
  return rows.length
}

export async function dropOldRuns({ pool }: Pick<Context, 'pool'>): Promise<void> {
  await pool.query('delete from check_run where began_at < now() - make_interval(days => $1)', [keptDays])
}
