import { z } from 'zod'
import { acted } from './acts.ts'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'
import { secretLink } from './secret-links.ts'

const site = { siteId: id }
/** What can be told of. `least`: points of visibility lost in seven days; the others need no measure. */
export const alertKinds = ['visibility', 'leftFirstPage', 'swap', 'rivalPassed', 'shift', 'checkFailed'] as const
export type AlertKind = (typeof alertKinds)[number]
export const alertNames: Record<AlertKind, string> = {
  visibility: 'Visibility falls',
  leftFirstPage: 'A keyword leaves the first page',
  swap: 'Another own page is found',
  rivalPassed: 'A rival passes',
  shift: 'The engine shifts',
  checkFailed: 'A check fails',
}
/** Those that look at keywords, and can look at those with one label only. */
export const ofKeywords: readonly AlertKind[] = ['visibility', 'leftFirstPage', 'swap', 'rivalPassed']

const alert = z.object({
  id: z.number(),
  kind: z.enum(alertKinds),
  marketId: z.number(),
  day: z.string(),
  title: z.string(),
  body: z.string(),
  /** Those it is about, most searched first, at most fifty. */
  keywords: z.array(z.object({ keywordId: z.number(), phrase: z.string(), words: z.string() })),
  read: z.boolean(),
})
export type Alert = z.infer<typeof alert>
const rule = z.object({
  id: z.number(),
  kind: z.enum(alertKinds),
  least: z.number().nullable(),
  listId: z.number().nullable(),
  active: z.boolean(),
  version: z.number(),
})
export type AlertRule = z.infer<typeof rule>

/** The latest five hundred alerts of a site, newest first; `unread` of all. */
export const listAlerts = endpoint({
  summary: 'Alerts of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/alerts',
  input: z.object(site),
  output: z.object({ unread: z.number(), alerts: z.array(alert) }),
  oldBy: ['alerts'],
})
/** Marks alerts as read or unread; without ids all of the site. Gives how many are otherwise now. */
export const markAlerts = endpoint({
  summary: 'Mark alerts as read or unread',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/alerts/read',
  input: z.object({ ...site, alertIds: z.array(id).min(1).max(1_000).optional(), read: z.boolean() }),
  output: z.object({ changed: z.number() }),
})
/** Alert rules, the address they are mailed to, and the secret address of the feed. `mails`: whether a mail server is set. */
export const readAlertSettings = endpoint({
  summary: 'Rules of alerts, mail and feed',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/alert-settings',
  input: z.object(site),
  output: z.object({
    rules: z.array(rule),
    mails: z.boolean(),
    address: z.string().nullable(),
    /** Why the last mail could not be sent; null where it was, or none was due. */
    mailError: z.string().nullable(),
    feed: secretLink,
  }),
  oldBy: ['alerts', 'lists', 'schedules'],
})
export type AlertSettings = z.infer<(typeof readAlertSettings)['output']>

const least = z.number().min(0.1).max(100).nullable()
export const addAlertRule = endpoint({
  summary: 'Add a rule for alerts',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/alert-rules',
  input: z.object({
    ...site,
    kind: z.enum(alertKinds),
    least: least.default(null),
    listId: id.nullable().default(null),
  }),
  output: rule.extend(acted.shape),
})
export const changeAlertRule = endpoint({
  summary: 'Change a rule for alerts',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/alert-rules/:ruleId',
  input: z.object({
    ...site,
    ruleId: id,
    version: z.int().min(1),
    active: z.boolean().optional(),
    least: least.optional(),
    listId: id.nullable().optional(),
  }),
  output: rule.extend(acted.shape),
})
/** Removes a rule and the alerts it gave. */
export const removeAlertRule = endpoint({
  summary: 'Remove a rule for alerts and what it told',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/alert-rules/:ruleId',
  input: z.object({ ...site, ruleId: id }),
  output: acted,
})
/** Mails a day's alerts to an address each morning, or (null) no more. */
export const setAlertMail = endpoint({
  summary: 'Mail alerts each morning',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/alert-mail',
  input: z.object({ ...site, address: z.email('is not a mail address').max(254).nullable() }),
  output: z.object({}),
})
/** Makes a new secret address of the feed, which ends the one before; with `end` there is none any more. */
export const renewAlertFeed = endpoint({
  summary: 'Make, renew or end the secret address of the feed',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/alert-feed',
  input: z.object({ ...site, end: z.boolean().default(false) }),
  output: secretLink,
})
