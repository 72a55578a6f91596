import type { Activity } from '@dew-trail/contract/people'
import type { Db } from '../../platform/db/pool.ts'
import { whoAsks } from '../../platform/http/who.ts'

export type NewActivity = {
  kind: Activity['kind']
  what: string
  siteId?: number | null
  /** Who did it, where it is not who asks. */
  who?: { name: string; accountId: number | null; address: string }
}

/** Notes what was done, by whom. What nobody asked for (schedules, jobs) is the program's. */
export async function noteActivity(db: Db, { kind, what, siteId = null, who }: NewActivity): Promise<void> {
  const by = who ?? whoAsks()
  await db.query(
    'insert into activity (in_site, account_id, who, address, kind, what) values ($1, $2, $3, $4, $5, $6)',
    [siteId, by?.accountId ?? null, by?.name ?? 'the program', by?.address ?? '', kind, what.slice(0, 500)],
  )
}

export type ActivityQuery = {
  kind?: Activity['kind'] | undefined
  who?: string | undefined
  before?: number | undefined
}
const listed = 100
/** The latest activity, newest first: of a site, or of everything without one. */
export async function manyActivities(
  db: Db,
  siteId: number | null,
  { kind, who, before }: ActivityQuery,
): Promise<Activity[]> {
  const { rows } = await db.query<Omit<Activity, 'at'> & { at: Date }>(
    `select id, at, who, address, kind, what from activity where ($1::bigint is null or in_site = $1)
       and ($2::text is null or kind = $2) and ($3::text is null or who = $3) and ($4::bigint is null or id < $4)
     order by id desc limit ${listed}`,
    [siteId, kind ?? null, who ?? null, before ?? null],
  )
  return rows.map(row => ({ ...row, at: row.at.toISOString() }))
}
