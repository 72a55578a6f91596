import type { Feature } from '../../feature.ts'
import { mountNotes } from './routes.ts'
import { undoAddNote, undoChangeNote, undoRemoveNote } from './undo.ts'

export const notesFeature: Feature = {
  mount: mountNotes,
  undo: { addNote: undoAddNote, changeNote: undoChangeNote, removeNote: undoRemoveNote },
}
