import {
  addAlertRule,
  changeAlertRule,
  alertNames,
  listAlerts,
  markAlerts,
  readAlertSettings,
  removeAlertRule,
  renewAlertFeed,
  setAlertMail,
} from '@dew-trail/contract/alerts'
import { AppError } from '@dew-trail/contract/errors'
import { nextRun } from '@dew-trail/core/days/next-run'
import type { Router } from 'express'
import { z } from 'zod'
import type { Context } from '../../../context.ts'
import { doAct } from '../../../domain/acts/do-act.ts'
import { deleteSchedule, manySchedules, oneTimeZone, upsertSchedule } from '../../../domain/schedules/queries.ts'
import { endSecretLink, readSecretLink, renewSecretLink, whatIsShared } from '../../../domain/sites/secret-links.ts'
import { checkInput, mount } from '../../../platform/http/mount.ts'
import { canMail } from '../../../platform/outside/send-mail.ts'
import { alertFeed } from './alert-feed.ts'
import { mailKind, mailRhythm } from './mail-alerts.ts'
import {
  countUnread,
  deleteRule,
  insertRule,
  manyAlerts,
  manyRules,
  maybeMailAddress,
  maybeRule,
  setMailAddress,
  setRead,
  updateRule,
} from './queries.ts'

export function mountAlerts(router: Router, context: Context): void {
  const { pool, config, events } = context
  mount(router, listAlerts, async ({ siteId }) => ({
    unread: await countUnread(pool, siteId),
    alerts: (await manyAlerts(pool, siteId)).map(({ madeAt: _, ...alert }) => alert),
  }))
  mount(router, markAlerts, async ({ siteId, alertIds, read }) => {
    const changed = await setRead(pool, siteId, alertIds ?? null, read)
    if (changed) events.publish(siteId, { type: 'alerts' })
    return { changed }
  })
  mount(router, readAlertSettings, async ({ siteId }) => ({
    rules: await manyRules(pool, siteId),
    mails: canMail(config),
    address: await maybeMailAddress(pool, siteId),
    mailError: (await manySchedules(pool, siteId, mailKind))[0]?.lastError ?? null,
    feed: await readSecretLink(pool, { siteId, kind: 'alerts' }),
  }))
  mount(router, addAlertRule, ({ siteId, ...rule }) =>
    doAct(context, siteId, async db => {
      const made = await insertRule(db, siteId, rule)
      const title = `Alert "${alertNames[made.kind]}" added`
      return { answer: made, act: { kind: 'addAlertRule', title, data: { ruleId: made.id } }, changed: ['alerts'] }
    }),
  )
  mount(router, changeAlertRule, ({ siteId, ruleId, version, ...change }) =>
    doAct(context, siteId, async db => {
      const before = await maybeRule(db, siteId, ruleId)
      if (!before) throw new AppError('notFound', `The site has no rule ${ruleId}`)
      const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined))
      const rule = await updateRule(db, siteId, { ...before, ...given, version })
      if (!rule)
        throw new AppError(
          'conflict',
          'Somebody changed this rule meanwhile. Nothing was saved; look at it again first.',
        )
      const data = { ...before, version: rule.version }
      const title = `Alert "${alertNames[rule.kind]}" changed`
      return { answer: rule, act: { kind: 'changeAlertRule', title, data }, changed: ['alerts'] }
    }),
  )
  mount(router, removeAlertRule, ({ siteId, ruleId }) =>
    doAct(context, siteId, async db => {
      const rule = await maybeRule(db, siteId, ruleId)
      if (!rule) return { answer: {}, act: null, changed: [] }
      await deleteRule(db, siteId, ruleId)
      const title = `Alert "${alertNames[rule.kind]}" removed`
      return { answer: {}, act: { kind: 'removeAlertRule', title, data: rule }, changed: ['alerts'] }
    }),
  )
  mount(router, setAlertMail, async ({ siteId, address }) => {
    if (address !== null && !canMail(config))
      throw new AppError('badInput', 'No mail server is set. Set SMTP_URL first (docs/configuration.md).')
    await setMailAddress(pool, siteId, address)
    if (address === null) await deleteSchedule(pool, siteId, mailKind, {})
    else {
      const nextAt = nextRun(mailRhythm, await oneTimeZone(pool, siteId), new Date())
      await upsertSchedule(pool, siteId, mailKind, {}, mailRhythm, nextAt)
    }
    events.publish(siteId, { type: 'alerts' })
    return {}
  })
  mount(router, renewAlertFeed, async ({ siteId, end }) => {
    const link = await (end ? endSecretLink : renewSecretLink)(pool, { siteId, kind: 'alerts' })
    events.publish(siteId, { type: 'alerts' })
    return link
  })
  // Feed readers come by this address, without signing in.
  router.get('/alerts/:token.atom', async (request, response) => {
    const { token } = checkInput(z.object({ token: z.string().max(100) }), request.params)
    const { siteId } = await whatIsShared(pool, 'alerts', token)
    response.setHeader('cache-control', 'no-store')
    response.type('application/atom+xml; charset=utf-8').send(await alertFeed(pool, config, siteId, request.path))
  })
}
