import type { Shortlist } from '@dew-trail/contract/shortlists'
import type { Db } from '../db/pool.ts'

export async function manyShortlists(db: Db, siteId: number): Promise<Shortlist[]> {
  return (
    await db.query<Shortlist>(
      'select s.id, s.name, (select count(*) from shortlist_keyword k where k.site_id = s.site_id and k.shortlist_id = s.id) keywords from shortlist s where s.site_id = $1 order by lower(s.name)',
      [siteId],
    )
  ).rows
}
/** The shortlist of a name, made when it is not there yet. */
export async function oneShortlist(db: Db, siteId: number, name: string): Promise<Shortlist> {
  const { rows } = await db.query<Shortlist>(
    `insert into shortlist (site_id, name) values ($1, $2) on conflict (site_id, name) do update set name = excluded.name
     returning id, name, (select count(*) from shortlist_keyword k where k.site_id = shortlist.site_id and k.shortlist_id = shortlist.id) keywords`,
    [siteId, name],
  )
  return rows[0]!
}
/** Ids of the keywords that were on it, or undefined when there is no such list. */
export async function deleteShortlist(db: Db, siteId: number, shortlistId: number): Promise<number[] | undefined> {
  const { rows } = await db.query<{ keywordId: number }>(
    'select keyword_id "keywordId" from shortlist_keyword where site_id = $1 and shortlist_id = $2',
    [siteId, shortlistId],
  )
  const gone = await db.query('delete from shortlist where site_id = $1 and id = $2', [siteId, shortlistId])
  return gone.rowCount ? rows.map(row => row.keywordId) : undefined
}
/** Ids of the keywords that truly changed. Undefined when there is no such list. */
export async function setOnShortlist(
  db: Db,
  siteId: number,
  shortlistId: number,
  keywordIds: number[],
  on: boolean,
): Promise<number[] | undefined> {
  if (!(await db.query('select 1 from shortlist where site_id = $1 and id = $2', [siteId, shortlistId])).rowCount)
    return undefined
  const { rows } = await db.query<{ keywordId: number }>(
    on
      ? `insert into shortlist_keyword (site_id, keyword_id, shortlist_id) select $1, id, $2 from keyword where site_id = $1 and id = any($3) on conflict do nothing returning keyword_id "keywordId"`
      : 'delete from shortlist_keyword where site_id = $1 and shortlist_id = $2 and keyword_id = any($3) returning keyword_id "keywordId"',
    [siteId, shortlistId, keywordIds],
  )
  return rows.map(row => row.keywordId)
}
