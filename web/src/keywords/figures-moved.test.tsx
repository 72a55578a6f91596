// @vitest-environment jsdom
import { type Job, listJobs } from '@dew-trail/contract/jobs'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, expect, test } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { FiguresMoved } from './FiguresMoved.tsx'

const job = (more: Partial<Job>): Job => ({
  id: 7,
  siteId: 1,
  kind: 'learn',
  state: 'done',
  stopping: false,
  title: 'Learning what ranks',
  done: 1,
  total: 1,
  secondsLeft: null,
  warnings: [],
  error: null,
  createdAt: new Date(Date.now() - 60_000).toISOString(),
  endedAt: new Date(Date.now() - 30_000).toISOString(),
  result: {
    moved: {
      marketId: 1,
      before: { keywords: 40, difficulty: 31.4, chance: 0.2, visits: 12_300 },
      after: { keywords: 40, difficulty: 27.6, chance: 0.2, visits: null },
    },
  },
  ...more,
})
const show = (jobs: Job[]) => showScreen(<FiguresMoved />, [answer(listJobs, () => jobs)])
afterEach(() => localStorage.clear())

test('figures of all rows that were worked out again are said with before and after, until that is understood', async () => {
  const { user } = show([job({ id: 8, kind: 'weigh', result: null }), job({})])
  const line = await screen.findByRole('status')
  expect(line.textContent).toMatch(
    /^Figures of all keywords moved on .+, as what makes a result strong was learnt from first pages: median difficulty 31 → 28, visits a month 12,300 → unknown\./,
  )
  expect(screen.getByRole('link', { name: 'What ranks here' }).getAttribute('href')).toBe('/1/weigh/strengths?market=1')
  await user.click(screen.getByRole('button', { name: 'Understood' }))
  expect(screen.queryByRole('status')).toBeNull()
  expect(localStorage.getItem('moved:1:1')).toBe('7')
})

test.each([
  ['of another market', { result: { moved: { ...(job({}).result!.moved as object), marketId: 2 } } }],
  ['of a week ago', { endedAt: new Date(Date.now() - 8 * 86_400_000).toISOString() }],
  ['that moved nothing to be seen', { result: { moved: { marketId: 1, before: same(31.4), after: same(31.1) } } }],
  ['that is not over', { endedAt: null }],
])('nothing is said %s', async (_name, more) => {
  const { requests } = show([job(more as Partial<Job>)])
  await waitFor(() => expect(requests.some(each => each.spec === listJobs)).toBe(true))
  expect(screen.queryByRole('status')).toBeNull()
})
function same(difficulty: number) {
  return { keywords: 4, difficulty, chance: 0.2, visits: 10 }
}
