import type { Rhythm } from '@dew-trail/core/days/next-run'
import type { Db } from '../../platform/db/pool.ts'

export type ScheduleRow = {
  siteId: number
  id: number
  kind: string
  subject: Record<string, number>
  rhythm: Rhythm
  timeZone: string
  nextAt: Date
  lastAt: Date | null
  wasLate: boolean
  lastError: string | null
}

const columns = `s.site_id "siteId", s.id, s.kind, s.subject, jsonb_strip_nulls(jsonb_build_object('every', s.every, 'hour', s.hour,
  'weekday', s.weekday, 'dayOfMonth', s.day_of_month)) rhythm, t.time_zone "timeZone", s.next_at "nextAt",
    s.last_at "lastAt",
  s.was_late "wasLate", s.last_error "lastError"`
const from = 'from schedule s join site t on t.id = s.site_id'

export async function manySchedules(db: Db, siteId: number, kind: string | null): Promise<ScheduleRow[]> {
  const { rows } = await db.query<ScheduleRow>(
    `select ${columns} ${from} where s.site_id = $1 and ($2::text is null or s.kind = $2) order by s.id`,
    [siteId, kind],
  )
  return rows
}
/** Schedules whose time has come, held until the transaction ends; those that another server holds are left to it. */
export async function manyDue(db: Db, now: Date): Promise<ScheduleRow[]> {
  const { rows } = await db.query<ScheduleRow>(
    `select ${columns} ${from} where s.next_at <= $1 and t.removed_at is null
      order by s.next_at, s.site_id, s.id for update of s skip locked`,
    [now],
  )
  return rows
}
export async function upsertSchedule(
  db: Db,
  siteId: number,
  kind: string,
  subject: Record<string, number>,
  rhythm: Rhythm,
  nextAt: Date,
): Promise<void> {
  await db.query(
    `insert into schedule (site_id, kind, subject, every, hour, weekday, day_of_month, next_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8)
     on conflict (site_id, kind, subject) do update set every = excluded.every, hour = excluded.hour,
       weekday = excluded.weekday, day_of_month = excluded.day_of_month, next_at = excluded.next_at`,
    [
      siteId,
      kind,
      subject,
      rhythm.every,
      rhythm.hour,
      rhythm.every === 'week' ? rhythm.weekday : null,
      rhythm.every === 'month' ? rhythm.dayOfMonth : null,
      nextAt,
    ],
  )
}
export async function deleteSchedule(
  db: Db,
  siteId: number,
  kind: string,
  subject: Record<string, number>,
): Promise<void> {
  await db.query('delete from schedule where site_id = $1 and kind = $2 and subject = $3', [siteId, kind, subject])
}
export async function setNextAt(db: Db, siteId: number, id: number, nextAt: Date): Promise<void> {
  await db.query('update schedule set next_at = $3 where site_id = $1 and id = $2', [siteId, id, nextAt])
}
export async function markRun(
  db: Db,
  { siteId, id }: ScheduleRow,
  run: { at: Date; late: boolean; error: string | null; nextAt: Date },
): Promise<void> {
  await db.query(
    `update schedule set last_at = $3, was_late = $4, last_error = $5, next_at = $6 where site_id = $1 and id = $2`,
    [siteId, id, run.at, run.late, run.error, run.nextAt],
  )
}
export async function oneTimeZone(db: Db, siteId: number): Promise<string> {
  const { rows } = await db.query<{ timeZone: string }>(
    `select time_zone "timeZone" from site
    where id = $1`,
    [siteId],
  )
  return rows[0]!.timeZone
}
export async function updateTimeZone(db: Db, siteId: number, timeZone: string): Promise<void> {
  await db.query('update site set time_zone = $2 where id = $1', [siteId, timeZone])
}
