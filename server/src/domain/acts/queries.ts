import type { Db } from '../../platform/db/pool.ts'
import { whoAsks } from '../../platform/http/who.ts'
import { noteActivity } from '../people/activity.ts'

export type ActRow = { id: number; at: Date; kind: string; title: string; who: string; undoneAt: Date | null }
export type NewAct = { kind: string; title: string; data: object }

const columns = 'id, at, kind, title, who, undone_at "undoneAt"'
/** Acts of a site that are kept. */
const mostKept = 200

export async function insertAct(db: Db, siteId: number, { kind, title, data }: NewAct): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into act (site_id, kind, title, data, who) values ($1, $2, $3, $4, $5) returning id',
    [siteId, kind, title, data, whoAsks()?.name ?? 'the program'],
  )
  const { id } = rows[0]!
  await noteActivity(db, { kind: 'act', siteId, what: title })
  await db.query('delete from act where site_id = $1 and id <= $2', [siteId, id - mostKept])
  return id
}
/** The latest acts of a site, newest first. */
export async function manyActs(db: Db, siteId: number, most: number): Promise<ActRow[]> {
  const { rows } = await db.query<ActRow>(`select ${columns} from act where site_id = $1 order by id desc limit $2`, [
    siteId,
    most,
  ])
  return rows
}
/** An act with what its undo needs, held until the transaction ends. */
export async function maybeActToUndo(
  db: Db,
  siteId: number,
  actId: number,
): Promise<(ActRow & { data: unknown }) | undefined> {
  const { rows } = await db.query<ActRow & { data: unknown }>(
    `select ${columns}, data from act where site_id = $1 and id = $2 for update`,
    [siteId, actId],
  )
  return rows[0]
}
export async function markUndone(db: Db, siteId: number, actId: number): Promise<ActRow> {
  const { rows } = await db.query<ActRow>(
    `update act set undone_at = now() where site_id = $1 and id = $2 returning ${columns}`,
    [siteId, actId],
  )
  return rows[0]!
}
