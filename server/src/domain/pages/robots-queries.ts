import type { Db } from '../../platform/db/pool.ts'

export type RobotsRow = { origin: string; status: number | null; body: string; fetchedAt: Date }
export async function maybeRobots(db: Db, origin: string): Promise<RobotsRow | undefined> {
  const { rows } = await db.query<RobotsRow>(
    'select origin, status, body, fetched_at "fetchedAt" from host_robots where origin = $1',
    [origin],
  )
  return rows[0]
}
export async function upsertRobots(db: Db, row: RobotsRow): Promise<void> {
  await db.query(
    `insert into host_robots (origin, status, body, fetched_at) values ($1, $2, $3, $4) on conflict (origin)
      do update set status = excluded.status, body = excluded.body, fetched_at = excluded.fetched_at`,
    [row.origin, row.status, row.body, row.fetchedAt],
  )
}
