import type { Find, FindKind, FindList } from '@dew-trail/contract/finds'
import type { Db } from '../../platform/db/pool.ts'

/** The program's own graph. */
const graphId = 1
const columns = `l.id, l.kind, l.name,
  (select count(*) from find_item i where i.site_id = l.site_id and i.list_id = l.id) items`

export async function manyFindLists(db: Db, siteId: number): Promise<FindList[]> {
  const { rows } = await db.query<FindList>(
    `select ${columns} from find_list l where l.site_id = $1 order by l.kind, lower(l.name), l.id`,
    [siteId],
  )
  return rows
}
export async function maybeFindList(db: Db, siteId: number, listId: number): Promise<FindList | undefined> {
  const { rows } = await db.query<FindList>(`select ${columns} from find_list l where l.site_id = $1 and l.id = $2`, [
    siteId,
    listId,
  ])
  return rows[0]
}
/** The list of a kind and name, made when it is not there yet; `made`: whether it was. */
export async function oneFindList(
  db: Db,
  siteId: number,
  kind: FindKind,
  name: string,
): Promise<{ id: number; made: boolean }> {
  const { rows: made } = await db.query<{ id: number }>(
    'insert into find_list (site_id, kind, name) values ($1, $2, $3) on conflict do nothing returning id',
    [siteId, kind, name],
  )
  if (made[0]) return { id: made[0].id, made: true }
  const { rows } = await db.query<{ id: number }>(
    'select id from find_list where site_id = $1 and kind = $2 and name = $3',
    [siteId, kind, name],
  )
  return { id: rows[0]!.id, made: false }
}
/** A removed list under the id it had. */
export async function restoreFindList(
  db: Db,
  siteId: number,
  { id, kind, name }: Pick<FindList, 'id' | 'kind' | 'name'>,
): Promise<number> {
  const list = await oneFindList(db, siteId, kind, name)
  if (!list.made) return list.id
  await db.query('update find_list set id = $3 where site_id = $1 and id = $2', [siteId, list.id, id])
  return id
}
/** False when another list of the kind has the name. */
export async function updateFindListName(db: Db, siteId: number, listId: number, name: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `update find_list l set name = $3 where site_id = $1 and id = $2
     and not exists (select from find_list o where o.site_id = $1 and o.kind = l.kind and o.name = $3 and o.id <> $2)`,
    [siteId, listId, name],
  )
  return rowCount === 1
}
export async function deleteFindList(db: Db, siteId: number, listId: number): Promise<void> {
  await db.query('delete from find_list where site_id = $1 and id = $2', [siteId, listId])
}

export type FindRow = { what: string; target: string | null; remark: string; addedOn: string }
export async function manyFindRows(
  db: Db,
  siteId: number,
  listId: number,
  itemIds: readonly number[] | null = null,
): Promise<FindRow[]> {
  const { rows } = await db.query<FindRow>(
    `select what, target, remark, added_on::text "addedOn" from find_item
     where site_id = $1 and list_id = $2 and ($3::bigint[] is null or id = any($3)) order by id`,
    [siteId, listId, itemIds],
  )
  return rows
}
/** Adds finds that are not on the list yet and gives their ids. */
export async function insertFinds(
  db: Db,
  siteId: number,
  listId: number,
  rows: ReadonlyArray<{ what: string; target: string | null; domain: string; remark?: string; addedOn?: string }>,
): Promise<number[]> {
  const { rows: added } = await db.query<{ id: number }>(
    `insert into find_item (site_id, list_id, what, target, domain, remark, added_on)
     select $1, $2, n.what, n.target, n.domain, coalesce(n.remark, ''), coalesce(n.added_on, current_date)
     from unnest($3::text[], $4::text[], $5::text[], $6::text[], $7::date[]) n (what, target, domain, remark, added_on)
     on conflict do nothing returning id`,
    [
      siteId,
      listId,
      rows.map(row => row.what),
      rows.map(row => row.target),
      rows.map(row => row.domain),
      rows.map(row => row.remark ?? null),
      rows.map(row => row.addedOn ?? null),
    ],
  )
  return added.map(row => row.id)
}
export async function deleteFinds(db: Db, siteId: number, listId: number, itemIds: readonly number[]): Promise<number> {
  const { rowCount } = await db.query('delete from find_item where site_id = $1 and list_id = $2 and id = any($3)', [
    siteId,
    listId,
    itemIds,
  ])
  return rowCount ?? 0
}
/** The remark before; undefined when there is no such find. */
export async function updateRemark(
  db: Db,
  siteId: number,
  listId: number,
  itemId: number,
  remark: string,
): Promise<string | undefined> {
  const { rows } = await db.query<{ remark: string }>(
    `with before as (select remark from find_item where site_id = $1 and list_id = $2 and id = $3)
     update find_item set remark = $4 from before
     where site_id = $1 and list_id = $2 and id = $3 returning before.remark`,
    [siteId, listId, itemId, remark],
  )
  return rows[0]?.remark
}
/** What a list holds, with what the graph knows of the sites. */
export async function manyFinds(db: Db, siteId: number, listId: number, ownDomain: string): Promise<Find[]> {
  const { rows } = await db.query<Find>(
    `select i.id, i.what, i.target, i.domain, i.remark, i.added_on::text "addedOn", t.standing,
       o.linking_sites::integer "linkingSites", exists (select from linking_site l
         join linked_site w on w.graph_id = $3 and w.id = l.target_site_id and w.domain = $4
         where l.graph_id = $3 and l.source_site_id = s.id and l.there > 0) "linksToOwn"
     from find_item i left join linked_site s on s.graph_id = $3 and s.domain = i.domain
     left join site_standing t on t.graph_id = $3 and t.site_id = s.id
       and t.snapshot_id = (select max(id) from graph_snapshot where graph_id = $3)
     left join link_total o on o.graph_id = $3 and o.target_site_id = s.id
     where i.site_id = $1 and i.list_id = $2 order by i.id`,
    [siteId, listId, graphId, ownDomain],
  )
  return rows
}
