// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
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
} from '@dew-trail/contract/reports'
import { listSites } from '@dew-trail/contract/sites'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { type Answer, answer, showScreen } from '../../../test/show-screen.tsx'
import ReportsScreen from './ReportsScreen.tsx'

const report: Report = {
  id: 3,
  name: 'A month in positions',
  marketId: 1,
  days: 28,
  colour: '#0d5c63',
  language: 'en',
  sections: [
    { kind: 'figures', title: '' },
    { kind: 'words', title: 'Summary', words: 'All well.' },
    { kind: 'movers', title: '' },
  ],
  rhythm: null,
  mailTo: null,
  version: 4,
  issues: 1,
  lastIssued: '2026-11-29',
  problem: null,
}
const noLink = { address: null, madeOn: null, endsOn: null }
const issue = {
  id: 9,
  asOf: '2026-11-29',
  since: '2026-11-01',
  madeAt: '2026-11-30T08:00:00Z',
  bySchedule: false,
  link: noLink,
}
const show = (reports: Report[] = [report], link = noLink as typeof issue.link, path = '/1/reports') => {
  let version = report.version
  return showScreen(
    <ReportsScreen />,
    [
      answer(listJobs, () => []),
      answer(listSites, () => []),
      answer(listReports, () => ({ reports, hasLogo: false, mails: true })),
      answer(listIssues, () => [{ ...issue, link }]),
      answer(changeReport, ({ body }) => ({ ...report, ...body, version: ++version, actId: 1 })),
      answer(createReport, ({ body }) => ({ ...report, id: 4, name: String(body.name), version: 1, actId: 2 })),
      answer(removeReport, () => ({ actId: 3 })),
      answer(issueReport, () => issue),
      answer(removeIssue, () => ({})),
      answer(renewReportLink, () => noLink),
    ],
    path,
  )
}
const kindsOf = (body: Record<string, unknown> | undefined): string[] =>
  (body!.sections as Report['sections']).map(each => each.kind)

test('the report is composed at the left and read at the right as it would be now, without scripts', async () => {
  show()
  expect(await screen.findByRole('button', { name: /A month in positions1 issue, last of Nov 29, 2026/ })).toBeTruthy()
  const frame = screen.getByTitle('A month in positions as it would be now')
  expect(frame.getAttribute('src')).toBe('/api/sites/1/reports/3/preview.html')
  expect(frame.getAttribute('sandbox')).toBe('')
  expect(screen.getByRole('link', { name: 'PDF' }).getAttribute('href')).toBe('/api/sites/1/reports/3/preview.pdf')
})

test('sections are moved by Alt and an arrow, dragged, added and taken out; each change over the version of the one before', async () => {
  const { user, bodies } = show()
  const handle = await screen.findByRole('button', { name: /^Summary: drag/ })
  handle.focus()
  await user.keyboard('{Alt>}{ArrowUp}{/Alt}')
  await waitFor(() => expect(bodies(changeReport)).toHaveLength(1))
  expect(bodies(changeReport)[0]).toMatchObject({ version: 4 })
  expect(kindsOf(bodies(changeReport)[0])).toEqual(['words', 'figures', 'movers'])
  const dataTransfer = { setData: () => undefined, effectAllowed: '' }
  fireEvent.dragStart(screen.getByRole('button', { name: /^Figures: drag/ }), { dataTransfer })
  fireEvent.drop(screen.getAllByRole('listitem').find(each => each.textContent?.includes('at most'))!, { dataTransfer })
  await waitFor(() => expect(bodies(changeReport)).toHaveLength(2))
  expect(bodies(changeReport)[1]).toMatchObject({ version: 5 })
  expect(kindsOf(bodies(changeReport)[1])).toEqual(['words', 'movers', 'figures'])
  await user.click(screen.getByRole('button', { name: 'Take out "Summary"' }))
  await waitFor(() => expect(kindsOf(bodies(changeReport)[2])).toEqual(['figures', 'movers']))
  await user.click(screen.getByRole('combobox', { name: 'Add a section' }))
  await user.click(await screen.findByRole('option', { name: 'Links' }))
  await waitFor(() => expect(kindsOf(bodies(changeReport)[3])).toEqual(['figures', 'words', 'movers', 'links']))
})

test('lines are saved when they are left, and only what is right', async () => {
  const { user, bodies } = show()
  const title = await screen.findByRole('textbox', { name: 'Title' })
  await user.clear(title)
  await user.type(title, 'June{Escape}')
  expect((title as HTMLInputElement).value).toBe('A month in positions')
  await user.clear(title)
  await user.tab()
  expect(title.getAttribute('aria-invalid')).toBe('true')
  await user.type(title, 'June{Enter}')
  await waitFor(() => expect(bodies(changeReport)).toEqual([{ version: 4, name: 'June' }]))
  const days = screen.getByRole('textbox', { name: 'Days compared' })
  await user.clear(days)
  await user.type(days, '0')
  await user.tab()
  const rows = screen.getByRole('textbox', { name: 'Rows of "Keywords that moved most"' })
  await user.clear(rows)
  await user.type(rows, '40')
  await user.tab()
  await waitFor(() => expect(bodies(changeReport)).toHaveLength(2))
  expect((bodies(changeReport)[1]!.sections as Report['sections'])[2]).toMatchObject({ kind: 'movers', most: 40 })
  const words = screen.getByRole('textbox', { name: 'Own words, in Markdown' })
  await user.type(words, ' Really.')
  await user.tab()
  await waitFor(() => expect(bodies(changeReport)).toHaveLength(3))
  expect((bodies(changeReport)[2]!.sections as Report['sections'])[1]!.words).toBe('All well. Really.')
})

test('it is issued as of a day; issues have their files and address', async () => {
  const { user, bodies } = show()
  const day = await screen.findByLabelText('As of; empty: the last checked day')
  fireEvent.change(day, { target: { value: '2026-10-31' } })
  await user.click(screen.getByRole('button', { name: 'Issue it' }))
  await waitFor(() => expect(bodies(issueReport)).toEqual([{ asOf: '2026-10-31' }]))
  const line = (await screen.findByText('Nov 29, 2026')).closest('li')!
  expect(within(line).getByRole('link', { name: 'PDF of Nov 29, 2026' }).getAttribute('href')).toBe(
    '/api/sites/1/reports/3/issues/9.pdf',
  )
  fireEvent.change(within(line).getByLabelText(/Last day of the address/), { target: { value: '2026-12-31' } })
  await user.click(within(line).getByRole('button', { name: 'Make a secret address' }))
  await waitFor(() => expect(bodies(renewReportLink)).toEqual([{ endsOn: '2026-12-31' }]))
})

test('what is typed last is saved before the report is issued, however slowly that is answered', async () => {
  const answered: string[] = []
  const give: Answer['give'] = async ({ body }) => {
    await new Promise(resolve => setTimeout(resolve, 300))
    answered.push('changed')
    return { ...report, ...body, version: 9, actId: 1 }
  }
  const { user } = showScreen(
    <ReportsScreen />,
    [
      { spec: changeReport, give },
      answer(listJobs, () => []),
      answer(listSites, () => []),
      answer(listReports, () => ({ reports: [report], hasLogo: false, mails: true })),
      answer(listIssues, () => []),
      answer(issueReport, () => {
        answered.push('issued')
        return issue
      }),
    ],
    '/1/reports',
  )
  const name = await screen.findByDisplayValue(report.name)
  await user.clear(name)
  await user.type(name, 'June')
  await user.click(screen.getByRole('button', { name: 'Issue it' }))
  await waitFor(() => expect(answered).toEqual(['changed', 'issued']))
})

test('a secret address is shown whole with its end, and ended', async () => {
  const { user, bodies } = show([report], {
    address: '/shared/report/abc',
    madeOn: '2026-11-30',
    endsOn: '2026-12-31',
  } as never)
  const address = await screen.findByLabelText('Secret address of the issue of Nov 29, 2026')
  expect((address as HTMLInputElement).value).toBe(`${location.origin}/shared/report/abc`)
  expect(screen.getByText('until Dec 31, 2026')).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'End it' }))
  await waitFor(() => expect(bodies(renewReportLink)).toEqual([{ end: true }]))
})

test('without a report it says what one is; a new one begins with a template and its name', async () => {
  const { user, bodies } = show([])
  await user.click(await screen.findByRole('button', { name: 'New report' }))
  const title = await screen.findByRole('textbox', { name: 'Title' })
  expect((title as HTMLInputElement).value).toBe('The site at a glance')
  await user.click(screen.getByRole('combobox', { name: 'Begin with' }))
  await user.click(await screen.findByRole('option', { name: 'Links' }))
  expect((title as HTMLInputElement).value).toBe('Links')
  await user.type(title, ' of June')
  await user.click(screen.getByRole('button', { name: 'Make it' }))
  await waitFor(() => expect(bodies(createReport)).toEqual([{ marketId: 1, name: 'Links of June', template: 'links' }]))
})
