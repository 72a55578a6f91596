import { AppError } from '@dew-trail/contract/errors'
import { isTimeZone, nextRun } from '@dew-trail/core/days/next-run'
import type pg from 'pg'
import { inTransaction } from '../../platform/db/pool.ts'
import { manySchedules, setNextAt, updateTimeZone } from './queries.ts'

/** Sets the time zone of a site; its schedules keep their hours, which are of the new zone from now on. */
export async function setSiteTimeZone(
  pool: pg.Pool,
  siteId: number,
  timeZone: string,
  now = new Date(),
): Promise<void> {
  if (!isTimeZone(timeZone)) throw new AppError('badInput', `"${timeZone}" is no time zone that is known here`)
  await inTransaction(pool, async db => {
    await updateTimeZone(db, siteId, timeZone)
    for (const { id, rhythm } of await manySchedules(db, siteId, null))
      await setNextAt(db, siteId, id, nextRun(rhythm, timeZone, now))
  })
}
