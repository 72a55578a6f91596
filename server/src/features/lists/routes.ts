import { AppError } from '@dew-trail/contract/errors'
import { addList, changeList, listLists, removeList, renameList, valueLabel } from '@dew-trail/contract/lists'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { touchKeywords } from '../../domain/sites/queries.ts'
import { mount } from '../../platform/http/mount.ts'
import {
  deleteList,
  manyKeywordsOn,
  manyLists,
  oneList,
  oneListById,
  setOnList,
  updateListName,
  updateListWorth,
} from './queries.ts'

export function mountLists(app: Express, context: Context): void {
  mount(app, listLists, ({ siteId }) => manyLists(context.pool, siteId))
  mount(app, addList, async ({ siteId, kind, name }) => {
    const list = await oneList(context.pool, siteId, kind, name)
    context.events.publish(siteId, { type: 'lists' })
    return list
  })
  mount(app, renameList, ({ siteId, listId, name }) =>
    doAct(context, siteId, async db => {
      const { name: from } = await oneListById(db, siteId, listId)
      if (!(await updateListName(db, siteId, listId, name)))
        throw new AppError('conflict', `Another one is called "${name}" already. Nothing was changed.`)
      await touchKeywords(db, siteId, await manyKeywordsOn(db, siteId, listId))
      return {
        answer: {},
        act: { kind: 'renameList', title: `"${from}" is called "${name}"`, data: { listId, from, to: name } },
        changed: ['lists', 'keywords'],
      }
    }),
  )
  mount(app, valueLabel, ({ siteId, listId, visitWorth }) =>
    doAct(context, siteId, async db => {
      const { kind, name, visitWorth: from } = await oneListById(db, siteId, listId)
      if (kind !== 'label') throw new AppError('badInput', `"${name}" is a shortlist; a worth is said of a label`)
      await updateListWorth(db, siteId, listId, visitWorth)
      await touchKeywords(db, siteId, await manyKeywordsOn(db, siteId, listId))
      const title = `A visit by "${name}" is worth ${visitWorth ?? 'what any other is'}`
      return { answer: {}, act: { kind: 'valueLabel', title, data: { listId, from } }, changed: ['lists', 'keywords'] }
    }),
  )
  mount(app, removeList, ({ siteId, listId }) =>
    doAct(context, siteId, async db => {
      const { kind, name, visitWorth } = await oneListById(db, siteId, listId)
      const keywordIds = await manyKeywordsOn(db, siteId, listId)
      await deleteList(db, siteId, listId)
      await touchKeywords(db, siteId, keywordIds)
      return {
        answer: {},
        act: {
          kind: 'removeList',
          title: `"${name}" removed`,
          data: { id: listId, kind, name, visitWorth, keywordIds },
        },
        changed: ['lists', 'keywords'],
      }
    }),
  )
  mount(app, changeList, ({ siteId, listId, keywordIds, on }) =>
    doAct(context, siteId, async db => {
      const { name } = await oneListById(db, siteId, listId)
      const changed = await setOnList(db, siteId, listId, keywordIds, on)
      await touchKeywords(db, siteId, changed)
      const title = `${countOf(changed.length, 'keyword')} ${on ? 'put on' : 'taken off'} "${name}"`
      return {
        answer: { changed },
        act: changed.length ? { kind: 'changeList', title, data: { listId, keywordIds: changed, on } } : null,
        changed: ['lists', 'keywords'],
      }
    }),
  )
}
