import {
  addAlertRule,
  changeAlertRule,
  listAlerts,
  markAlerts,
  readAlertSettings,
  removeAlertRule,
  renewAlertFeed,
  setAlertMail,
} from '@dew-trail/contract/alerts'
import { undoAct } from '@dew-trail/contract/acts'
import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { listJobs } from '@dew-trail/contract/jobs'
import { addList, changeList } from '@dew-trail/contract/lists'
import type { Site } from '@dew-trail/contract/sites'
import { checkNow } from '@dew-trail/contract/track'
import { DomUtils, parseDocument } from 'htmlparser2'
import { SMTPServer } from 'smtp-server'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { runDue } from '../src/domain/schedules/run-due.ts'
import { scheduleWorks } from '../src/features.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let mails: string[]
let refuse = false
let smtp: SMTPServer
/** The last day of the stand-in, on which checks are of. */
let today: number
const day = (ago: number): string => new Date(today - ago * 86_400_000).toISOString().slice(0, 10)
const alerts = () => server.call(listAlerts, { siteId: site.id })
const settings = () => server.call(readAlertSettings, { siteId: site.id })

beforeAll(async () => {
  mails = []
  smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData(stream, _session, done) {
      let text = ''
      stream.on('data', part => (text += part))
      stream.on('end', () => {
        if (refuse) return done(new Error('Mailbox is full'))
        // Long lines are broken and what is not ASCII is written in figures (quoted-printable).
        mails.push(
          text
            .replace(/=\r?\n/g, '')
            .replace(/(=[0-9A-F]{2})+/g, each => decodeURIComponent(each.replaceAll('=', '%'))),
        )
        done()
      })
    },
  })
  await new Promise<void>(resolve => smtp.listen(0, '127.0.0.1', resolve))
  const { port } = smtp.server.address() as { port: number }
  server = await testServer({ SMTP_URL: `smtp://127.0.0.1:${port}`, MAIL_FROM: 'Trail <trail@kilnandtide.example>' })
  site = await demoSite(server)
  const health = (await (await fetch(`${inject('source')}/health`)).json()) as { today: string }
  today = Date.parse(health.today)
  const lines = ['date,keyword,rank,url']
  for (let ago = 12; ago >= 1; ago--) {
    for (let k = 0; k < 3; k++) lines.push(`${day(ago)},unheard of words ${k},${k + 2},https://kilnandtide.example/a`)
    lines.push(`${day(ago)},other unheard words,20,https://kilnandtide.example/${ago < 6 ? 'b' : 'a'}`)
  }
  const file = (await server.upload(site.id, 'positions', lines.join('\n'))) as Uploaded
  const marketId = site.markets[0]!.id
  const run = { siteId: site.id, importId: file.importId, marketId, mapping: file.suggested }
  await server.finish((await server.call(runImport, run)).jobId)
  for (const job of await server.call(listJobs, { siteId: site.id })) await server.finish(job.id)
})
afterAll(async () => {
  await server.close()
  await new Promise<void>(resolve => smtp.close(() => resolve()))
})

describe('alerts', () => {
  test('six rules come with a site; before a check nothing is told', async () => {
    expect((await settings()).rules.map(each => [each.kind, each.least, each.active])).toEqual([
      ['visibility', 3, true],
      ['leftFirstPage', null, true],
      ['swap', null, true],
      ['rivalPassed', null, true],
      ['shift', null, true],
      ['checkFailed', null, true],
    ])
    expect(await alerts()).toEqual({ unread: 0, alerts: [] })
  })
  test('a check tells of what left the first page, by name, and once', async () => {
    await server.finish((await server.call(checkNow, { siteId: site.id })).jobId)
    const { alerts: told, unread } = await alerts()
    const left = told.find(each => each.kind === 'leftFirstPage')!
    expect(left).toMatchObject({ title: '3 keywords left the first page', marketId: site.markets[0]!.id, read: false })
    expect(left.keywords.map(each => each.phrase).sort()).toEqual([0, 1, 2].map(k => `unheard of words ${k}`))
    expect(left.keywords.find(each => each.phrase.endsWith('1'))!.words).toBe('3 → not within 100')
    const swap = told.find(each => each.kind === 'swap')!
    expect(swap).toMatchObject({ day: day(5), title: '1 keyword found with another page of yours' })
    expect(swap.keywords).toMatchObject([{ phrase: 'other unheard words', words: '/a → /b' }])
    expect(unread).toBe(told.length)
    await server.finish((await server.call(checkNow, { siteId: site.id })).jobId)
    expect((await alerts()).alerts.map(each => each.id)).toEqual(told.map(each => each.id))
  })
  test('are marked as read and unread, one or all', async () => {
    const { alerts: told } = await alerts()
    const mark = (read: boolean, alertIds?: number[]) =>
      server.call(markAlerts, { siteId: site.id, read, ...(alertIds ? { alertIds } : {}) })
    expect(await mark(true, [told[0]!.id])).toEqual({ changed: 1 })
    expect(await mark(true, [told[0]!.id])).toEqual({ changed: 0 })
    expect((await alerts()).unread).toBe(told.length - 1)
    expect(await mark(true)).toEqual({ changed: told.length - 1 })
    expect(await mark(false)).toEqual({ changed: told.length })
  })
  test('a rule can be of one label, changed over the version seen, removed and undone', async () => {
    const { rows } = await server.rows(site.id, site.markets[0]!.id)
    const list = await server.call(addList, { siteId: site.id, kind: 'label', name: 'Core' })
    const one = rows.find(row => row.phrase === 'unheard of words 2')!
    await server.call(changeList, { siteId: site.id, listId: list.id, keywordIds: [one.id], on: true })
    const rule = await server.call(addAlertRule, { siteId: site.id, kind: 'leftFirstPage', listId: list.id })
    await server.context.pool.query(`delete from position_day where day >= '${day(0)}'`)
    await server.finish((await server.call(checkNow, { siteId: site.id })).jobId)
    expect((await alerts()).alerts.filter(each => each.title === '1 keyword left the first page')).toHaveLength(1)
    const change = { siteId: site.id, ruleId: rule.id, active: false }
    await server.call(changeAlertRule, { ...change, version: 1 })
    await expect(server.call(changeAlertRule, { ...change, version: 1 })).rejects.toThrow('Somebody changed')
    const { actId } = await server.call(removeAlertRule, { siteId: site.id, ruleId: rule.id })
    expect((await settings()).rules).toHaveLength(6)
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect((await settings()).rules.at(-1)).toMatchObject({ kind: 'leftFirstPage', listId: list.id, active: false })
  })
})

describe('mail', () => {
  const send = () =>
    server.context.pool
      .query("update schedule set next_at = now() - interval '1 minute' where kind = 'alertMail'")
      .then(() => runDue(server.context, scheduleWorks()))
  test('one a day to the address that was set, and nothing twice', async () => {
    await server.call(setAlertMail, { siteId: site.id, address: 'mara@kilnandtide.example' })
    await send()
    expect(mails).toHaveLength(1)
    expect(mails[0]).toContain('To: mara@kilnandtide.example')
    expect(mails[0]).toContain('3 keywords left the first page')
    expect(mails[0]).toContain('unheard of words 0: 2 → not within 100')
    await send()
    expect(mails).toHaveLength(1)
  })
  test('what the mail server refuses is told and tried again', async () => {
    await server.context.pool.query('update alert set mailed_at = null')
    refuse = true
    await send()
    expect((await settings()).mailError).toContain('Mailbox is full')
    refuse = false
    await send()
    expect((await settings()).mailError).toBeNull()
    expect(mails).toHaveLength(2)
  })
  test('an address that is none is refused; without one no more is mailed', async () => {
    await expect(server.call(setAlertMail, { siteId: site.id, address: 'mara' })).rejects.toThrow('mail address')
    await server.call(setAlertMail, { siteId: site.id, address: null })
    await server.context.pool.query('update alert set mailed_at = null')
    await send()
    expect(mails).toHaveLength(2)
  })
})

describe('the feed', () => {
  test('is Atom at a secret address, which ends when it is renewed', async () => {
    const { address } = await server.call(renewAlertFeed, { siteId: site.id })
    const { status, body, headers } = await server.raw(address!)
    expect(status).toBe(200)
    expect(headers.get('content-type')).toBe('application/atom+xml; charset=utf-8')
    const [feed] = DomUtils.getElementsByTagName('feed', parseDocument(body, { xmlMode: true }))
    expect(feed!.attribs.xmlns).toBe('http://www.w3.org/2005/Atom')
    const textsOf = (name: string, depth = true): string[] =>
      DomUtils.getElementsByTagName(name, feed!.children, depth).map(each => DomUtils.textContent(each))
    expect(textsOf('title', false)).toEqual(['Alerts of kilnandtide.example'])
    const { alerts: told } = await alerts()
    expect(textsOf('entry')).toHaveLength(told.length)
    expect(new Set(textsOf('id')).size).toBe(told.length + 1)
    for (const updated of textsOf('updated')) expect(Number.isNaN(Date.parse(updated))).toBe(false)
    const next = await server.call(renewAlertFeed, { siteId: site.id })
    expect((await server.raw(address!)).status).toBe(404)
    expect((await server.raw(next.address!)).status).toBe(200)
    expect(await server.call(renewAlertFeed, { siteId: site.id, end: true })).toMatchObject({ address: null })
    expect((await server.raw(next.address!)).status).toBe(404)
  })
})
