import type { Note } from '@dew-trail/contract/notes'
import type { Db } from '../../platform/db/pool.ts'

const columns = `id, day, text, touches, version, coalesce(
  (select k.phrase from keyword k where k.site_id = note.site_id and k.id = (note.touches->>'keywordId')::bigint),
  (select p.title from page_plan p where p.site_id = note.site_id and p.id = (note.touches->>'pageId')::bigint),
  (select l.name from list l where l.site_id = note.site_id and l.id = (note.touches->>'listId')::bigint),
  note.touches->>'address',
  jsonb_array_length(note.touches->'keywordIds') || ' keywords') about`

/** Notes of a site, the latest day first. */
export async function manyNotes(db: Db, siteId: number): Promise<Note[]> {
  return (await db.query<Note>(`select ${columns} from note where site_id = $1 order by day desc, id desc`, [siteId]))
    .rows
}
/** A note that is known to be there. */
export async function oneNote(db: Db, siteId: number, noteId: number): Promise<Note> {
  const { rows } = await db.query<Note>(`select ${columns} from note where site_id = $1 and id = $2`, [siteId, noteId])
  return rows[0]!
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
  { id, day, text, version }: Omit<Note, 'touches' | 'about'>,
): Promise<Note | undefined> {
  const { rows } = await db.query<Note>(
    `update note set day = $3, text = $4, version = version + 1
     where site_id = $1 and id = $2 and version = $5 returning ${columns}`,
    [siteId, id, day, text, version],
  )
  return rows[0]
}
/** False when there is none, or, where `version` is given, none of that version. */
export async function deleteNote(db: Db, siteId: number, noteId: number, version?: number): Promise<boolean> {
  const { rowCount } = await db.query(
    'delete from note where site_id = $1 and id = $2 and coalesce(version = $3, true)',
    [siteId, noteId, version ?? null],
  )
  return rowCount === 1
}
