import { AppError } from '@dew-trail/contract/errors'
import { addNote, changeNote, listNotes, removeNote } from '@dew-trail/contract/notes'
import type { Express } from 'express'
import type { Context } from '../context.ts'
import { mount } from '../http/mount.ts'
import { deleteNote, insertNote, manyNotes, updateNote } from './queries.ts'

export function mountNotes(app: Express, { pool, events }: Context): void {
  const tell = (siteId: number): void => events.publish(siteId, { type: 'notes' })
  mount(app, listNotes, ({ siteId }) => manyNotes(pool, siteId))
  mount(app, addNote, async ({ siteId, day, text, ...given }) => {
    const touches = Object.fromEntries(Object.entries(given).filter(([, id]) => id !== undefined))
    const note = await insertNote(pool, siteId, { day, text, touches })
    tell(siteId)
    return note
  })
  mount(app, changeNote, async ({ siteId, noteId, ...change }) => {
    const note = await updateNote(pool, siteId, { id: noteId, ...change })
    if (!note)
      throw new AppError('conflict', 'Somebody changed this note meanwhile. Nothing was saved; look at it again first.')
    tell(siteId)
    return note
  })
  mount(app, removeNote, async ({ siteId, noteId }) => {
    await deleteNote(pool, siteId, noteId)
    tell(siteId)
    return {}
  })
}
