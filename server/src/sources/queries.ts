import type { Db } from '../db/pool.ts'

export async function addSourceUse(
  db: Db,
  use: { source: string; requests: number; failures: number; limited: number; lastFailure: string | null },
): Promise<void> {
  await db.query(
    `insert into source_use (source, day, requests, failures, limited, last_failure) values ($1, current_date, $2, $3, $4, $5)
     on conflict (source, day) do update set requests = source_use.requests + excluded.requests, failures = source_use.failures + excluded.failures,
       limited = source_use.limited + excluded.limited, last_failure = coalesce(excluded.last_failure, source_use.last_failure)`,
    [use.source, use.requests, use.failures, use.limited, use.lastFailure],
  )
}
