import type { KeywordList, ListKind } from '@dew-trail/contract/lists'
import type { Db } from '../../platform/db/pool.ts'

const columns = `l.id, l.kind, l.name, l.visit_worth "visitWorth",
  (select count(*) from list_keyword k where k.site_id = l.site_id and k.list_id = l.id) keywords`

export async function manyLists(db: Db, siteId: number): Promise<KeywordList[]> {
  const { rows } = await db.query<KeywordList>(
    `select ${columns} from list l where l.site_id = $1 order by l.kind desc, lower(l.name), l.id`,
    [siteId],
  )
  return rows
}
/** The list of a kind and name, made when it is not there yet. */
export async function oneList(db: Db, siteId: number, kind: ListKind, name: string): Promise<KeywordList> {
  await db.query('insert into list (site_id, kind, name) values ($1, $2, $3) on conflict do nothing', [
    siteId,
    kind,
    name,
  ])
  const { rows } = await db.query<KeywordList>(
    `select ${columns} from list l where l.site_id = $1 and l.kind = $2 and l.name = $3`,
    [siteId, kind, name],
  )
  return rows[0]!
}
export async function maybeListById(db: Db, siteId: number, listId: number): Promise<KeywordList | undefined> {
  const { rows } = await db.query<KeywordList>(`select ${columns} from list l where l.site_id = $1 and l.id = $2`, [
    siteId,
    listId,
  ])
  return rows[0]
}
/** A list that is known to be there. */
export async function oneListById(db: Db, siteId: number, listId: number): Promise<KeywordList> {
  return (await maybeListById(db, siteId, listId))!
}
/** Makes a removed list again under the id it had, and gives that id; of one that somebody made meanwhile under the name, its id. */
export async function restoreList(
  db: Db,
  siteId: number,
  { id, kind, name, visitWorth = null }: Pick<KeywordList, 'id' | 'kind' | 'name'> & { visitWorth?: number | null },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into list (site_id, kind, name, visit_worth) values ($1, $2, $3, $4) on conflict do nothing returning id',
    [siteId, kind, name, visitWorth],
  )
  if (!rows[0]) return (await oneList(db, siteId, kind, name)).id
  await db.query('update list set id = $3 where site_id = $1 and id = $2', [siteId, rows[0].id, id])
  return id
}
/** False when another list of the kind has the name. */
export async function updateListName(db: Db, siteId: number, listId: number, name: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `update list l set name = $3 where site_id = $1 and id = $2
     and not exists (select from list o where o.site_id = $1 and o.kind = l.kind and o.name = $3 and o.id <> $2)`,
    [siteId, listId, name],
  )
  return rowCount === 1
}
export async function updateListWorth(db: Db, siteId: number, listId: number, worth: number | null): Promise<void> {
  await db.query('update list set visit_worth = $3 where site_id = $1 and id = $2', [siteId, listId, worth])
}
export async function manyKeywordsOn(db: Db, siteId: number, listId: number): Promise<number[]> {
  const { rows } = await db.query<{ keywordId: number }>(
    'select keyword_id "keywordId" from list_keyword where site_id = $1 and list_id = $2 order by 1',
    [siteId, listId],
  )
  return rows.map(row => row.keywordId)
}
export async function deleteList(db: Db, siteId: number, listId: number): Promise<void> {
  await db.query('delete from list where site_id = $1 and id = $2', [siteId, listId])
}
/** Ids of the keywords that truly changed. */
export async function setOnList(
  db: Db,
  siteId: number,
  listId: number,
  keywordIds: number[],
  on: boolean,
): Promise<number[]> {
  const { rows } = await db.query<{ keywordId: number }>(
    on
      ? `insert into list_keyword (site_id, keyword_id, list_id)
         select $1, id, $2 from keyword where site_id = $1 and id = any($3)
         on conflict do nothing returning keyword_id "keywordId"`
      : `delete from list_keyword where site_id = $1 and list_id = $2 and keyword_id = any($3)
         returning keyword_id "keywordId"`,
    [siteId, listId, keywordIds],
  )
  return rows.map(row => row.keywordId)
}
