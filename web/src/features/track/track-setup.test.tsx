// @vitest-environment jsdom
import { listSources } from '@dew-trail/contract/sources'
import {
  keywordHistory,
  listCandidates,
  readKeptResults,
  resultHistory,
  startTracking,
} from '@dew-trail/contract/track'
import { screen, waitFor, within } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import TrackSetup from './TrackSetup.tsx'

vi.mock('../../pictures/HistoryChart.tsx', () => ({
  default: ({ lines }: { lines: Array<{ label: string }> }) => <p>{lines.map(line => line.label).join(' + ')}</p>,
}))

const candidate = (i: number, more = {}) => ({
  phrase: `kiln ${i}`,
  searches: 1_000 - i,
  clicks: 90 - i,
  position: null,
  tracked: false,
  ...more,
})
const show = (onClose = () => undefined) =>
  showScreen(
    <TrackSetup onClose={onClose} />,
    [
      answer(listSources, () => []),
      answer(listCandidates, () => ({ all: 40, keywords: Array.from({ length: 40 }, (_, i) => candidate(i)) })),
      answer(startTracking, () => ({ tracked: 2, made: 1, actId: 5 })),
    ],
    '/1/track?setup=open',
  )

test('pasted lines are counted once each, with what a check costs; too long ones are said', async () => {
  const { user, bodies } = show()
  const lines = await screen.findByLabelText('Keywords, one a line')
  expect((screen.getByRole('button', { name: 'Track them' }) as HTMLButtonElement).disabled).toBe(true)
  await user.click(lines)
  await user.paste(`kick wheel\n  kick   wheel \n\npinch pot\n${'x'.repeat(201)}`)
  expect(screen.getByText('1 line of over 200 characters')).toBeTruthy()
  expect((screen.getByRole('button', { name: 'Track 3 keywords' }) as HTMLButtonElement).disabled).toBe(true)
  await user.clear(lines)
  await user.paste('kick wheel\npinch pot')
  expect(screen.getByText(/2 keywords in 1 market: 2 requests a day/)).toBeTruthy()
  await user.type(screen.getByLabelText('Label (may be empty)'), 'Core')
  await user.click(screen.getByRole('button', { name: 'Track 2 keywords' }))
  await waitFor(() =>
    expect(bodies(startTracking)).toEqual([
      { marketIds: [1], phrases: ['kick wheel', 'pinch pot'], label: 'Core', rhythm: { every: 'day', hour: 6 } },
    ]),
  )
})

test('of the query log so many are taken as are wanted, and shown with their clicks', async () => {
  const { user, bodies } = show()
  await user.click(await screen.findByRole('combobox', { name: 'From' }))
  await user.click(await screen.findByRole('option', { name: 'The query log, most clicks first' }))
  const row = (await screen.findByText('kiln 0')).closest('tr')!
  expect(row.textContent).toBe('kiln 01,000 searches90 clicks')
  expect(screen.getByText('and 32 more')).toBeTruthy()
  const most = screen.getByLabelText('How many, of 40')
  await user.clear(most)
  await user.type(most, '3')
  await user.click(screen.getByRole('checkbox', { name: 'Check these markets every day at 6' }))
  expect(screen.getByText(/3 keywords in 1 market: 3 requests a check/)).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Track 3 keywords' }))
  await waitFor(() =>
    expect(bodies(startTracking)).toEqual([{ marketIds: [1], phrases: ['kiln 0', 'kiln 1', 'kiln 2'] }]),
  )
})

test('a keyword shows its rivals as lines that can be left out, and two kept result pages beside each other', async () => {
  const result = (position: number, domain: string, own = false) => ({
    position,
    domain,
    url: `https://${domain}/a`,
    own,
  })
  const pages: Record<string, ReturnType<typeof result>[]> = {
    '2026-11-28': [result(1, 'clay.example'), result(2, 'kilnandtide.example', true)],
    '2026-11-29': [result(1, 'kilnandtide.example', true), result(2, 'clay.example'), result(3, 'new.example')],
  }
  const { user } = showScreen(
    <HistoryDetails keywordId={7} />,
    [
      answer(keywordHistory, () => ({
        keywordId: 7,
        phrase: 'raku kiln',
        from: '2026-11-28',
        to: '2026-11-29',
        markets: [{ marketId: 1, positions: [2, 1] }],
        pages: [],
      })),
      answer(resultHistory, () => ({
        rivals: [{ domain: 'clay.example', positions: [1, 2] }],
        kept: ['2026-11-29', '2026-11-28'],
      })),
      answer(readKeptResults, ({ url }) => {
        const day = new URL(url, 'http://x').searchParams.get('day')!
        return { day, depth: 100, results: pages[day]! }
      }),
    ],
    '/1/track',
  )
  expect(await screen.findByText('Lantern · Tarrow · English · desktop + clay.example')).toBeTruthy()
  await user.click(screen.getByRole('checkbox', { name: 'clay.example' }))
  expect(await screen.findByText('Lantern · Tarrow · English · desktop', { selector: 'p' })).toBeTruthy()
  await user.selectOptions(await screen.findByRole('combobox', { name: 'Result page of' }), '2026-11-29')
  await user.selectOptions(await screen.findByRole('combobox', { name: 'beside that of' }), '2026-11-28')
  const later = await screen.findByRole('table', { name: 'Results of Nov 29, 2026' })
  await waitFor(() =>
    expect([...later.querySelectorAll('tbody tr')].map(row => row.textContent)).toEqual([
      '1kilnandtide.example/aup 1',
      '2clay.example/adown 1',
      '3new.example/anew',
    ]),
  )
  const earlier = screen.getByRole('table', { name: 'Results of Nov 28, 2026' })
  expect(within(earlier).getAllByRole('row')).toHaveLength(3)
})
