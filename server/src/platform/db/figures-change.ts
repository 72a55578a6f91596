import type { Db } from './pool.ts'

/** Notes that results or figures of a site change: in the transaction that changes them, or after it. */
export async function noteFiguresChange(db: Db, siteId: number): Promise<void> {
  await db.query('insert into figures_change (site_id) values ($1) on conflict do nothing', [siteId])
}
/** What differs whenever results or figures of a site have changed: a count of committed transactions, so that no order of commits is missed. */
export async function figuresVersion(db: Db, siteId: number): Promise<string> {
  const { rows } = await db.query<{ version: string }>(
    `select count(*) || ':' || coalesce(max(change::text::bigint), 0) version from figures_change where site_id = $1`,
    [siteId],
  )
  return rows[0]!.version
}
/** Drops all but the newest note of each site: a version that nobody holds any more is never given again. */
export async function pruneFiguresChanges(db: Db): Promise<void> {
  await db.query(
    `delete from figures_change c where change < (select max(n.change::text::bigint)::text::xid8 from figures_change n
       where n.site_id = c.site_id)`,
  )
}
