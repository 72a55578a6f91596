import type { Note } from '@dew-trail/contract/notes'
import type { Db } from '../db/pool.ts'

const columns = 'id, day, text, touches, version'

/** Notes of a site, the latest day first. */
export async function manyNotes(db: Db, siteId: number): Promise<Note[]> {
  return (await db.query<Note>(`select ${columns} from note where site_id = $1 order by day desc, id desc`, [siteId]))
    .rows
}
export async function insertNote(
  db: Db,
  siteId: number,
  { day, text, touches }: Pick<Note, 'day' | 'text' | 'touches'>,
): Promise<Note> {
  const { rows } = await db.query<Note>(
    `insert into note (site_id, day, text, touches) values ($1, $2, $3, $4) returning ${columns}`,
    [siteId, day, text, touches],
  )
  return rows[0]!
}
/** The changed note; undefined when there is none of that version. */
export async function updateNote(
  db: Db,
  siteId: number,
  { id, day, text, version }: Omit<Note, 'touches'>,
): Promise<Note | undefined> {
  const { rows } = await db.query<Note>(
    `update note set day = $3, text = $4, version = version + 1
     where site_id = $1 and id = $2 and version = $5 returning ${columns}`,
    [siteId, id, day, text, version],
  )
  return rows[0]
}
export async function deleteNote(db: Db, siteId: number, noteId: number): Promise<void> {
  await db.query('delete from note where site_id = $1 and id = $2', [siteId, noteId])
}
