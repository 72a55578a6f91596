// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
import {
  listGlances,
  listPositions,
  listVoiceDays,
  pageHistory,
  readKeptVoices,
  readVoices,
} from '@dew-trail/contract/track'
import { screen, waitFor, within } from '@testing-library/react'
import { beforeEach, expect, test, vi } from 'vitest'
import { madeRow } from '../../../test/made-row.ts'
import { answer, footText, showScreen } from '../../../test/show-screen.tsx'
import { pagesOf } from './PagesTab.tsx'
import TrackScreen from './TrackScreen.tsx'

vi.mock('../../pictures/VisibilityChart.tsx', () => ({ default: () => null }))
vi.mock('../../pictures/HistoryChart.tsx', () => ({ default: () => null }))
beforeEach(() => localStorage.clear())

const market = {
  id: 1,
  engine: 'lantern',
  place: 'tarrow',
  language: 'en',
  device: 'desktop' as const,
  name: null,
  paused: false,
}
const voice = (domain: string, share: number, more = {}) => ({
  domain,
  own: false,
  visits: share * 1_000,
  share,
  change: null,
  within3: 1,
  within10: 2,
  within20: 3,
  ...more,
})
const own = 'https://kilnandtide.example'
const rows = [
  madeRow(1, 'raku kiln', { now: 3, visits: 90, page: `${own}/a`, pageBefore: `${own}/b` }),
  madeRow(2, 'kick wheel', { now: 9, visits: 10, page: `${own}/a` }),
  madeRow(3, 'slip', { now: -30, page: null }),
  madeRow(4, 'glaze', { now: 14, visits: null, page: `${own}/c` }),
]
const show = (path: string, empty = false) =>
  showScreen(
    <TrackScreen />,
    [
      answer(listJobs, () => []),
      answer(listPositions, () => ({
        total: empty ? 0 : rows.length,
        lastDay: '2026-11-27',
        beforeDay: null,
        checkedAt: null,
        checked: 4,
        visibility: { now: 14, change: null, keywords: 4 },
        rows: empty ? [] : rows,
        others: [],
        rivals: [],
      })),
      answer(readVoices, () => ({
        keywords: empty ? 0 : 120,
        left: 20,
        compared: empty ? 0 : 90,
        from: empty ? null : '2026-11-20',
        to: empty ? null : '2026-11-27',
        sites: empty
          ? []
          : [
              voice('clay.example', 0.4, { change: -0.021 }),
              voice('kilnandtide.example', 0.2, { own: true, change: 0.0155 }),
            ],
        themes: empty
          ? []
          : [{ name: 'kiln', keywords: 12, visits: 600, own: 0.1, leader: 'clay.example', leaderShare: 0.5 }],
        labels: empty
          ? []
          : [{ name: 'wheels', keywords: 3, visits: 90, own: 0.4, leader: 'kilnandtide.example', leaderShare: 0.4 }],
      })),
      answer(pageHistory, () => ({ from: '2026-11-01', keywords: [1, 2, null, 2], visits: [40, 80.4, null, 100] })),
      answer(listVoiceDays, () => ({
        kept: '2026-09-01',
        days: empty ? [] : ['2026-11-20', '2026-11-27'],
        sites: empty
          ? []
          : [
              { domain: 'kilnandtide.example', own: true, shares: [0.18, 0.2] },
              { domain: 'clay.example', own: false, shares: [null, 0.4] },
            ],
      })),
      answer(readKeptVoices, () => ({ jobId: 9 })),
      answer(listGlances, () => [
        {
          siteId: 2,
          name: 'Clay',
          domain: 'clay.example',
          market,
          tracked: 40,
          day: '2026-11-10',
          visibility: 12.34,
          change: -4.2,
          entered: 1,
          left: 6,
          look: ['Visibility fell by 4.2 points', '2 planned pages are late'],
        },
        {
          siteId: 1,
          name: 'Kiln & Tide',
          domain: 'kilnandtide.example',
          market,
          tracked: 0,
          day: null,
          visibility: null,
          change: null,
          entered: null,
          left: null,
          look: [],
        },
      ]),
    ],
    path,
  )

test('share of voice says whose visits they are, how that changed, and what is left out', async () => {
  show('/1/track?see=voice')
  const summary = await screen.findByRole('region', { name: 'Summary' })
  expect(summary.textContent).toContain('20%of the visits that the first twenty results of 120 tracked keywords give')
  expect(summary.textContent).toContain('up 1.6 points since the results before')
  expect(summary.textContent).toContain('20 tracked keywords without results or known searches left out')
  expect(summary.textContent).toContain('changes are over the 90 of which earlier results are known')
  expect(screen.getByText('down 2.1 points')).toBeTruthy()
  expect(screen.getByRole('link', { name: 'clay.example' }).getAttribute('href')).toBe(
    '/1/rivals?market=1&of=clay.example&see=keywords',
  )
  const theme = screen.getByText('kiln').closest('tr')!
  expect(theme.textContent).toBe('kiln1260010%clay.example50%')
  expect(screen.getByRole('heading', { name: 'By label' })).toBeTruthy()
  expect(screen.getByText('wheels').closest('tr')!.textContent).toBe('wheels39040%kilnandtide.example40%')
  const byDay = await screen.findByRole('region', { name: 'Share of voice by day' })
  expect(within(byDay).getByText('clay.example')).toBeTruthy()
  expect(within(byDay).getByText('you, Nov 20, 2026: 18%')).toBeTruthy()
})

test('any site is added to the shares by day, and its history is read off the pages that are kept', async () => {
  const { user, bodies, requests } = show('/1/track?see=voice')
  const field = await screen.findByRole('textbox', { name: 'Another site' })
  await user.type(field, 'clay.example{Enter}')
  expect(await screen.findByText('It is drawn already')).toBeTruthy()
  await user.clear(field)
  await user.type(field, 'https://www.late.example/shop{Enter}')
  await waitFor(() => expect(bodies(readKeptVoices)).toEqual([{ marketId: 1, sites: ['late.example'] }]))
  expect(await screen.findByRole('button', { name: 'Draw late.example no longer' })).toBeTruthy()
  await waitFor(() => expect(requests.at(-1)!.url).toContain('sites=late.example'))
  await user.click(screen.getByRole('button', { name: 'Read earlier days off kept result pages' }))
  await waitFor(() => expect(bodies(readKeptVoices)).toHaveLength(2))
})

test('without results it says what to do', async () => {
  show('/1/track?see=voice', true)
  expect(await screen.findByText(/Of 20 tracked keywords neither is known: check positions once/)).toBeTruthy()
})

test('own pages unfold to their keywords, and say where they took the place of another', async () => {
  const { user } = show('/1/track?see=pages')
  const page = await screen.findByRole('button', { name: '/a' })
  expect(page.closest('tr')!.textContent).toBe("/a210063took another page's place for 1 keyword")
  expect(screen.queryByText('raku kiln')).toBeNull()
  await user.click(page)
  expect((await screen.findByText('raku kiln')).closest('tr')!.textContent).toContain('before: /b')
  expect(
    await screen.findByRole('img', {
      name: 'visits a month by day: 40 on Nov 1, 100 on Nov 4, at most 100',
    }),
  ).toBeTruthy()
  expect(screen.getByText(/of 2 keywords now, 2 at most/)).toBeTruthy()
  expect(footText()).toContain('2 pages found for tracked keywords; for 1 keyword none was')
})
test('pages count forms of one keyword once, and unknown visits are not none', () => {
  const [a, c] = pagesOf([
    madeRow(1, 'kiln', { now: 1, family: 7, searches: 100, visits: 30, page: '/a' }),
    madeRow(2, 'kilns', { now: 1, family: 7, searches: 100, visits: 30, page: '/a' }),
    madeRow(3, 'raku', { now: 2, family: 8, searches: null, visits: null, page: '/c' }),
  ])
  expect([a!.visits, a!.rows.length, c!.visits]).toEqual([30, 2, null])
})

test('all sites stand with what needs a look, and lead to their own screens', async () => {
  show('/1/track?see=sites')
  const clay = (await screen.findByRole('link', { name: 'Clay' })).closest('tr')!
  expect(clay.textContent).toContain('12.3down 4.216')
  expect(clay.textContent).toContain('Visibility fell by 4.2 points; 2 planned pages are late')
  expect(within(clay).getByRole('link').getAttribute('href')).toBe('/2/track?market=1')
  const mine = screen.getByRole('link', { name: 'Kiln & Tide' }).closest('tr')!
  expect(mine.textContent).toContain('unknown')
  expect(mine.textContent).toContain('never')
})
