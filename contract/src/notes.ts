import { z } from 'zod'
import { acted } from './acts.ts'
import { day, id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

const noteText = text(500).min(1, 'Write what happened')
/** What a note is about, besides the site: some keywords, those with a label, a planned page, or a page by its address. */
export const touches = z.object({
  marketId: id.optional(),
  keywordId: id.optional(),
  keywordIds: z.array(id).min(1).max(1_000).optional(),
  listId: id.optional(),
  pageId: id.optional(),
  address: z.url().max(2_000).optional(),
})
export const note = z.object({
  id: z.number(),
  day: z.string(),
  text: z.string(),
  touches: z.object({
    marketId: z.number().optional(),
    keywordId: z.number().optional(),
    keywordIds: z.array(z.number()).optional(),
    listId: z.number().optional(),
    pageId: z.number().optional(),
    address: z.string().optional(),
  }),
  /** What it is about besides a market, by name; null where it is about the whole site, or that is gone. */
  about: z.string().nullable(),
  /** To be given back with a change: one of an older version is refused. */
  version: z.number(),
})
export type Note = z.infer<typeof note>

export const listNotes = endpoint({
  summary: 'Notes of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/notes',
  input: z.object({ siteId: id }),
  output: z.array(note),
  oldBy: ['notes'],
})
export const addNote = endpoint({
  summary: 'Add a note',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/notes',
  input: z.object({ siteId: id, day, text: noteText, ...touches.shape }),
  output: note.extend(acted.shape),
})
export const changeNote = endpoint({
  summary: 'Change a note',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/notes/:noteId',
  input: z.object({ siteId: id, noteId: id, day, text: noteText, version: z.int().min(1) }),
  output: note.extend(acted.shape),
})
export const removeNote = endpoint({
  summary: 'Remove a note',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/notes/:noteId',
  input: z.object({ siteId: id, noteId: id }),
  output: acted,
})
