// @vitest-environment jsdom
import { checkAgain, listCheckFailures, listCheckRuns } from '@dew-trail/contract/check-runs'
import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { CheckRuns } from './CheckRuns.tsx'

const run = {
  id: 7,
  marketId: null,
  scheduled: true,
  late: true,
  beganAt: '2026-11-20T06:40:00.000Z',
  endedAt: '2026-11-20T06:55:00.000Z',
  requested: 40,
  checked: 36,
  failed: 3,
  checkedLater: 2,
}
const show = (runs = [run]) =>
  showScreen(<CheckRuns timeZone="UTC" />, [
    answer(listCheckRuns, () => runs),
    answer(checkAgain, () => ({ jobId: 3 })),
    answer(listCheckFailures, () => [
      {
        keywordId: 1,
        phrase: 'kick wheel',
        marketId: 1,
        what: 'The engine is out of order',
        tries: 2,
        checkedAt: null,
      },
      { keywordId: 2, phrase: 'raku', marketId: 1, what: 'x', tries: 1, checkedAt: '2026-11-20T09:00:00.000Z' },
    ]),
  ])

test('a check says when, by whom, how late and how much; what it could not ask unfolds and is asked again', async () => {
  const { user, requests } = show()
  const row = (await screen.findByText('36 of 40')).closest('tr')!
  expect(
    within(row)
      .getAllByRole('cell')
      .map(cell => cell.textContent),
  ).toEqual([expect.stringContaining('Nov 20'), 'all markets', 'schedule, late', '36 of 40', '3', '1', 'Ask again'])
  await user.click(within(row).getByRole('button', { name: '3' }))
  const list = await screen.findByRole('list', { name: 'What it could not ask' })
  expect(
    within(list)
      .getAllByRole('listitem')
      .map(each => each.textContent),
  ).toEqual([
    expect.stringContaining('The engine is out of order; tried 2 times'),
    expect.stringContaining('checked after all'),
  ])
  await user.click(screen.getByRole('button', { name: 'Ask again' }))
  expect(await screen.findByText('Asking again for 3 of this check')).toBeTruthy()
  expect(requests.filter(({ spec }) => spec === checkAgain)).toHaveLength(1)
})

test('one that is under way is not told to have left anything; earlier ones are a click away', async () => {
  const { user } = show(
    Array.from({ length: 12 }, (_, i) => ({
      ...run,
      id: i + 1,
      failed: 0,
      checkedLater: 0,
      endedAt: i ? run.endedAt : (null as never),
    })),
  )
  expect(await screen.findByText('not at its end')).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Ask again' })).toBeNull()
  expect(screen.getAllByText('36 of 40')).toHaveLength(8)
  await user.click(screen.getByRole('button', { name: '4 earlier checks' }))
  expect(screen.getAllByText('36 of 40')).toHaveLength(12)
})
