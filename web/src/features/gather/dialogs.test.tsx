// @vitest-environment jsdom
import { listBrands, saveBrands } from '@dew-trail/contract/brands'
import { askNames, listNames } from '@dew-trail/contract/gather'
import { loadLog, readClickCurves, readLogState } from '@dew-trail/contract/log'
import { screen, waitFor, within } from '@testing-library/react'
import { afterEach, describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import type { Row } from '../../rows/row-source.ts'
import BrandDialog from './BrandDialog.tsx'
import { CompareDialog } from '../../keywords/CompareDialog.tsx'
import DomainNamesDialog from './DomainNames.tsx'
import LogDialog from './LogDialog.tsx'

afterEach(() => localStorage.clear())
const nothing = () => undefined
// A picture is tested on its own; here a canvas would only be missing.
vi.mock('../../pictures/ClickCurveChart.tsx', () => ({ ClickCurveChart: () => null }))

describe('brand words', () => {
  const own = { owner: 'kilnandtide.example', own: true, words: ['kiln & tide'] }
  test('are changed and saved without empty ones; the own site cannot be taken away', async () => {
    const close = vi.fn()
    const { user, requests } = showScreen(<BrandDialog onClose={close} />, [
      answer(listBrands, () => [own, { owner: 'clayharbour.example', own: false, words: ['clay harbour'] }]),
      answer(saveBrands, ({ body }) => ({ actId: 90, brands: body.brands as never })),
    ])
    const words = await screen.findByRole('textbox', { name: 'Words of clayharbour.example' })
    expect(screen.queryByRole('button', { name: 'Remove kilnandtide.example' })).toBeNull()
    await user.type(words, ', , harbour clay ')
    await user.click(screen.getByRole('button', { name: 'Add a rival' }))
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(close).toHaveBeenCalled())
    expect(requests.find(({ spec }) => spec === saveBrands)!.body).toEqual({
      brands: [own, { owner: 'clayharbour.example', own: false, words: ['clay harbour', 'harbour clay'] }],
    })
  })
  test('a refusal leaves the dialog open with what was typed', async () => {
    const close = vi.fn()
    const { user } = showScreen(<BrandDialog onClose={close} />, [
      answer(listBrands, () => [own]),
      answer(saveBrands, () => new Error('A brand word has two letters or more')),
    ])
    await user.type(await screen.findByRole('textbox', { name: 'Words of kilnandtide.example' }), ', k')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText('A brand word has two letters or more')).toBeTruthy()
    expect(close).not.toHaveBeenCalled()
    expect(screen.getByDisplayValue('kiln & tide, k')).toBeTruthy()
  })
})

describe('domain names', () => {
  const rows = [{ id: 1, phrase: 'kick wheel' } as Row, { id: 2, phrase: '"…"' } as Row]
  const known = answer(listNames, () => [
    { keywordId: 1, name: 'kickwheel.example', free: false },
    { keywordId: 1, name: 'kickwheel.shop.example', free: null },
  ])
  test('what is known of them, a line each, also for keywords that make none; asking is a job', async () => {
    const { user, bodies } = showScreen(
      <DomainNamesDialog ids={[1, 2]} onClose={nothing} />,
      [known, answer(askNames, () => ({ jobId: 4 }))],
      '/1',
      { rows: async () => rows },
    )
    expect((await screen.findByText('kickwheel.example')).closest('tr')!.textContent).toContain('taken')
    // What the registry did not answer is neither free nor taken.
    expect(screen.getByText('kickwheel.shop.example').closest('tr')!.textContent).toContain('not known')
    expect(screen.getByText('makes no domain name').closest('tr')!.textContent).toContain('"…"')
    await user.clear(screen.getByLabelText('Endings, separated by commas'))
    await user.type(screen.getByLabelText('Endings, separated by commas'), '.example, .shop.example')
    await user.click(screen.getByRole('button', { name: 'Ask about 2 keywords' }))
    expect(await screen.findByText(/Asking the registry about 2 keywords/)).toBeTruthy()
    expect(bodies(askNames)).toEqual([{ keywordIds: [1, 2], endings: ['.example', '.shop.example'] }])
  })
  test('of many keywords the first are listed, and all are asked about', async () => {
    const ids = Array.from({ length: 2_000 }, (_, i) => i + 1)
    const { user, bodies } = showScreen(
      <DomainNamesDialog ids={ids} onClose={nothing} />,
      [known, answer(askNames, () => ({ jobId: 4 }))],
      '/1',
      { rows: async wanted => rows.filter(row => wanted!.includes(row.id)) },
    )
    expect(await screen.findByText('The first 20 of 2,000; the sheet tells of all.')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Ask about 2,000 keywords' }))
    await waitFor(() => expect(bodies(askNames)[0]).toMatchObject({ keywordIds: ids }))
    expect(bodies(listNames)[0]).toMatchObject({ keywordIds: ids.slice(0, 20) })
  })
})

describe('keywords side by side', () => {
  const row = (id: number, phrase: string, more: Partial<Row> = {}): Row =>
    ({ id, phrase, months: [null], monthsEnd: null, terrain: null, ownLevel: null, ...more }) as Row
  const columns = [
    { key: 'phrase', label: 'keyword', render: () => 'not shown' },
    { key: 'searches', label: 'searches', render: (each: Row) => String(each.searches ?? 'unknown') },
    { key: 'hidden', label: 'hidden', conditionOnly: true, render: () => 'not shown' },
  ] as never
  test('five at most, a column each; unknown stays unknown, and who was not weighed has no line', async () => {
    const requests: Array<number[] | undefined> = []
    showScreen(<CompareDialog ids={[1, 2, 3, 4, 5, 6]} columns={columns} onClose={nothing} />, [], '/1', {
      rows: async ids => {
        requests.push(ids)
        return [row(1, 'kick wheel', { searches: 90, terrain: [60, 40], ownLevel: 50 }), row(2, 'raku kiln')]
      },
    })
    expect(await screen.findByRole('columnheader', { name: 'kick wheel' })).toBeTruthy()
    expect(requests).toEqual([[1, 2, 3, 4, 5]])
    const searches = screen.getByRole('rowheader', { name: 'searches' }).closest('tr')!
    expect(
      within(searches)
        .getAllByRole('cell')
        .map(cell => cell.textContent),
    ).toEqual(['90', 'unknown'])
    expect(screen.queryByText('not shown')).toBeNull()
    expect(screen.getByText(/Keywords that were not weighed have no line/)).toBeTruthy()
  })
})

describe('the own query log', () => {
  const loaded = {
    property: 'site:kilnandtide.example',
    name: 'Kiln & Tide',
    lastDay: null,
    loadedAt: null,
    queries: 1_200,
    impressions: 48_000,
    clicks: 900,
    gatheringId: 3,
  }
  const curves = answer(readClickCurves, () => [
    {
      device: 'desktop' as const,
      brand: false,
      fittedAt: null,
      positions: [{ position: 1, standard: 0.28, fitted: null, used: 0.28, impressions: 12 }],
    },
  ])
  test('the first property is loaded, for as many weeks as are chosen', async () => {
    const close = vi.fn()
    const { user, requests } = showScreen(<LogDialog onClose={close} onImport={nothing} />, [
      answer(readLogState, () => ({
        available: [{ property: 'site:kilnandtide.example', name: 'Kiln & Tide' }],
        problem: null,
        loaded: [loaded],
      })),
      answer(loadLog, () => ({ jobId: 2 })),
      curves,
    ])
    await user.click(await screen.findByRole('combobox', { name: 'Weeks' }))
    await user.click(await screen.findByRole('option', { name: '26 weeks' }))
    await user.click(screen.getByRole('button', { name: 'Load' }))
    await waitFor(() => expect(close).toHaveBeenCalled())
    expect(requests.find(({ spec }) => spec === loadLog)!.body).toEqual({
      marketId: 1,
      property: 'site:kilnandtide.example',
      weeks: 26,
    })
  })
  test('says what was loaded, that a curve rests on too little, and why the source cannot be asked', async () => {
    showScreen(<LogDialog onClose={nothing} onImport={nothing} />, [
      answer(readLogState, () => ({ available: [], problem: 'The token was refused', loaded: [loaded] })),
      curves,
    ])
    expect((await screen.findByRole('alert')).textContent).toBe('The token was refused')
    expect(screen.getByText('48,000').closest('tr')!.textContent).toContain('not yet')
    expect(await screen.findByText(/not enough impressions for a curve of your own/)).toBeTruthy()
  })
})
