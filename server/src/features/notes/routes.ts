import { AppError } from '@dew-trail/contract/errors'
import { addNote, changeNote, listNotes, removeNote } from '@dew-trail/contract/notes'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { doAct } from '../../domain/acts/do-act.ts'
import { mount } from '../../platform/http/mount.ts'
import { deleteNote, insertNote, manyNotes, oneNote, updateNote } from '../../domain/notes/queries.ts'

const mostOfText = 40
const short = (text: string): string => `"${text.length > mostOfText ? `${text.slice(0, mostOfText)}…` : text}"`

export function mountNotes(app: Express, context: Context): void {
  mount(app, listNotes, ({ siteId }) => manyNotes(context.pool, siteId))
  mount(app, addNote, ({ siteId, day, text, ...given }) =>
    doAct(context, siteId, async db => {
      const touches = Object.fromEntries(Object.entries(given).filter(([, id]) => id !== undefined))
      const note = await insertNote(db, siteId, { day, text, touches })
      const { id: noteId, version } = note
      return {
        answer: note,
        act: { kind: 'addNote', title: `Note ${short(text)} added`, data: { noteId, version } },
        changed: ['notes'],
      }
    }),
  )
  mount(app, changeNote, ({ siteId, noteId, ...change }) =>
    doAct(context, siteId, async db => {
      const before = await oneNote(db, siteId, noteId)
      const note = await updateNote(db, siteId, { id: noteId, ...change })
      if (!note)
        throw new AppError(
          'conflict',
          'Somebody changed this note meanwhile. Nothing was saved; look at it again first.',
        )
      const data = { noteId, version: note.version, day: before.day, text: before.text }
      return {
        answer: note,
        act: { kind: 'changeNote', title: `Note ${short(change.text)} changed`, data },
        changed: ['notes'],
      }
    }),
  )
  mount(app, removeNote, ({ siteId, noteId }) =>
    doAct(context, siteId, async db => {
      const { day, text, touches } = await oneNote(db, siteId, noteId)
      await deleteNote(db, siteId, noteId)
      return {
        answer: {},
        act: { kind: 'removeNote', title: `Note ${short(text)} removed`, data: { day, text, touches } },
        changed: ['notes'],
      }
    }),
  )
}
