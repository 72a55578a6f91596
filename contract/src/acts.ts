import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'

/** What a change answers with besides: the act by which it can be undone, null where nothing changed. */
export const acted = z.object({ actId: z.number().nullable() })

export const act = z.object({
  id: z.number(),
  at: z.string(),
  title: z.string(),
  /** Who did it. */
  who: z.string(),
  undoneAt: z.string().nullable(),
})
export type Act = z.infer<typeof act>

/** The last fifty acts of a site, newest first. */
export const listActs = endpoint({
  summary: 'The last fifty acts of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/acts',
  input: z.object({ siteId: id }),
  output: z.array(act),
  oldBy: ['acts'],
})
/** Takes back what an act changed and nobody changed since. Refused when it is undone already or cannot be undone any more. */
export const undoAct = endpoint({
  summary: 'Undo an act',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/acts/:actId/undo',
  input: z.object({ siteId: id, actId: id }),
  output: act,
})
