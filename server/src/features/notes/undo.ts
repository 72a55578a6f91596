import { AppError } from '@dew-trail/contract/errors'
import type { Note } from '@dew-trail/contract/notes'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { deleteNote, insertNote, updateNote } from '../../domain/notes/queries.ts'

const changedSince = (): AppError =>
  new AppError('conflict', 'The note was changed or removed since. Nothing was undone.')

export const undoAddNote: UndoWork = async (db, siteId, { noteId, version }: { noteId: number; version: number }) => {
  if (!(await deleteNote(db, siteId, noteId, version))) throw changedSince()
  return ['notes']
}
export const undoChangeNote: UndoWork = async (
  db,
  siteId,
  { noteId, ...before }: { noteId: number; version: number; day: string; text: string },
) => {
  if (!(await updateNote(db, siteId, { id: noteId, ...before }))) throw changedSince()
  return ['notes']
}
export const undoRemoveNote: UndoWork = async (db, siteId, note: Pick<Note, 'day' | 'text' | 'touches'>) => {
  await insertNote(db, siteId, note)
  return ['notes']
}
