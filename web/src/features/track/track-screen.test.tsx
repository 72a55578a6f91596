// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
import { addNote, changeNote, listNotes, removeNote } from '@dew-trail/contract/notes'
import { type CheckSchedule, listCheckSchedules, setCheckSchedule } from '@dew-trail/contract/schedules'
import {
  checkNow,
  keywordHistory,
  listPositions,
  listVisibility,
  trackKeywords,
  type TrackedRow,
} from '@dew-trail/contract/track'
import { screen, waitFor, within } from '@testing-library/react'
import type { z } from 'zod'
import { beforeEach, describe, expect, test, vi } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import { madeRow } from '../../../test/made-row.ts'
import TrackScreen from './TrackScreen.tsx'

vi.mock('../../pictures/VisibilityChart.tsx', () => ({ default: () => null }))
vi.mock('../../pictures/HistoryChart.tsx', () => ({ default: () => <div data-testid="history" /> }))
beforeEach(() => {
  localStorage.clear()
  wholeList = () => Promise.resolve()
  visible = []
})

let visible: Array<z.input<(typeof listVisibility)['output']>[number]> = []
let times = (): { timeZone: string; schedules: CheckSchedule[] } => ({ timeZone: 'UTC', schedules: [] })
const four = [
  madeRow(1, 'raku kiln', { now: 3, before: 8, searches: 900, visits: 90, page: '/a', pageBefore: '/b' }),
  madeRow(2, 'kick wheel', { now: 12, before: 9, searches: 100, visits: 2 }),
  madeRow(3, 'slip', { now: -30, before: 25 }),
  madeRow(4, 'new one', { now: 0, before: 0, searches: 40 }),
]
let wholeList = (): Promise<void> => Promise.resolve()
const show = (rows: TrackedRow[] | Error = four, path = '/1/track', rivals: string[] = []) => {
  const shown = showScreen(
    <TrackScreen />,
    [
      answer(listPositions, async ({ url }) => {
        if (rows instanceof Error) return rows
        const most = new URL(url, 'http://here').searchParams.get('most')
        if (!most) await wholeList()
        return {
          total: rows.length,
          lastDay: '2026-11-27',
          beforeDay: '2026-11-20',
          checkedAt: null,
          checked: rows.length,
          visibility: { now: 14, change: null, keywords: rows.length },
          rows: most ? rows.slice(0, Number(most)) : rows,
          others: [],
          rivals: rivals.map(domain => ({ domain, now: [3, -20, 0, 9], before: [5, 4, 0, -20] })),
        }
      }),
      answer(listVisibility, () => visible),
      answer(listJobs, () => []),
      answer(listCheckSchedules, () => times()),
      answer(setCheckSchedule, () => ({})),
      answer(listNotes, () => [{ id: 3, day: '2026-11-20', text: 'New shop', touches: {}, about: null, version: 2 }]),
      answer(addNote, ({ body }) => ({
        actId: 80,
        id: 4,
        day: String(body.day),
        text: String(body.text),
        touches: {},
        about: null,
        version: 1,
      })),
      answer(changeNote, () => new Error('Somebody changed this note meanwhile')),
      answer(removeNote, () => ({ actId: 81 })),
      answer(keywordHistory, () => ({
        keywordId: 1,
        phrase: 'raku kiln',
        from: '2026-11-01',
        to: '2026-11-27',
        markets: [],
        pages: [],
      })),
      answer(checkNow, () => ({ jobId: 2, requests: 8 })),
      // One of them was no longer tracked.
      answer(trackKeywords, () => ({ actId: 82, changed: [2] })),
    ],
    path,
  )
  return shown
}
const line = async (phrase: string): Promise<string> =>
  (await screen.findByText(phrase)).closest('.sheet-row')!.textContent!

describe('tracked keywords', () => {
  test('stand by place, with their change in words; not found is not the same as not checked', async () => {
    show()
    expect(await line('raku kiln')).toMatch(/up 5.*page changed/i)
    expect(await line('kick wheel')).toMatch(/down 3.*left top 10/i)
    expect(await line('slip')).toMatch(/>30.*out.*left top 30/i)
    expect(await line('new one')).not.toMatch(/>|out|up|down/)
    expect(sheetRows()[0]!.textContent).toContain('raku kiln')
  })
  test('of many the best come first, and what is counted waits for all', async () => {
    const many = Array.from({ length: 250 }, (_, i) =>
      madeRow(i + 1, `kiln ${i + 1}`, { now: i + 1, before: i + 2, searches: 10 }),
    )
    let arrive = (): void => undefined
    wholeList = () => new Promise(resolve => (arrive = resolve))
    visible = [{ day: '2026-11-27', visibility: 3, top3: 3, top10: 7, top30: 20, beyond: 220, notFound: 0 }]
    const { requests } = show(many)
    await line('kiln 1')
    await waitFor(() =>
      expect(footText()).toContain('of 250 in all, the 200 at the best places are here, the others are coming'),
    )
    const summary = screen.getByRole('region', { name: 'Summary' })
    expect(summary.textContent).toContain('… rose, … fell')
    await waitFor(() => expect(requests.filter(each => each.spec === listPositions)).toHaveLength(2))
    arrive()
    await waitFor(() => expect(footText()).toContain('250 keywords'))
    expect(summary.textContent).toContain('250 rose, 0 fell')
    expect(footText()).toContain('mean place 125.5')
  })
  test('under conditions all are asked for at once', async () => {
    const { requests } = show(four, '/1/track?where=phrase:has:kiln')
    await line('raku kiln')
    expect(requests.filter(each => each.spec === listPositions).map(each => each.url.includes('most'))).toEqual([false])
  })
  test("rivals' places are columns that are hidden until they are chosen, with their change", async () => {
    const { user } = show(four, '/1/track', ['clay.example'])
    expect(await line('raku kiln')).not.toMatch(/3up 2/)
    expect(screen.getAllByRole('columnheader').some(each => each.textContent?.startsWith('clay.example'))).toBe(false)
    await user.click(screen.getByRole('button', { name: 'Columns' }))
    await user.click(await screen.findByRole('checkbox', { name: 'clay.example' }))
    await user.click(screen.getByRole('checkbox', { name: 'clay.example change' }))
    await waitFor(async () => expect(await line('raku kiln')).toMatch(/3up 2/))
    expect(await line('kick wheel')).toMatch(/>20down 17/)
  })
  test('are summed: the mean is of places that are known, and what is unknown is no zero', async () => {
    show()
    await line('slip')
    await waitFor(() => expect(footText()).toContain('4 keywords'))
    expect(footText()).toContain('mean place 7.5 of 2 found')
    expect(footText()).toContain('about 92 visits/mo, 2 unknown')
    expect(footText()).toContain('last day Nov 27, 2026')
  })
  test('none found anywhere has no mean place', async () => {
    show([four[2]!])
    await line('slip')
    await waitFor(() => expect(footText()).toContain('mean place unknown'))
    expect(footText()).toContain('unknown visits/mo')
  })
  test('are compared with another day, which the address tells', async () => {
    const { user, requests } = show()
    await line('slip')
    await user.click(screen.getByRole('combobox', { name: 'Compare with' }))
    await user.click(await screen.findByRole('option', { name: 'Compare with 30 days before' }))
    await waitFor(() =>
      expect(
        requests.filter(({ spec }) => spec === listPositions).map(each => each.url.split('compareDays=')[1]),
      ).toEqual(['7&most=200', '30&most=200']),
    )
  })
  test('the range of the pictures is asked of the server', async () => {
    const { requests } = show(four, '/1/track?days=180')
    await waitFor(() => expect(requests.find(({ spec }) => spec === listVisibility)?.url).toContain('days=180'))
  })
  test('what the pictures show can be read as tables, unknown as a word', async () => {
    visible = [
      { day: '2026-11-26', visibility: null, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
      { day: '2026-11-27', visibility: 12, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
    ]
    const { user } = show()
    await user.click(await screen.findByRole('button', { name: 'Visibility by day as a table' }))
    const table = within(await screen.findByRole('dialog', { name: 'Visibility by day' })).getByRole('table')
    const cells = within(table)
      .getAllByRole('row')
      .map(each => each.textContent)
    expect(cells).toEqual(['DayVisibility', 'Nov 27, 202612', 'Nov 26, 2026unknown'])
    await user.click(screen.getByRole('button', { name: 'Close' }))
    await user.click(await screen.findByRole('button', { name: 'Where the keywords stand as a table' }))
    expect(await screen.findByRole('columnheader', { name: 'not found' })).toBeTruthy()
    visible = []
  })
  test('unfold to their history', async () => {
    const { user } = show()
    await user.click(await screen.findByText('raku kiln'))
    expect(await screen.findByTestId('history')).toBeTruthy()
  })
  test('the menu of a row checks it, stops it, and offers what every keyword offers', async () => {
    const { user, bodies } = show()
    await line('slip')
    const row = screen.getByText('slip').closest<HTMLElement>('.sheet-row')!
    await user.pointer({ target: row, keys: '[MouseRight]' })
    const labels = (await screen.findAllByRole('menuitem')).map(item => item.textContent)
    expect(labels).toEqual(expect.arrayContaining(['Check this now', 'Stop tracking']))
    expect(labels.some(label => /^(Track|Keep|Let go)/.test(label!))).toBe(false)
    await user.click(screen.getByRole('menuitem', { name: 'Stop tracking' }))
    await waitFor(() => expect(bodies(trackKeywords)).toEqual([{ keywordIds: [expect.any(Number)], tracked: false }]))
  })
  test('are checked now, all or the selected ones', async () => {
    const { user, bodies } = show()
    await line('slip')
    await user.click(screen.getByRole('button', { name: 'Check now' }))
    expect(await screen.findByText('Asking the engines 8 times')).toBeTruthy()
    sheetRows()[1]!.focus()
    await user.keyboard('x')
    await user.click(screen.getByRole('button', { name: 'Check these now' }))
    await waitFor(() => expect(bodies(checkNow)).toEqual([{}, { keywordIds: [2] }]))
  })
  test('are no longer tracked, and again by undo: those that were', async () => {
    const { user, bodies, undone } = show()
    await line('slip')
    sheetRows()[1]!.focus()
    await user.keyboard('x{ArrowDown}x')
    await user.click(screen.getByRole('button', { name: 'Stop tracking' }))
    expect(await screen.findByText('1 keyword no longer tracked; the history stays')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(undone()).toEqual([82]))
    expect(bodies(trackKeywords)).toEqual([{ keywordIds: [2, 3], tracked: false }])
  })
  test('are saved with their change in words, and places as numbers', async () => {
    const { user, saved } = show()
    await line('slip')
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(screen.getByRole('menuitem', { name: 'CSV' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const text = (await linesOf(saved[0]!)).join('\n')
    expect(saved[0]!.name).toBe('kilnandtide.example-positions.csv')
    expect(text).toMatch(/raku kiln,.*up/)
    expect(text).toMatch(/slip,.*out/)
    expect(text).not.toContain('-30')
  })
  test('are checked by themselves when it is set, market by market; what is set stands at the button', async () => {
    const schedule = (every: CheckSchedule['rhythm']): CheckSchedule => ({
      marketId: 1,
      rhythm: every,
      nextAt: '2026-11-30T06:00:00.000Z',
      lastAt: '2026-11-28T09:30:00.000Z',
      wasLate: true,
      lastError: null,
    })
    times = () => ({ timeZone: 'UTC', schedules: [] })
    const { user, bodies } = show()
    await user.click(await screen.findByRole('button', { name: 'Checked only when asked' }))
    await user.click(
      await screen.findByRole('combobox', { name: 'How often Lantern · Tarrow · English · desktop is checked' }),
    )
    times = () => ({ timeZone: 'UTC', schedules: [schedule({ every: 'week', hour: 6, weekday: 1 })] })
    await user.click(screen.getByRole('option', { name: 'Every week' }))
    expect(await screen.findByText('Mon, Nov 30, 06:00')).toBeTruthy()
    expect(screen.getByText('Sat, Nov 28, 09:30, late')).toBeTruthy()
    await user.click(
      screen.getByRole('combobox', { name: 'Day on which Lantern · Tarrow · English · desktop is checked' }),
    )
    await user.click(screen.getByRole('option', { name: 'Wednesday' }))
    await waitFor(() =>
      expect(bodies(setCheckSchedule)).toEqual([
        { rhythm: { every: 'week', hour: 5, weekday: 1 } },
        { rhythm: { every: 'week', hour: 6, weekday: 3 } },
      ]),
    )
    await user.click(screen.getByRole('button', { name: 'Close' }))
    expect(await screen.findByRole('button', { name: 'Checked every Monday at 06:00' })).toBeTruthy()
  })
  test('the line of visibility is saved as a picture that stands alone', async () => {
    visible = [
      { day: '2026-11-26', visibility: 10, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
      { day: '2026-11-27', visibility: 12, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
    ]
    const { user, saved } = show()
    await user.click(await screen.findByRole('button', { name: 'Save as SVG: kilnandtide.example-visibility' }))
    expect(saved[0]!.name).toBe('kilnandtide.example-visibility.svg')
    const svg = await saved[0]!.blob.text()
    expect(svg).toMatch(/^<svg xmlns="http:\/\/www.w3.org\/2000\/svg"/)
    expect(svg).toContain('<title>Visibility of kilnandtide.example, Lantern · Tarrow · English · desktop</title>')
    visible = []
  })
  test('have notes of what happened: added, changed, removed, and back by undo', async () => {
    visible = [
      { day: '2026-11-26', visibility: 10, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
      { day: '2026-11-27', visibility: 12, top3: 1, top10: 1, top30: 1, beyond: 0, notFound: 1 },
    ]
    const { user, bodies, undone } = show()
    await user.click(await screen.findByRole('button', { name: '1 note' }))
    await user.type(await screen.findByRole('textbox', { name: /What happened/ }), 'Prices')
    const day = screen.getByLabelText(/Day/)
    await user.clear(day)
    await user.type(day, '2026-11-27')
    await user.click(screen.getByRole('combobox', { name: 'About' }))
    await user.click(await screen.findByRole('option', { name: /Lantern · Tarrow · English · desktop/ }))
    await user.click(screen.getByRole('button', { name: 'Add' }))
    await waitFor(() => expect(bodies(addNote)).toEqual([{ day: '2026-11-27', text: 'Prices', marketId: 1 }]))
    await user.click(screen.getByRole('button', { name: 'Change "New shop"' }))
    expect(screen.getByRole('textbox', { name: /What happened/ })).toHaveProperty('value', 'New shop')
    await user.type(screen.getByRole('textbox', { name: /What happened/ }), 's')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(bodies(changeNote)).toEqual([{ day: '2026-11-20', text: 'New shops', version: 2 }]))
    // What was typed stays when it cannot be saved.
    expect(await screen.findByText('Somebody changed this note meanwhile')).toBeTruthy()
    expect(screen.getByRole('textbox', { name: /What happened/ })).toHaveProperty('value', 'New shops')
    await user.click(screen.getByRole('button', { name: 'Remove "New shop"' }))
    await user.click(await screen.findByRole('button', { name: 'Undo', hidden: true }))
    await waitFor(() => expect(undone()).toEqual([81]))
    visible = []
  })
  test('none yet says how they come', async () => {
    show([])
    expect(await screen.findByText('Nothing is watched yet')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Check now' })).toHaveProperty('disabled', true)
  })
  test('that cannot be read say why', async () => {
    show(new Error('The database is away'))
    expect((await screen.findByRole('alert')).textContent).toContain('The database is away')
  })
})
