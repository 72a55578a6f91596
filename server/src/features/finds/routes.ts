import { AppError } from '@dew-trail/contract/errors'
import {
  changeFindList,
  type FindKind,
  listFindLists,
  putOnFindList,
  readFinds,
  remarkFind,
  removeFindList,
  takeOffFindList,
} from '@dew-trail/contract/finds'
import { readTarget } from '@dew-trail/core/rivals/target'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { mount } from '../../platform/http/mount.ts'
import {
  deleteFindList,
  deleteFinds,
  insertFinds,
  manyFindLists,
  manyFindRows,
  manyFinds,
  maybeFindList,
  oneFindList,
  updateFindListName,
  updateRemark,
} from './queries.ts'

const nouns: Record<FindKind, string> = { sites: 'site', pages: 'page', links: 'link' }

export function mountFinds(app: Express, context: Context): void {
  const { pool } = context
  mount(app, listFindLists, ({ siteId }) => manyFindLists(pool, siteId))
  mount(app, readFinds, async ({ siteId, findListId }) =>
    manyFinds(pool, siteId, findListId, (await needSite(pool, siteId)).domain),
  )
  mount(app, putOnFindList, ({ siteId, kind, name, items }) => {
    const rows = items.map(item => tidyItem(kind, item))
    return doAct(context, siteId, async db => {
      const list = await oneFindList(db, siteId, kind, name)
      const itemIds = await insertFinds(db, siteId, list.id, rows)
      const title = `${countOf(itemIds.length, nouns[kind])} put on "${name}"`
      const data = { findListId: list.id, itemIds, made: list.made }
      return {
        answer: { findListId: list.id, added: itemIds.length },
        act: itemIds.length || list.made ? { kind: 'putOnFindList', title, data } : null,
        changed: ['finds'],
      }
    })
  })
  mount(app, changeFindList, ({ siteId, findListId, name }) =>
    doAct(context, siteId, async db => {
      const { name: from } = (await maybeFindList(db, siteId, findListId))!
      if (!(await updateFindListName(db, siteId, findListId, name)))
        throw new AppError('conflict', `Another one is called "${name}" already. Nothing was changed.`)
      return {
        answer: {},
        act: { kind: 'renameFindList', title: `"${from}" is called "${name}"`, data: { findListId, from, to: name } },
        changed: ['finds'],
      }
    }),
  )
  mount(app, removeFindList, ({ siteId, findListId }) =>
    doAct(context, siteId, async db => {
      const list = (await maybeFindList(db, siteId, findListId))!
      const rows = await manyFindRows(db, siteId, findListId)
      await deleteFindList(db, siteId, findListId)
      return {
        answer: {},
        act: { kind: 'removeFindList', title: `"${list.name}" removed`, data: { list, rows } },
        changed: ['finds'],
      }
    }),
  )
  mount(app, remarkFind, ({ siteId, findListId, itemId, remark }) =>
    doAct(context, siteId, async db => {
      const before = await updateRemark(db, siteId, findListId, itemId, remark)
      if (before === undefined) throw new AppError('notFound', 'This is no longer on the list. Nothing was changed.')
      return {
        answer: {},
        act: { kind: 'remarkFind', title: 'Remark changed', data: { findListId, itemId, before } },
        changed: ['finds'],
      }
    }),
  )
  mount(app, takeOffFindList, ({ siteId, findListId, itemIds }) =>
    doAct(context, siteId, async db => {
      const { name, kind } = (await maybeFindList(db, siteId, findListId))!
      const rows = await manyFindRows(db, siteId, findListId, itemIds)
      const removed = await deleteFinds(db, siteId, findListId, itemIds)
      const title = `${countOf(removed, nouns[kind])} taken off "${name}"`
      return {
        answer: { removed },
        act: removed ? { kind: 'takeOffFindList', title, data: { findListId, rows } } : null,
        changed: ['finds'],
      }
    }),
  )
}

/** A find as it is kept: a site by its domain, others by their addresses. Throws `badInput` for what is none, by name. */
export function tidyItem(
  kind: FindKind,
  { what, target }: { what: string; target: string | null },
): { what: string; target: string | null; domain: string } {
  const read = readTarget(what)
  if (!read) throw new AppError('badInput', `"${what}" is no ${nouns[kind]}. Nothing was put on the list.`)
  if (kind === 'sites') return { what: read.domain, target: null, domain: read.domain }
  if (kind === 'links' && (target === null || !readTarget(target)))
    throw new AppError(
      'badInput',
      `The link from "${what}" names no page that it leads to. Nothing was put on the list.`,
    )
  return { what, target: kind === 'links' ? target : null, domain: read.domain }
}
