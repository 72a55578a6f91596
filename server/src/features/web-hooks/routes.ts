import { AppError } from '@dew-trail/contract/errors'
import {
  addWebHook,
  changeWebHook,
  listWebHooks,
  removeWebHook,
  retryDelivery,
  testWebHook,
} from '@dew-trail/contract/web-hooks'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { newToken } from '../../domain/people/tokens.ts'
import { secretOf } from '../../domain/web-hooks/deliver.ts'
import {
  deleteHook,
  insertHook,
  manyDeliveries,
  manyHooks,
  markAgainDue,
  markTried,
  oneTest,
  updateHook,
} from '../../domain/web-hooks/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { mount } from '../../platform/http/mount.ts'

const deliveriesShown = 100
const mostHooks = 20

export function mountWebHooks(router: Router, context: Context): void {
  const { pool, events, secrets, hooks } = context
  const changed = (siteId: number) => events.publish(siteId, { type: 'webHooks' })
  const note = (siteId: number, what: string) => noteActivity(pool, { kind: 'keys', siteId, what })

  mount(router, listWebHooks, async ({ siteId }) => ({
    hooks: await manyHooks(pool, siteId),
    deliveries: await manyDeliveries(pool, siteId, deliveriesShown),
  }))
  mount(router, addWebHook, async ({ siteId, address, events: kinds }) => {
    if ((await manyHooks(pool, siteId)).length >= mostHooks)
      throw new AppError('conflict', `A site has at most ${mostHooks} web hooks`)
    const secret = newToken()
    const id = await inTransaction(pool, async db => {
      const hookId = await insertHook(db, siteId, address, kinds)
      await secrets.save(db, secretOf(siteId, hookId), secret)
      return hookId
    })
    await note(siteId, `Added the web hook ${address}`)
    changed(siteId)
    return { id, secret }
  })
  mount(router, changeWebHook, async ({ siteId, hookId, version, ...change }) => {
    const next = await updateHook(pool, siteId, hookId, version, change)
    if (next === undefined)
      throw new AppError('conflict', 'Somebody changed this web hook meanwhile. Look at it again; nothing was changed.')
    await note(
      siteId,
      change.active === undefined ? 'Changed a web hook' : `${change.active ? 'Took up' : 'Paused'} a web hook`,
    )
    changed(siteId)
    return { version: next }
  })
  mount(router, removeWebHook, async ({ siteId, hookId }) => {
    await deleteHook(pool, siteId, hookId)
    await secrets.save(pool, secretOf(siteId, hookId), null)
    await note(siteId, 'Removed a web hook')
    changed(siteId)
    return {}
  })
  mount(router, testWebHook, async ({ siteId, hookId }) => {
    const test = await oneTest(pool, siteId, hookId)
    const { status, what } = await hooks.send(pool, test)
    await markTried(pool, test, { state: what === null ? 'delivered' : 'failed', status, what, againInSeconds: null })
    changed(siteId)
    return { delivered: what === null, status, what }
  })
  mount(router, retryDelivery, async ({ siteId, hookId, deliveryId }) => {
    if (!(await markAgainDue(pool, siteId, hookId, deliveryId)))
      throw new AppError('notFound', 'There is no such delivery that failed')
    changed(siteId)
    return {}
  })
}
