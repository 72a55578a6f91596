import type { SavedView } from '@dew-trail/contract/views'
import type { Db } from '../../platform/db/pool.ts'

export async function manyViews(db: Db, sheet: string): Promise<SavedView[]> {
  return (
    await db.query<SavedView>('select id, sheet, name, state from saved_view where sheet = $1 order by lower(name)', [
      sheet,
    ])
  ).rows
}
export async function upsertView(db: Db, view: Omit<SavedView, 'id'>): Promise<SavedView> {
  return (
    await db.query<SavedView>(
      `insert into saved_view (sheet, name, state) values ($1, $2, $3) on conflict (sheet, name) do update
        set state = excluded.state returning id, sheet, name, state`,
      [view.sheet, view.name, view.state],
    )
  ).rows[0]!
}
export async function deleteView(db: Db, viewId: number): Promise<boolean> {
  return ((await db.query('delete from saved_view where id = $1', [viewId])).rowCount ?? 0) > 0
}
