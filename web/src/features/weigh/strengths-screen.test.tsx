// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
import { getStrengths, learnStrengths, readPredictions, type Strengths } from '@dew-trail/contract/weigh'
import { screen, within } from '@testing-library/react'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import StrengthsScreen from './StrengthsScreen.tsx'

const line = (x: number[], y: number[]) => ({ log: false, x, y })
const strengths = (more: Partial<Strengths> = {}): Strengths => ({
  engine: 'lantern',
  device: 'desktop',
  marketId: 1,
  learnt: true,
  fittedAt: '2026-11-20T08:00:00Z',
  pages: 240,
  needed: 100,
  sample: 300,
  keywords: 400,
  weighedSince: 12,
  curves: {
    fit: line([0, 100], [-1, 1]),
    siteStanding: line([0, 50, 100], [-2, 0, 2.5]),
    trust: line([0], [0]),
  },
  siteEffects: {
    sites: 40,
    own: -0.25,
    highest: [{ domain: 'tarrowcollege.example', adds: 1.5 }],
    lowest: [{ domain: 'bazaarbay.example', adds: -1.25 }],
  },
  thresholds: [{ position: 10, slope: 1.2, offset: 0 }],
  report: {
    pages: 240,
    pairs: 60_000,
    pairAccuracy: 0.871,
    defaultAccuracy: 0.8,
    standingAccuracy: 0.75,
    reliability: [{ from: 0.4, to: 0.5, count: 90, predicted: 0.45, happened: 0.41 }],
    calibrationError: 0.012,
  },
  ...more,
})
const show = (list: Strengths[] | Error, path?: string) =>
  showScreen(
    <StrengthsScreen />,
    [
      answer(getStrengths, () => list),
      answer(listJobs, () => []),
      answer(readPredictions, () => ({
        rows: [],
        sum: { count: 0, expected: 0, happened: 0, spread: 0, verdict: 'few' as const },
      })),
      answer(learnStrengths, () => ({ jobId: 3 })),
    ],
    path,
  )
// A chart needs a canvas, which is not here.
vi.mock('./ReliabilityChart.tsx', () => ({ ReliabilityChart: () => null }))

describe('what ranks', () => {
  test('says how well it was learnt, against the default and site standing alone', async () => {
    show([strengths()])
    const sentence = (await screen.findByText(/Of any two results/)).textContent
    expect(sentence).toMatch(/240 result pages.*87%.*80%.*75%/s)
    expect(screen.getByText(/The chances were off by/).textContent).toContain('1%')
  })
  test('features come by how much they add; one that is known of no result says so', async () => {
    show([strengths()])
    const section = (await screen.findByText('What makes a result strong')).closest('section')!
    const rows = within(section).getAllByRole('row').slice(1)
    expect(rows.map(row => within(row).getAllByRole('cell').at(-1)!.textContent)).toEqual(['4.5', '2', '–'])
    expect(within(rows[2]!).getByText('not known of any result')).toBeTruthy()
  })
  test('siteEffects are told with their sign, the own site first', async () => {
    show([strengths()])
    const section = (await screen.findByText('What sites add')).closest('section')!
    expect(
      within(section)
        .getAllByRole('row')
        .map(row => row.textContent),
    ).toEqual(['your site−0.25', 'tarrowcollege.example+1.50', 'bazaarbay.example−1.25'])
  })
  test('before anything is learnt the default is named, and what is wanted', async () => {
    show([
      strengths({
        learnt: false,
        report: null,
        fittedAt: null,
        pages: 0,
        siteEffects: { sites: 0, own: null, highest: [], lowest: [] },
      }),
    ])
    expect((await screen.findByText(/documented default weights are in use/)).textContent).toContain(
      'up to 300 result pages',
    )
    expect(screen.queryByText('What sites add')).toBeNull()
  })
  test('each engine and device is shown on its own, by the address', async () => {
    const other = strengths({ engine: 'plover', device: 'mobile', learnt: false, report: null, fittedAt: null })
    const { user } = show([strengths(), other], '/1/weigh/strengths')
    await user.click(await screen.findByRole('button', { name: /Plover, mobile/ }))
    expect(screen.getByRole('button', { name: /Plover, mobile/ }).getAttribute('aria-pressed')).toBe('true')
    expect(await screen.findByText(/documented default weights are in use/)).toBeTruthy()
  })
  test('an error of the server is said', async () => {
    show(new Error('The site is gone'))
    expect((await screen.findByRole('alert')).textContent).toBe('The site is gone')
  })
})
