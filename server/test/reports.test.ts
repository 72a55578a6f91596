import { undoAct } from '@dew-trail/contract/acts'
import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { listJobs } from '@dew-trail/contract/jobs'
import { addNote } from '@dew-trail/contract/notes'
import {
  changeReport,
  createReport,
  issueReport,
  listIssues,
  listReports,
  type Report,
  removeIssue,
  removeReport,
  renewReportLink,
  reportPath,
  setReportLogo,
} from '@dew-trail/contract/reports'
import type { Site } from '@dew-trail/contract/sites'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import readXlsxFile from 'read-excel-file/node'
import { SMTPServer } from 'smtp-server'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { runDue } from '../src/domain/schedules/run-due.ts'
import { scheduleWorks } from '../src/features.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let smtp: SMTPServer
const mails: string[] = []
const day = (ago: number): string => new Date(Date.UTC(2026, 5, 30) - ago * 86_400_000).toISOString().slice(0, 10)
beforeAll(async () => {
  smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onRcptTo({ address }, _session, done) {
      done(address.startsWith('gone') ? new Error('Nobody here by that name') : undefined)
    },
    onData(stream, _session, done) {
      let text = ''
      stream.on('data', part => (text += part))
      stream.on('end', () => {
        mails.push(text)
        done()
      })
    },
  })
  await new Promise<void>(resolve => smtp.listen(0, '127.0.0.1', resolve))
  const { port } = smtp.server.address() as { port: number }
  server = await testServer({ SMTP_URL: `smtp://127.0.0.1:${port}` })
  site = await demoSite(server)
  const lines = ['date,keyword,rank,url']
  for (let ago = 60; ago >= 0; ago--)
    for (let k = 0; k < 60; k++)
      lines.push(`${day(ago)},clay word ${k},${4 + k - (k < 10 && ago < 14 ? 3 : 0)},https://kilnandtide.example/${k}`)
  const file = (await server.upload(site.id, 'positions', lines.join('\n'))) as Uploaded
  const marketId = site.markets[0]!.id
  const run = { siteId: site.id, importId: file.importId, marketId, mapping: file.suggested }
  await server.finish((await server.call(runImport, run)).jobId)
  for (const job of await server.call(listJobs, { siteId: site.id })) await server.finish(job.id)
  await server.call(addNote, { siteId: site.id, day: day(20), text: 'Shop window redone' })
})
afterAll(async () => {
  await server.close()
  await new Promise<void>(resolve => smtp.close(() => resolve()))
})

const make = (template: 'glance' | 'positions' | 'links' | 'empty', name = 'A month') =>
  server.call(createReport, { siteId: site.id, marketId: site.markets[0]!.id, name, template })
const page = async (report: Pick<Report, 'id'>, issueId: number | null = null): Promise<string> =>
  (await server.raw(reportPath(site.id, report.id, issueId, 'html'))).body
const bytesOf = async (path: string): Promise<Uint8Array> =>
  new Uint8Array(await (await fetch(server.url + path)).arrayBuffer())

async function readPdf(bytes: Uint8Array) {
  const pdf = await getDocument({ data: bytes, useSystemFonts: false }).promise
  const pages: string[] = []
  const links: string[] = []
  for (let i = 1; i <= pdf.numPages; i++) {
    const one = await pdf.getPage(i)
    const content = await one.getTextContent()
    pages.push(content.items.map(item => ('str' in item ? item.str : '')).join(' '))
    for (const note of await one.getAnnotations()) if (note.url) links.push(note.url)
  }
  const { info } = (await pdf.getMetadata()) as { info: { Title?: string; Language?: string } }
  const language = info.Language
  await pdf.destroy()
  return { pages, links, title: info.Title, language }
}

describe('a report', () => {
  test('from a template fills itself for the site, market and day', async () => {
    const report = await make('positions')
    expect(report).toMatchObject({ version: 1, days: 28, issues: 0, lastIssued: null, rhythm: null, problem: null })
    const html = await page(report)
    expect(html).toContain('30 June 2026, compared with 2 June 2026')
    // Ten of sixty keywords rose by three places; all others stood still.
    expect(html).toContain('10 of 60 keywords moved beyond what they do anyway.')
    expect(html).toContain('<span>On the first page, of 60</span><b>10</b>')
    expect(html).toContain('<td>clay word 3</td><td class="n">7</td><td class="n">4</td>')
    expect(html).toContain('Shop window redone')
    expect(html).toContain('<svg')
  })
  test('its sections change, over the version that was seen, and are undone', async () => {
    const report = await make('empty')
    const sections = [{ kind: 'words' as const, title: 'Summary', words: 'All **well**.' }]
    const of = { siteId: site.id, reportId: report.id }
    const { actId } = await server.call(changeReport, { ...of, version: 1, sections, days: 7 })
    expect(await page(report)).toContain('<h2>Summary</h2>\n<p>All <strong>well</strong>.</p>')
    await expect(server.call(changeReport, { ...of, version: 1, sections: [] })).rejects.toThrow('Somebody changed')
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect(await page(report)).not.toContain('Summary')
  })
  test('a table of the program stands in it with its conditions, order and columns', async () => {
    const { id: reportId } = await make('empty')
    const state = { where: ['now:to:6'], sort: '-now', columns: ['phrase', 'now'], folded: false }
    const view = { kind: 'view' as const, title: 'First', table: { name: 'positions', state } }
    const gone = { ...view, title: 'Second', table: { name: 'nothing', state } }
    await server.call(changeReport, { siteId: site.id, reportId, version: 1, sections: [view, gone] })
    const html = await page({ id: reportId })
    const cells = [...html.matchAll(/<td>(clay word \d+)<\/td><td class="n">(\d+)<\/td>/g)].map(each => [
      each[1],
      each[2],
    ])
    expect(cells.slice(0, 2)).toEqual([
      ['clay word 5', '6'],
      ['clay word 4', '5'],
    ])
    expect(cells).toHaveLength(6)
    expect(html).toContain('This section could not be drawn. The table it shows is not there.')
  })
  test('what a screen showed stands in it with its sentence and day; what could be markup is refused', async () => {
    const { id: reportId } = await make('empty', 'Kept')
    const same: [number, number, number, number, number, number] = [1, 0, 0, 1, 0, 0]
    const line = { path: 'M0 0L50 20', fill: null, stroke: '#b4540a', width: 2, dash: [4], opacity: 1, at: same }
    const label = { text: 'Sites <i>of</i> 9', x: 4, y: 30, size: 11, anchor: 'start' as const, bold: false }
    const drawing = { width: 200, height: 60, shapes: [line, { ...label, fill: '#000000', opacity: 1, at: same }] }
    const table = { head: ['Site', 'Visits'], rows: [['potter.example', '1,200']], of: 7 }
    const kept = (part: object) => ({ on: '2026-06-29', sentence: 'Few <b>sites</b> lead.', ...part })
    const of = { siteId: site.id, reportId, version: 1 }
    const sections = [
      { kind: 'kept' as const, title: 'Lead', kept: kept({ drawing }) },
      { kind: 'kept' as const, title: 'Sites', kept: kept({ table }) },
    ]
    await server.call(changeReport, { ...of, sections })
    const html = await page({ id: reportId })
    expect(html).toContain('<p>Few &lt;b&gt;sites&lt;/b&gt; lead.</p>')
    expect(html).toContain('<path d="M0 0L50 20" fill="none" stroke="#b4540a"')
    expect(html).toContain('Sites &lt;i&gt;of&lt;/i&gt; 9</text>')
    expect(html).toContain('<td>potter.example</td><td class="n">1,200</td>')
    expect(html).toContain('The first 1 of 7.')
    expect(html).toContain('As it was shown on 29 June 2026.')
    const { pages } = await readPdf(await bytesOf(reportPath(site.id, reportId, null, 'pdf')))
    expect(pages.join(' ')).toContain('potter.example')
    expect(pages.join(' ')).toContain('Sites <i>of</i> 9')
    for (const part of [
      {},
      { drawing, table },
      { drawing: { ...drawing, shapes: [{ ...line, path: 'M0 0"/><script>' }] } },
      { drawing: { ...drawing, shapes: [{ ...line, stroke: 'url(http://x.example)' }] } },
      { table: { ...table, head: [] } },
    ])
      await expect(
        server.call(changeReport, { ...of, version: 2, sections: [{ kind: 'kept', kept: kept(part) }] }),
      ).rejects.toMatchObject({ code: 'badInput' })
  })
  test('a removed one is gone with what it issued, and comes back by undo', async () => {
    const report = await make('empty', 'To go')
    const rhythm = { every: 'day' as const, hour: 5 }
    await server.call(changeReport, { siteId: site.id, reportId: report.id, version: 1, rhythm })
    const issue = await server.call(issueReport, { siteId: site.id, reportId: report.id })
    const { actId } = await server.call(removeReport, { siteId: site.id, reportId: report.id })
    expect((await server.call(listReports, { siteId: site.id })).reports.some(each => each.id === report.id)).toBe(
      false,
    )
    expect((await server.raw(reportPath(site.id, report.id, issue.id, 'html'))).status).toBe(404)
    // A removed one does not issue itself, and keeps its rhythm for undo.
    await server.context.pool.query("update schedule set next_at = now() - interval '1 minute' where kind = 'report'")
    await runDue(server.context, scheduleWorks())
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect(await server.call(listIssues, { siteId: site.id, reportId: report.id })).toHaveLength(1)
    const back = (await server.call(listReports, { siteId: site.id })).reports.find(each => each.id === report.id)
    expect(back!.rhythm).toEqual(rhythm)
    await server.call(changeReport, { siteId: site.id, reportId: report.id, version: 2, rhythm: null })
    expect((await server.raw(reportPath(site.id, report.id, issue.id, 'html'))).status).toBe(200)
  })
})

describe('an issue', () => {
  test('stays as it was whatever the report becomes', async () => {
    const report = await make('empty', 'Before')
    const issue = await server.call(issueReport, { siteId: site.id, reportId: report.id, asOf: day(10) })
    expect(issue).toMatchObject({ asOf: day(10), since: day(38), bySchedule: false, link: { address: null } })
    await server.call(changeReport, { siteId: site.id, reportId: report.id, version: 1, name: 'After' })
    expect(await page(report, issue.id)).toContain('<h1>Before</h1>')
    expect(await page(report)).toContain('<h1>After</h1>')
  })
  test('is a PDF of real text with its title, language, links and numbered pages', async () => {
    const { id: reportId } = await make('positions', 'Positions of June')
    const words = { kind: 'words' as const, title: '', words: 'See [the guide](https://kilnandtide.example/guide).' }
    const state = { where: [], sort: '', columns: ['phrase', 'now', 'page'], folded: false }
    const view = { kind: 'view' as const, title: 'All', most: 60, table: { name: 'positions', state } }
    const { sections } = (await server.call(listReports, { siteId: site.id })).reports.find(
      each => each.id === reportId,
    )!
    await server.call(changeReport, {
      siteId: site.id,
      reportId,
      version: 1,
      sections: [...sections, words, { kind: 'break', title: '' }, view],
    })
    const issue = await server.call(issueReport, { siteId: site.id, reportId })
    const pdf = await readPdf(await bytesOf(reportPath(site.id, reportId, issue.id, 'pdf')))
    expect(pdf.title).toBe(`Positions of June: ${site.name}`)
    expect(pdf.language).toBe('en')
    expect([...new Set(pdf.links)]).toEqual(['https://kilnandtide.example/guide'])
    expect(pdf.pages.length).toBeGreaterThanOrEqual(4)
    expect(pdf.pages.join(' ')).toContain('10 of 60 keywords moved beyond')
    // A heading stands on the page of what it heads.
    expect(pdf.pages.find(text => text.includes('Where the keywords stand'))).toContain('Keywords by position, by week')
    expect(pdf.pages[0]).toContain(`1 of ${pdf.pages.length}`)
    // The head of a table that goes over pages stands on each of them.
    const ofTable = pdf.pages.filter(text => /clay word \d+ +\d+ +\d+ +https/.test(text))
    expect(ofTable.length).toBeGreaterThanOrEqual(2)
    for (const text of ofTable) expect(text).toContain('Page found')
  })
  test('is a workbook with a sheet for each table and picture, numbers as numbers', async () => {
    const report = await make('positions', 'Sheets')
    const issue = await server.call(issueReport, { siteId: site.id, reportId: report.id })
    const bytes = Buffer.from(await bytesOf(reportPath(site.id, report.id, issue.id, 'xlsx')))
    const sheets = await readXlsxFile(bytes)
    expect(sheets[0]!.sheet).toBe('Report')
    const rows = sheets.find(each => each.sheet === 'Keywords that moved most')!.data
    expect(rows[0]).toEqual(['Keyword', 'Before', 'Now', 'Visits', 'Likely reason'])
    expect(rows.slice(1).map(row => [row[1], row[2]])).toContainEqual([7, 4])
  })
  test('is read at a secret address without scripts, until that is ended or over', async () => {
    const report = await make('empty', 'For a client')
    const of = { siteId: site.id, reportId: report.id }
    const issue = await server.call(issueReport, of)
    const { address } = await server.call(renewReportLink, { ...of, issueId: issue.id })
    const answer = await server.raw(address!)
    expect(answer.status).toBe(200)
    expect(answer.body).toContain('<h1>For a client</h1>')
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'")
    expect((await server.raw(`${address}/pdf`)).headers.get('content-type')).toBe('application/pdf')
    await expect(server.call(renewReportLink, { ...of, issueId: issue.id, endsOn: '2020-01-01' })).rejects.toThrow(
      'over',
    )
    const next = await server.call(renewReportLink, { ...of, issueId: issue.id, endsOn: '2099-01-01' })
    expect((await server.raw(address!)).status).toBe(404)
    expect(next.endsOn).toBe('2099-01-01')
    await server.context.pool.query("update secret_link set ends_on = '2020-01-01' where kind = 'report'")
    expect((await server.raw(next.address!)).status).toBe(404)
    await server.call(renewReportLink, { ...of, issueId: issue.id, end: true })
    await server.call(removeIssue, { ...of, issueId: issue.id })
    expect(await server.call(listIssues, of)).toEqual([])
  })
  test('an issue of another report is not there', async () => {
    const [one, other] = [await make('empty'), await make('empty')]
    const issue = await server.call(issueReport, { siteId: site.id, reportId: one.id })
    expect((await server.raw(reportPath(site.id, other.id, issue.id, 'html'))).status).toBe(404)
  })
})

test('by its rhythm a report issues itself and is mailed with its PDF', async () => {
  const report = await make('empty', 'Weekly')
  await server.call(changeReport, {
    siteId: site.id,
    reportId: report.id,
    version: 1,
    rhythm: { every: 'week', hour: 6, weekday: 1 },
    mailTo: 'chief@kilnandtide.example',
  })
  await server.context.pool.query("update schedule set next_at = now() - interval '1 minute' where kind = 'report'")
  await runDue(server.context, scheduleWorks())
  expect(await server.call(listIssues, { siteId: site.id, reportId: report.id })).toMatchObject([{ bySchedule: true }])
  expect(mails).toHaveLength(1)
  expect(mails[0]).toContain('To: chief@kilnandtide.example')
  expect(mails[0]).toContain('application/pdf')
})

test('a mail that was not taken is said on the report; the issue is there, and the next good one takes the words away', async () => {
  const { id: reportId } = await make('empty', 'To somebody who left')
  const rhythm = { every: 'day' as const, hour: 6 }
  const mailTo = 'gone@kilnandtide.example'
  await server.call(changeReport, { siteId: site.id, reportId, version: 1, rhythm, mailTo })
  const run = async () => {
    await server.context.pool.query(
      `update schedule set next_at = now() - interval '1 minute' where kind = 'report' and subject->>'reportId' = $1`,
      [String(reportId)],
    )
    await runDue(server.context, scheduleWorks())
    return (await server.call(listReports, { siteId: site.id })).reports.find(each => each.id === reportId)!.problem
  }
  expect(await run()).toMatch(/did not take the mail.*Nobody here by that name/)
  expect(await server.call(listIssues, { siteId: site.id, reportId })).toHaveLength(1)
  await server.call(changeReport, { siteId: site.id, reportId, version: 2, mailTo: null })
  expect(await run()).toBeNull()
  await server.call(changeReport, { siteId: site.id, reportId, version: 3, rhythm: null })
})

test('undo brings a changed rhythm back, and leaves one alone that was not changed', async () => {
  const { id: reportId } = await make('empty', 'Rhythms')
  const rhythmOf = async () =>
    (await server.call(listReports, { siteId: site.id })).reports.find(each => each.id === reportId)!.rhythm
  const [weekly, daily] = [
    { every: 'week' as const, hour: 6, weekday: 1 },
    { every: 'day' as const, hour: 7 },
  ]
  await server.call(changeReport, { siteId: site.id, reportId, version: 1, rhythm: weekly })
  const { actId } = await server.call(changeReport, { siteId: site.id, reportId, version: 2, rhythm: daily })
  await server.call(undoAct, { siteId: site.id, actId: actId! })
  expect(await rhythmOf()).toEqual(weekly)
  const renamed = await server.call(changeReport, { siteId: site.id, reportId, version: 4, name: 'Other' })
  await server.context.pool.query(`update schedule set hour = 9 where kind = 'report' and subject->>'reportId' = $1`, [
    String(reportId),
  ])
  await server.call(undoAct, { siteId: site.id, actId: renamed.actId! })
  expect(await rhythmOf()).toEqual({ ...weekly, hour: 9 })
  await server.call(changeReport, { siteId: site.id, reportId, version: 6, rhythm: null })
})

test('a section of which no earlier state is kept says so where the report speaks of an earlier day', async () => {
  const report = await make('links')
  const said = 'no earlier state of this is kept'
  const early = await server.call(issueReport, { siteId: site.id, reportId: report.id, asOf: day(10) })
  expect(await page(report, early.id)).toContain(said)
  const now = await server.call(issueReport, { siteId: site.id, reportId: report.id })
  expect(await page(report, now.id)).not.toContain(said)
})

test('a logo is a PNG or JPEG by its bytes', async () => {
  const png = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
  await server.call(setReportLogo, { siteId: site.id, logo: { base64: png } })
  const report = await make('empty')
  expect(await page(report)).toContain(`<img src="data:image/png;base64,${png}"`)
  const svg = Buffer.from('<svg onload="alert(1)"/>').toString('base64')
  await expect(server.call(setReportLogo, { siteId: site.id, logo: { base64: svg } })).rejects.toThrow('neither')
  await server.call(setReportLogo, { siteId: site.id, logo: null })
  expect(await page(report)).not.toContain('<img')
})
