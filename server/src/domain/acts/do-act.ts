import type { SiteChange } from '@dew-trail/contract/jobs'
import { AppError } from '@dew-trail/contract/errors'
import type pg from 'pg'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { lockSite } from '../sites/queries.ts'
import { noteActivity } from '../people/activity.ts'
import { type ActRow, insertAct, markUndone, maybeActToUndo, type NewAct } from './queries.ts'

/**
 * Takes back what an act of its kind changed, where nobody changed it since, and gives what of the site is otherwise now. Throws
 * "conflict" with a reason where it cannot. It runs in a transaction that holds the site's lock.
 */
export type UndoWork = (db: pg.PoolClient, siteId: number, data: never) => Promise<readonly SiteChange[]>

type Done<Answer> = {
  answer: Answer
  /** How it can be undone; null where nothing changed. */
  act: NewAct | null
  changed: readonly SiteChange[]
}

/** Changes a site's data in one transaction under its lock, notes the act for undo, and tells who looks at what changed. */
export async function doAct<Answer extends object>(
  { pool, events }: Pick<Context, 'pool' | 'events'>,
  siteId: number,
  work: (db: pg.PoolClient) => Promise<Done<Answer>>,
): Promise<Answer & { actId: number | null }> {
  const { answer, act, changed, actId } = await inTransaction(pool, async db => {
    await lockSite(db, siteId)
    const done = await work(db)
    return { ...done, actId: done.act ? await insertAct(db, siteId, done.act) : null }
  })
  tell(events, siteId, act ? [...changed, 'acts'] : changed)
  return { ...answer, actId }
}

/** Undoes an act. Throws "conflict" when that is done already, or cannot be done any more. */
export async function undo(
  { pool, events }: Pick<Context, 'pool' | 'events'>,
  works: Readonly<Record<string, UndoWork>>,
  siteId: number,
  actId: number,
): Promise<ActRow> {
  const { row, changed } = await inTransaction(pool, async db => {
    await lockSite(db, siteId)
    const act = await maybeActToUndo(db, siteId, actId)
    const work = act && works[act.kind]
    if (!act || !work) throw new AppError('notFound', 'This can no longer be undone')
    if (act.undoneAt) throw new AppError('conflict', 'This is undone already')
    const changed = await work(db, siteId, act.data as never)
    await noteActivity(db, { kind: 'act', siteId, what: `Undone: ${act.title}` })
    return { row: await markUndone(db, siteId, actId), changed }
  })
  tell(events, siteId, [...changed, 'acts'])
  return row
}

function tell(events: Context['events'], siteId: number, changed: readonly SiteChange[]): void {
  for (const type of new Set(changed)) events.publish(siteId, { type })
}

/** "1 keyword", "2,000 keywords". */
export const countOf = (count: number, noun: string): string =>
  `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`
