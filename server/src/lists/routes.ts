import { AppError } from '@dew-trail/contract/errors'
import { addList, changeList, listLists, removeList, renameList } from '@dew-trail/contract/lists'
import type { Express } from 'express'
import type pg from 'pg'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { mount } from '../http/mount.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { deleteList, manyKeywordsOn, manyLists, oneList, setOnList, updateListName } from './queries.ts'

export function mountLists(app: Express, { pool, events }: Context): void {
  /** Changes lists and gives the rows of the keywords that `work` names new revisions. */
  const change = async (siteId: number, work: (db: pg.PoolClient) => Promise<number[]>): Promise<number[]> => {
    const changed = await inTransaction(pool, async db => {
      await lockSite(db, siteId)
      const ids = await work(db)
      await touchKeywords(db, siteId, ids)
      return ids
    })
    events.publish(siteId, { type: 'lists' })
    if (changed.length) events.publish(siteId, { type: 'keywords' })
    return changed
  }
  mount(app, listLists, ({ siteId }) => manyLists(pool, siteId))
  mount(app, addList, async ({ siteId, kind, name }) => {
    const list = await oneList(pool, siteId, kind, name)
    events.publish(siteId, { type: 'lists' })
    return list
  })
  mount(app, renameList, async ({ siteId, listId, name }) => {
    await change(siteId, async db => {
      if (!(await updateListName(db, siteId, listId, name)))
        throw new AppError('conflict', `Another one is called "${name}" already. Nothing was changed.`)
      return manyKeywordsOn(db, siteId, listId)
    })
    return {}
  })
  mount(app, removeList, async ({ siteId, listId }) => ({
    keywordIds: await change(siteId, async db => {
      const had = await manyKeywordsOn(db, siteId, listId)
      await deleteList(db, siteId, listId)
      return had
    }),
  }))
  mount(app, changeList, async ({ siteId, listId, keywordIds, on }) => ({
    changed: await change(siteId, db => setOnList(db, siteId, listId, keywordIds, on)),
  }))
}
