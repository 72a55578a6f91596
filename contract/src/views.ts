import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

/** A saved view: columns, conditions and order of a table, in the text forms of addresses. Usable in every site. */
export const viewState = z.object({
  where: z.array(z.string().max(500)).max(60),
  sort: z.string().max(200),
  columns: z.array(z.string().max(60)).max(80),
  folded: z.boolean().default(false),
})
export type ViewState = z.infer<typeof viewState>
export const savedView = z.object({ id: z.number(), sheet: z.string(), name: z.string(), state: viewState })
export type SavedView = z.infer<typeof savedView>

export const listViews = endpoint({
  summary: 'Saved views of a table',
  role: 'reader',
  errors: ['badInput'],
  method: 'GET',
  path: '/api/views',
  input: z.object({ sheet: z.string().max(40) }),
  output: z.array(savedView),
})
/** Saves a view; one of the same name for the same table is replaced. */
export const saveView = endpoint({
  summary: 'Save a view',
  role: 'editor',
  errors: ['badInput'],
  method: 'POST',
  path: '/api/views',
  input: z.object({
    sheet: z.string().min(1).max(40),
    name: z.string().trim().min(1, 'Give the view a name').max(80),
    state: viewState,
  }),
  output: savedView,
})
export const removeView = endpoint({
  summary: 'Remove a view',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/views/:viewId',
  input: z.object({ viewId: id }),
  output: z.object({ removed: z.boolean() }),
})
