import type { ScheduleWork } from '../../../domain/schedules/run-due.ts'
import { countOf } from '../../../domain/acts/do-act.ts'
import { needSite } from '../../../domain/sites/need-market.ts'
import { publicAddress } from '../../../platform/http/public-address.ts'
import { sendMail } from '../../../platform/outside/send-mail.ts'
import { manyUnmailed, maybeMailAddress, setMailed } from './queries.ts'

/** The kind under which alerts are mailed, and when: in the morning, after what is checked by night. */
export const mailKind = 'alertMail'
export const mailRhythm = { every: 'day', hour: 7 } as const
const mostNamed = 10

/** Mails what was not mailed yet as one mail; nothing where there is nothing. What cannot be sent is tried again the next morning. */
export const mailAlerts: ScheduleWork = async ({ pool, config }, { siteId }) => {
  const address = await maybeMailAddress(pool, siteId)
  const alerts = await manyUnmailed(pool, siteId)
  if (!address || !alerts.length) return
  const site = await needSite(pool, siteId)
  const nameOf = (marketId: number): string => {
    const market = site.markets.find(each => each.id === marketId)
    return market ? `${market.engine}, ${market.place}, ${market.device}` : ''
  }
  const parts = alerts.map(alert =>
    [
      `${alert.day}  ${alert.title} (${nameOf(alert.marketId)})`,
      ...(alert.body ? [`  ${alert.body}`] : []),
      ...alert.keywords.slice(0, mostNamed).map(({ phrase, words }) => `  ${phrase}: ${words}`),
      ...(alert.keywords.length > mostNamed ? [`  and ${alert.keywords.length - mostNamed} more`] : []),
      `  ${publicAddress(config, `/${siteId}/track?market=${alert.marketId}&see=alerts`)}`,
    ].join('\n'),
  )
  await sendMail(config, {
    to: address,
    subject: `${site.domain}: ${alerts.length === 1 ? alerts[0]!.title : countOf(alerts.length, 'alert')}`,
    text: `${parts.join('\n\n')}\n\nThe rules are set in Track, under Alerts.\n`,
  })
  await setMailed(
    pool,
    siteId,
    alerts.map(alert => alert.id),
  )
}
