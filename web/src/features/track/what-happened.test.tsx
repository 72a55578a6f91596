// @vitest-environment jsdom
import {
  addAlertRule,
  changeAlertRule,
  listAlerts,
  markAlerts,
  readAlertSettings,
  renewAlertFeed,
  setAlertMail,
} from '@dew-trail/contract/alerts'
import { changeBatch } from '@dew-trail/contract/change-table'
import { listJobs } from '@dew-trail/contract/jobs'
import { listLists } from '@dew-trail/contract/lists'
import { listNotes } from '@dew-trail/contract/notes'
import { keywordHistory } from '@dew-trail/contract/track'
import { type Changes, readChanges, readEffect } from '@dew-trail/contract/track-changes'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test, vi } from 'vitest'
import { answer, footText, linesOf, showScreen } from '../../../test/show-screen.tsx'
import NotesDialog from './NotesDialog.tsx'
import { sinceVisit } from './since-visit.ts'
import TrackScreen from './TrackScreen.tsx'

vi.mock('../../pictures/VisibilityChart.tsx', () => ({ default: () => null }))
vi.mock('../../pictures/HistoryChart.tsx', () => ({ default: () => null }))
beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
})

const evidence = {
  kind: 'ownChange' as const,
  day: '2026-11-07',
  around: -3,
  text: 'Texts cut',
  touched: -3.2,
  others: 0.2,
}
const moved = (keywordId: number, phrase: string, gained: number, visits: number | null, more = {}) => ({
  keywordId,
  phrase,
  searches: 900,
  before: 6,
  now: 6 - gained,
  gained,
  usual: 1,
  visits,
  page: 'https://kilnandtide.example/a',
  reasons: [{ kind: 'unknown' as const, share: 1, evidence: null }],
  ...more,
})
const changes: Changes = {
  since: '2026-11-01',
  day: '2026-11-29',
  compared: 140,
  usual: 138,
  moved: 2,
  visits: { before: 35_738, now: 33_349 },
  season: 0.081,
  reasons: [
    { kind: 'ownChange', keywords: 1, won: 0, lost: 465 },
    { kind: 'unknown', keywords: 1, won: 239, lost: 0 },
  ],
  keywords: [
    moved(1, 'glaze kit', -3, -465, {
      reasons: [
        { kind: 'ownChange', share: 0.62, evidence },
        { kind: 'unknown', share: 0.38, evidence: null },
      ],
    }),
    moved(2, 'air dry clay', 3, 239),
  ],
  shifts: [
    {
      engine: 'lantern',
      day: '2026-11-10',
      moved: 0.8,
      usual: 0.42,
      size: 9,
      keywords: 280,
      devices: [],
      kinds: [{ name: '/', keywords: 9, gained: -1.2 }],
    },
  ],
}
const jobs = answer(listJobs, () => [])
const alert = (id: number, title: string, read = false) => ({
  id,
  kind: 'leftFirstPage' as const,
  marketId: 1,
  day: '2026-11-29',
  title,
  body: '',
  keywords: Array.from({ length: 7 }, (_, i) => ({ keywordId: i + 1, phrase: `kiln ${i}`, words: `9 → 1${i}` })),
  read,
})
const rule = { id: 1, kind: 'visibility' as const, least: 3, listId: null, active: true, version: 4 }
const feed = { address: null, madeOn: null, endsOn: null }

describe('what happened', () => {
  const show = (answered: Changes, path = '/1/track?see=changes&since=2026-11-01') =>
    showScreen(
      <TrackScreen />,
      [
        jobs,
        answer(listAlerts, () => ({ unread: 0, alerts: [] })),
        answer(readChanges, () => answered),
        answer(keywordHistory, () => ({
          keywordId: 1,
          phrase: 'glaze kit',
          from: null,
          to: null,
          markets: [],
          pages: [],
        })),
      ],
      path,
    )
  test('says the sum, the reasons, the season and the shifts', async () => {
    show(changes)
    const summary = await screen.findByRole('region', { name: 'Summary' })
    expect(summary.textContent).toContain('−2,389')
    expect(summary.textContent).toContain('35,738 → 33,349')
    expect(summary.textContent).toContain('2 of 140 keywords moved beyond their usual')
    expect(summary.textContent).toContain('8% more at this time of the year')
    expect(summary.textContent).toContain('lantern: keywords moved 0.8 places, usual 0.4 (home page −1.2)')
    const reasons = within(summary).getByRole('table', { name: 'Likely reasons' })
    expect(within(reasons).getByText('own change').closest('tr')!.textContent).toBe('own change1−465')
  })
  test('a reason that nobody knows has no weight, wherever it is shown', async () => {
    expect(changeBatch(changes.keywords).columns.share).toEqual([62, null])
    show(changes)
    const row = (await screen.findByText('air dry clay')).closest('[role="row"]')!
    expect(row.textContent).toMatch(/unknown–/)
  })
  test('a keyword unfolds to all that could have moved it; what is shown is saved with its evidence', async () => {
    const { user, saved } = show(changes)
    const row = await screen.findByText('glaze kit')
    await user.click(row)
    const could = (await screen.findByText('could be')).closest('table')!
    expect([...could.querySelectorAll('tbody tr')].map(each => each.textContent)).toEqual([
      'own change62%7 Nov: Texts cut; what it touches lost 3.2, all others gained 0.2',
      'unknown38%Nothing that is known fits',
    ])
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(await screen.findByText('CSV'))
    await waitFor(() => expect(saved).toHaveLength(1))
    const lines = await linesOf(saved[0]!)
    expect(lines[0]).toBe('Keyword,Before,Now,Change,Visits won,Likely reason,Likely,What speaks for it,Page found')
    expect(lines[1]).toContain('glaze kit,6,9,-3,-465,ownChange,62,')
  })
  test('another day is looked at by the field and by the spans', async () => {
    const { user, requests } = show(changes)
    await screen.findByText('glaze kit')
    await user.click(screen.getByRole('button', { name: '90 days' }))
    const day = new Date(Date.now() - 90 * 86_400_000).toISOString().slice(0, 10)
    await waitFor(() => expect(requests.findLast(each => each.spec === readChanges)!.url).toContain(`since=${day}`))
  })
  test('where nothing moved, or nothing can be compared, it says so', async () => {
    show({ ...changes, moved: 0, keywords: [], usual: 140, reasons: [], shifts: [] })
    expect(await screen.findByText('Nothing moved beyond its usual')).toBeTruthy()
    cleanup()
    show({ ...changes, compared: 0, moved: 0, keywords: [], reasons: [], shifts: [], visits: null })
    expect(await screen.findByText('Nothing to compare')).toBeTruthy()
  })
})

describe('since the last visit', () => {
  test('is the last day that was seen before, and stays so while the tab is open', () => {
    expect(sinceVisit(1, 1, '2026-11-20')).toBeNull()
    sessionStorage.clear()
    expect(sinceVisit(1, 1, '2026-11-29')).toBe('2026-11-20')
    expect(sinceVisit(1, 1, '2026-11-29')).toBe('2026-11-20')
    expect(sinceVisit(1, 2, '2026-11-29')).toBeNull()
    sessionStorage.clear()
    expect(sinceVisit(1, 1, '2026-11-29')).toBeNull()
  })
})

describe('alerts', () => {
  const show = (mails = true) =>
    showScreen(
      <TrackScreen />,
      [
        jobs,
        answer(listLists, () => [{ id: 7, kind: 'label' as const, name: 'Core', keywords: 3, visitWorth: null }]),
        answer(listAlerts, () => ({
          unread: 1,
          alerts: [alert(1, '7 keywords left the first page'), alert(2, 'Old', true)],
        })),
        answer(markAlerts, () => ({ changed: 1 })),
        answer(readAlertSettings, () => ({ rules: [rule], mails, address: null, mailError: 'Mailbox is full', feed })),
        answer(changeAlertRule, () => ({ ...rule, version: 5, actId: 1 })),
        answer(addAlertRule, () => ({ ...rule, id: 2, version: 1, actId: 2 })),
        answer(setAlertMail, () => ({})),
        answer(renewAlertFeed, () => ({ ...feed, address: '/alerts/x.atom', madeOn: '2026-11-30' })),
      ],
      '/1/track?see=alerts',
    )
  test('stand newest first with what they are about; the number unread stands in the tab', async () => {
    const { user, bodies } = show()
    const first = (await screen.findByText('7 keywords left the first page')).closest('li')!
    expect(screen.getByRole('button', { name: 'Alerts (1)' })).toBeTruthy()
    expect(within(first).queryByText('kiln 6')).toBeNull()
    await user.click(within(first).getByRole('button', { name: '2 more' }))
    expect(within(first).getByText('kiln 6')).toBeTruthy()
    await user.click(within(first).getByRole('button', { name: /^Mark read: 7 keywords/ }))
    expect(bodies(markAlerts)[0]).toEqual({ alertIds: [1], read: true })
    await user.click(screen.getByRole('checkbox', { name: 'unread only' }))
    expect(screen.queryByText('Old')).toBeNull()
    expect(footText()).toContain('1 unread of 2 alerts')
  })
  test('a rule is changed over the version seen; a measure that is none is not saved', async () => {
    const { user, bodies } = show()
    const points = await screen.findByRole('spinbutton', { name: 'Visibility falls: points in seven days' })
    await user.clear(points)
    await user.tab()
    expect(points.getAttribute('aria-invalid')).toBe('true')
    expect(bodies(changeAlertRule)).toHaveLength(0)
    await user.type(points, '5')
    await user.tab()
    await waitFor(() => expect(bodies(changeAlertRule)[0]).toEqual({ version: 4, least: 5 }))
    await user.selectOptions(screen.getByRole('combobox', { name: 'Visibility falls: of which keywords' }), 'Core')
    await waitFor(() => expect(bodies(changeAlertRule)[1]).toEqual({ version: 4, listId: 7 }))
  })
  test('mail and feed are set; what the mail server refused is said', async () => {
    const { user, bodies } = show()
    expect(await screen.findByText(/The last mail was not sent: Mailbox is full/)).toBeTruthy()
    await user.type(screen.getByLabelText('Each morning to'), 'mara@kilnandtide.example')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(bodies(setAlertMail)[0]).toEqual({ address: 'mara@kilnandtide.example' }))
    await user.click(screen.getByRole('button', { name: 'Make a secret address (Atom)' }))
    await waitFor(() => expect(bodies(renewAlertFeed)).toHaveLength(1))
  })
  test('without a mail server it says how to name one', async () => {
    show(false)
    expect(await screen.findByText(/With SMTP_URL/)).toBeTruthy()
  })
})

test('a note says whether what it tells of helped', async () => {
  const note = {
    id: 3,
    day: '2026-10-01',
    text: 'Titles rewritten',
    touches: { keywordIds: [1, 2] },
    about: '2 keywords',
    version: 1,
  }
  const { user } = showScreen(
    <NotesDialog onClose={() => undefined} />,
    [
      answer(listNotes, () => [note]),
      answer(listLists, () => []),
      answer(readEffect, () => ({
        effect: {
          kind: 'known' as const,
          positions: 2,
          low: 1,
          high: 3,
          chance: 0.002,
          clear: true,
          touched: 9,
          controls: 31,
          before: 9,
          after: 7,
          without: 9.04,
          visits: null,
        },
        sentence: 'It helped: 9 keywords gained 2.0 places.',
      })),
    ],
    '/1/track',
  )
  await user.click(await screen.findByRole('button', { name: 'Did it help? "Titles rewritten"' }))
  expect(await screen.findByText(/It helped: 9 keywords gained 2.0 places/)).toBeTruthy()
  expect(
    screen.getByText(/Mean place 9 before, 7 after, 9 without it; as much is seen in 0.2% of changes/),
  ).toBeTruthy()
})
