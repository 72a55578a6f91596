import { endAccessKey, listAccessKeys, makeAccessKey } from '@dew-trail/contract/access-keys'
import { AppError } from '@dew-trail/contract/errors'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { insertAccessKey, manyAccessKeys, markKeyEnded, maybeAccessKey } from '../../domain/people/access-keys.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { hashToken, newToken } from '../../domain/people/tokens.ts'
import { mount } from '../../platform/http/mount.ts'
import { needRole, needWho } from '../../platform/http/who.ts'

/** Keys with which programs come in. */
export function mountAccessKeys(router: Router, context: Context): void {
  const { pool, events } = context
  mount(router, listAccessKeys, ({ siteId }) => manyAccessKeys(pool, siteId))
  mount(router, makeAccessKey, async ({ siteId, name, role, everySite }) => {
    if (everySite) needRole('administrator', siteId)
    // A beginning that a search for leaked secrets finds.
    const key = `dew_${newToken()}`
    const id = await insertAccessKey(pool, {
      inSite: everySite ? null : siteId,
      name,
      tokenHash: hashToken(key),
      hint: key.slice(-4),
      role,
      madeBy: needWho().name,
    })
    await noteActivity(pool, {
      kind: 'keys',
      siteId: everySite ? null : siteId,
      what: `Made the access key "${name}" for ${everySite ? 'every site' : 'the site'}, as ${role}`,
    })
    events.publish(null, { type: 'people' })
    return { id, key }
  })
  mount(router, endAccessKey, async ({ siteId, keyId }) => {
    const key = await maybeAccessKey(pool, siteId, keyId)
    if (!key) throw new AppError('notFound', `The site has no access key ${keyId}`)
    if (key.inSite === null) needRole('administrator', siteId)
    await markKeyEnded(pool, keyId)
    await noteActivity(pool, { kind: 'keys', siteId: key.inSite, what: `Ended the access key "${key.name}"` })
    events.publish(null, { type: 'people' })
    return {}
  })
}
