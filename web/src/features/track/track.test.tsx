// @vitest-environment jsdom
import { keywordHistory, listVisibility } from '@dew-trail/contract/track'
import { screen } from '@testing-library/react'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import { madeRow } from '../../../test/made-row.ts'
import { TrackHead } from './TrackHead.tsx'

// Pictures are tested on their own; here a canvas would only be missing.
vi.mock('../../pictures/VisibilityChart.tsx', () => ({ default: () => null }))
vi.mock('../../pictures/HistoryChart.tsx', () => ({
  default: ({ lines }: { lines: Array<{ label: string; main: boolean }> }) => (
    <div data-testid="chart">{lines.map(line => `${line.label}${line.main ? ' (this)' : ''}`).join('; ')}</div>
  ),
}))

const row = (now: number, before: number) => madeRow(now * 1_000 + before, `keyword ${now} ${before}`, { now, before })
const day = (date: string, visibility: number | null) => ({
  day: date,
  visibility,
  top3: 1,
  top10: 2,
  top30: 3,
  beyond: 1,
  notFound: 0,
})
const summary = async (): Promise<string> => (await screen.findByLabelText('Summary')).textContent ?? ''

const head = { rows: [], coming: false, days: 90, lastDay: '2026-11-27', beforeDay: '2026-11-20' }
describe('the head of positions', () => {
  test('counts what rose, fell, entered and left; a keyword not checked that day is neither', async () => {
    // Places: risen; fallen; entered the ten; left them; found anew below; lost; not checked now, not checked then.
    const rows = [row(2, 5), row(9, 4), row(10, 11), row(12, 8), row(40, -30), row(-30, 7), row(0, 3), row(3, 0)]
    showScreen(<TrackHead {...head} rows={rows} visibility={{ now: 14.04, change: 1.54, keywords: 8 }} />, [
      answer(listVisibility, () => [day('2026-11-20', 12.5), day('2026-11-27', 14.04)]),
    ])
    const said = await summary()
    expect(said).toContain('14visibility, up 1.5')
    expect(said).toContain('3 rose, 3 fell')
    expect(said).toContain('1 entered the top 10')
    expect(said).toContain('2 left it')
  })
  test('a visibility that is unknown is said to be, and is compared with nothing', async () => {
    showScreen(<TrackHead {...head} visibility={{ now: null, change: null, keywords: 0 }} />, [
      answer(listVisibility, () => [day('2026-11-20', 12.5), day('2026-11-27', null)]),
    ])
    const said = await summary()
    expect(said).toContain('unknown')
    expect(said).not.toMatch(/up|down|as before/)
  })
  test('what hardly moved is as before', async () => {
    showScreen(<TrackHead {...head} visibility={{ now: 12.52, change: 0.02, keywords: 3 }} />, [
      answer(listVisibility, () => [day('2026-11-20', 12.5), day('2026-11-27', 12.52)]),
    ])
    expect(await summary()).toContain('visibility, as before')
  })
  test('says of how many keywords and which day it is, and draws no day on which few were checked', async () => {
    const few = { ...day('2026-11-28', 90), top3: 1, top10: 0, top30: 0, beyond: 0 }
    showScreen(<TrackHead {...head} lastDay="2026-11-28" visibility={{ now: 14, change: null, keywords: 138 }} />, [
      answer(listVisibility, () => [day('2026-11-20', 12.5), day('2026-11-27', 14), few]),
    ])
    const said = await summary()
    expect(said).toMatch(/of 138 keywords, (Nov 28|28 Nov)/)
    expect(said).toContain('without 1 day on which few keywords were checked')
  })
})

describe('the history of a keyword', () => {
  const history = {
    keywordId: 7,
    phrase: 'kick wheel',
    from: '2026-11-01',
    to: '2026-11-27',
    markets: [
      { marketId: 9, positions: [4] },
      { marketId: 1, positions: [5, 4] },
    ],
    pages: [
      { marketId: 1, day: '2026-11-01', url: 'https://kilnandtide.example/shop/wheels' },
      { marketId: 1, day: '2026-11-12', url: null },
      { marketId: 2, day: '2026-11-13', url: 'https://kilnandtide.example/other' },
    ],
  }
  test('shows the markets that are there, this one first, and its pages, the newest first', async () => {
    showScreen(<HistoryDetails keywordId={7} />, [answer(keywordHistory, () => history)])
    // Market 9 was taken away since.
    expect((await screen.findByTestId('chart')).textContent).toMatch(/^[^;]+ \(this\)$/)
    const pages = screen.getAllByText(/^from /).map(each => each.parentElement!.textContent)
    expect(pages).toEqual([expect.stringContaining('none found'), expect.stringContaining('/shop/wheels')])
    expect(screen.queryByText(/\/other/)).toBeNull()
  })
  test('another range is asked of the server', async () => {
    const { user, requests } = showScreen(<HistoryDetails keywordId={7} />, [answer(keywordHistory, () => history)])
    await user.click(await screen.findByRole('button', { name: '30 days' }))
    expect((await screen.findByRole('button', { name: '30 days' })).getAttribute('aria-pressed')).toBe('true')
    await screen.findByTestId('chart')
    expect(requests.map(each => each.url.split('days=')[1])).toEqual(['400', '30'])
  })
  test('a keyword that was never checked says how it would be', async () => {
    showScreen(<HistoryDetails keywordId={7} />, [
      answer(keywordHistory, () => ({ ...history, from: null, to: null, markets: [], pages: [] })),
    ])
    expect(await screen.findByText(/Not checked yet/)).toBeTruthy()
  })
  test('a refusal is said', async () => {
    showScreen(<HistoryDetails keywordId={7} />, [answer(keywordHistory, () => new Error('No such keyword'))])
    expect((await screen.findByRole('alert')).textContent).toBe('No such keyword')
  })
})
