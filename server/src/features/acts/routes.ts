import { type Act, listActs, undoAct } from '@dew-trail/contract/acts'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { undo, type UndoWork } from '../../domain/acts/do-act.ts'
import { type ActRow, manyActs } from '../../domain/acts/queries.ts'
import { mount } from '../../platform/http/mount.ts'

const mostListed = 50
const toAct = ({ id, at, title, who, undoneAt }: ActRow): Act => ({
  id,
  at: at.toISOString(),
  title,
  who,
  undoneAt: undoneAt?.toISOString() ?? null,
})

export function mountActs(app: Express, context: Context, works: Readonly<Record<string, UndoWork>>): void {
  mount(app, listActs, async ({ siteId }) => (await manyActs(context.pool, siteId, mostListed)).map(toAct))
  mount(app, undoAct, async ({ siteId, actId }) => toAct(await undo(context, works, siteId, actId)))
}
