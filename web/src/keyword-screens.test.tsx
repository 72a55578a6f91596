// @vitest-environment jsdom
import { askFigures, type Gathering, keepKeywords, listGatherings, startGathering } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { listPages } from '@dew-trail/contract/plan'
import { listLists } from '@dew-trail/contract/lists'
import { changeSite } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { listViews, saveView } from '@dew-trail/contract/views'
import { getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import { screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../test/show-screen.tsx'
import WeighScreen from './features/weigh/WeighScreen.tsx'
import GatherScreen from './features/gather/GatherScreen.tsx'
import { type MadeKeyword, madeKeywords } from '../test/made-keywords.ts'

beforeEach(() => localStorage.clear())

const wheel: Gathering = {
  id: 4,
  parentId: null,
  seed: 'pottery wheel',
  marketId: 1,
  ways: ['completions'],
  found: 3,
  startedAt: '2026-11-20T10:00:00Z',
  jobId: null,
  state: 'done',
  conditions: { must: [], leaveOut: [], searches: null, cpc: null, wordsFrom: null, wordsTo: null },
  short: [],
  dropped: {},
  pruned: false,
  warnings: [],
}
const five: MadeKeyword[] = [
  { id: 1, phrase: 'pottery wheel', searches: 900, cpc: 1.2, gatherings: '4', family: 1 },
  { id: 2, phrase: 'pottery wheels', searches: 900, cpc: 1.4, gatherings: '4', family: 1, kept: true },
  {
    id: 3,
    phrase: 'cheap pottery wheel',
    searches: 200,
    gatherings: '4',
    kept: true,
    difficulty: 41,
    visits: 12,
    worth: 9,
  },
  { id: 4, phrase: 'what is slip', searches: null, demandState: 'nothing', kind: 'question', kept: true },
  { id: 5, phrase: 'old seed', searches: 5_000, pruned: true },
]
const answers = (more: ReturnType<typeof answer>[] = []) => [
  ...more,
  answer(listGatherings, () => [wheel]),
  answer(listLists, () => []),
  answer(listViews, () => []),
  answer(listJobs, () => []),
  answer(listPages, () => []),
  answer(getFirstPage, () => null),
  answer(keepKeywords, ({ body }) => ({ actId: 31, changed: (body.keywordIds as number[]).filter(id => id !== 2) })),
  answer(trackKeywords, ({ body }) => ({ actId: 32, changed: body.keywordIds as number[] })),
  answer(startWeighing, ({ body }) => ({
    jobId: 7,
    count: (body.keywordIds as number[] | undefined)?.length ?? 3,
    fresh: 0,
  })),
  answer(startGathering, () => ({ jobs: [{ gatheringId: 8, jobId: 1 }] })),
  answer(askFigures, () => ({ jobId: 9 })),
  answer(saveView, ({ body }) => ({ id: 3, ...(body as { sheet: string; name: string; state: never }) })),
  answer(changeSite, () => null as never),
]
type Options = { keywords?: MadeKeyword[]; path?: string; more?: ReturnType<typeof answer>[] }
const show = async (element: React.ReactNode, { keywords = five, path = '/1/gather', more = [] }: Options = {}) => {
  const source = madeKeywords(keywords)
  const shown = showScreen(element, answers(more), path, source)
  return { ...shown, source }
}
const phrases = (): string[] => sheetRows().map(row => row.querySelector('.keyword-name')!.textContent!)
const inOrder = (wanted: string[]) => waitFor(() => expect(phrases()).toEqual(wanted))
const all = ['pottery wheel', 'pottery wheels', 'cheap pottery wheel', 'what is slip']

describe('keywords that were found', () => {
  test('a position is told of the day of its results, also where the keyword was never weighed', async () => {
    const found = { position: 7, positionState: 'weighed', resultsOn: '2026-11-02', gatherings: '4' }
    await show(<GatherScreen />, { keywords: [{ id: 1, phrase: 'slip trailing', searches: 90, ...found }] })
    await inOrder(['slip trailing'])
    expect(screen.getByTitle('On the result page of Nov 2, 2026; not tracked').textContent).toBe('7')
  })
  test('are listed without what was pruned; sums leave out what is unknown and count one figure of a family once', async () => {
    await show(<GatherScreen />)
    await inOrder(all)
    await waitFor(() => expect(footText()).toContain('4 shown of 4'))
    expect(footText()).toContain('1,100 searches/mo, 1 unknown, 1 form counted once')
    expect(footText()).toContain('CPC, median 1.30')
    expect(within(sheetRows()[3]!).getAllByText('unknown').length).toBeGreaterThan(0)
  })
  test('Y keeps the selected ones and says how many were not kept before; undo takes back that act', async () => {
    const { user, bodies, undone } = await show(<GatherScreen />)
    await inOrder(all)
    sheetRows()[0]!.focus()
    await user.keyboard('x{ArrowDown}xy')
    expect(await screen.findByText('1 keyword kept')).toBeTruthy()
    expect(bodies(keepKeywords)).toEqual([{ keywordIds: [1, 2], kept: true }])
    await user.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(undone()).toEqual([31]))
  })
  test('what is done serves the selected rows in sight, says what it left out, and ends the selection; undo brings it back', async () => {
    const { user, bodies } = await show(<GatherScreen />)
    await inOrder(all)
    sheetRows()[0]!.focus()
    await user.keyboard('x{ArrowDown}{ArrowDown}x')
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'cheap')
    await inOrder(['cheap pottery wheel'])
    expect(await screen.findByText(', 1 of them hidden by conditions')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Track' }))
    expect(
      await screen.findByText('1 keyword sent to tracking; 1 selected row that conditions hide left out'),
    ).toBeTruthy()
    expect(bodies(trackKeywords)).toEqual([{ keywordIds: [3], tracked: true }])
    expect(footText()).not.toContain('selected')
    await user.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(footText()).toContain('2 selected'))
  })
  test('with all selected rows out of sight nothing is done', async () => {
    const { user, bodies } = await show(<GatherScreen />)
    await inOrder(all)
    sheetRows()[3]!.focus()
    await user.keyboard('x')
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'cheap')
    await inOrder(['cheap pottery wheel'])
    await user.click(screen.getByRole('button', { name: 'Track' }))
    expect(await screen.findByText('Nothing was done: 1 selected row that conditions hide left out')).toBeTruthy()
    expect(bodies(trackKeywords)).toEqual([])
  })
  test('letters do what the controls say: weigh, track, gather, ask for figures, put on a page', async () => {
    const { user, bodies } = await show(<GatherScreen />)
    await inOrder(all)
    sheetRows()[2]!.focus()
    await user.keyboard('wtgf')
    expect(bodies(startWeighing)).toMatchObject([{ keywordIds: [3], marketId: 1, again: true }])
    expect(bodies(trackKeywords)).toEqual([{ keywordIds: [3], tracked: true }])
    await waitFor(() => expect(bodies(startGathering)).toMatchObject([{ seeds: ['cheap pottery wheel'] }]))
    expect(bodies(askFigures)).toEqual([{ marketId: 1, keywordIds: [3] }])
    await user.keyboard('p')
    // The dialog is loaded when it is first wanted.
    expect(await screen.findByText(/Put "cheap pottery wheel" on a page/, {}, { timeout: 8_000 })).toBeTruthy()
  })
  test('forms of one keyword stand under the one that is searched most, and V shows them', async () => {
    const { user } = await show(<GatherScreen />)
    await inOrder(all)
    await user.click(screen.getByRole('button', { name: 'Fold forms' }))
    await inOrder(['pottery wheel', 'cheap pottery wheel', 'what is slip'])
    expect(sheetRows()[0]!.textContent).toContain('+1')
    sheetRows()[0]!.focus()
    await user.keyboard('v')
    await inOrder(all)
    await user.keyboard('v')
    await inOrder(['pottery wheel', 'cheap pottery wheel', 'what is slip'])
    expect(localStorage.getItem('fold:gather')).toBe('yes')
  })
  test('a seed shows what it found, as a list or as a tree of words', async () => {
    const { user, bodies, saved } = await show(<GatherScreen />)
    await user.click(await screen.findByRole('button', { name: /^pottery wheel/ }))
    await inOrder(all.slice(0, 3))
    await user.click(screen.getByRole('button', { name: 'As a tree' }))
    const tree = await screen.findByRole('tree', { name: 'Words around pottery wheel' })
    expect((await within(tree).findAllByRole('treeitem')).map(each => each.getAttribute('aria-label'))).toEqual([
      'before: cheap, 1 phrase, 200 searches a month',
    ])
    within(tree).getByRole('treeitem').focus()
    await user.keyboard('{Enter}')
    await waitFor(() => expect(bodies(keepKeywords)).toEqual([{ keywordIds: [3], kept: true }]))
    await user.click(screen.getByRole('button', { name: 'CSV' }))
    expect(saved[0]!.name).toBe('kilnandtide.example-pottery-wheel.csv')
    expect(await linesOf(saved[0]!)).toContain('cheap pottery wheel,200')
    await user.click(screen.getByRole('button', { name: 'As a list' }))
    await inOrder(all.slice(0, 3))
  })
  test('nothing found yet says what to do; nothing that meets the conditions, how to see more', async () => {
    const { user, source } = await show(<GatherScreen />, { keywords: [] })
    expect(await screen.findByText('Gather the first keywords')).toBeTruthy()
    source.put({ ids: [1], columns: { phrase: ['raku kiln'], pruned: [false], family: [1] } }, false)
    await user.type(await screen.findByRole('textbox', { name: 'Contains' }), 'zzz')
    await user.click(await screen.findByRole('button', { name: 'Clear all conditions' }))
    await inOrder(['raku kiln'])
  })
})

describe('what is on screen', () => {
  test('is saved with its columns, conditions and order, the selected rows where there are any', async () => {
    const { user, saved } = await show(<GatherScreen />)
    await inOrder(all)
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'wheel')
    await inOrder(all.slice(0, 3))
    const save = async (): Promise<string[]> => {
      await user.click(screen.getByRole('button', { name: 'Export' }))
      await user.click((await screen.findAllByRole('menuitem', { name: 'CSV' }))[0]!)
      return linesOf(saved.at(-1)!)
    }
    const lines = await save()
    expect(saved[0]!.name).toBe('kilnandtide.example-keywords.csv')
    expect(lines[0]).toMatch(/^Keyword,Searches,/)
    expect(lines.slice(1).map(line => line.split(',')[0])).toEqual(all.slice(0, 3))
    sheetRows()[1]!.focus()
    await user.keyboard('x')
    expect((await save()).slice(1).map(line => line.split(',')[0])).toEqual(['pottery wheels'])
  })
  test('is copied for a sheet', async () => {
    const { user } = await show(<GatherScreen />)
    await inOrder(all)
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(await screen.findByRole('menuitem', { name: 'Copy' }))
    expect(await screen.findByText('4 rows copied, ready to paste into a sheet')).toBeTruthy()
    expect((await navigator.clipboard.readText()).split('\n')[1]).toMatch(/^pottery wheel\t900\t/)
  })
  test('its keywords alone are copied, one a line', async () => {
    const { user } = await show(<GatherScreen />)
    await inOrder(all)
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(await screen.findByRole('menuitem', { name: 'Copy “Keyword” alone, one a line' }))
    expect(await screen.findByText('4 lines copied')).toBeTruthy()
    expect(await navigator.clipboard.readText()).toBe(all.join('\n'))
  })
  test('is saved as a view with conditions, order and columns, but not the seed', async () => {
    const { user, bodies } = await show(<GatherScreen />)
    await user.click(await screen.findByRole('button', { name: /^pottery wheel/ }))
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'cheap')
    await inOrder(['cheap pottery wheel'])
    await user.click(screen.getByRole('button', { name: 'Views' }))
    await user.type(await screen.findByRole('textbox', { name: 'Name of a new view' }), 'Cheap ones{Enter}')
    expect(await screen.findByText('View "Cheap ones" saved; it can be used in every site')).toBeTruthy()
    expect(bodies(saveView)[0]).toMatchObject({ name: 'Cheap ones', sheet: 'keywords' })
    expect((bodies(saveView)[0]!.state as { where: string[] }).where).toEqual(['phrase:has:cheap'])
  })
  test('follows a view that is chosen', async () => {
    const { user } = await show(<GatherScreen />)
    await inOrder(all)
    await user.click(screen.getByRole('button', { name: 'Views' }))
    await user.click(await screen.findByRole('menuitem', { name: 'Worth weighing' }))
    // Of the wheels the family's face; the cheap one was weighed, and slip's searches are unknown.
    await inOrder(['pottery wheel'])
    expect(screen.getAllByRole('columnheader').some(head => head.textContent === 'Ad competition')).toBe(true)
    expect(screen.queryByRole('columnheader', { name: 'You' })).toBeNull()
  })
})

describe('keywords that were kept', () => {
  const weigh = (options: Options = {}) => show(<WeighScreen />, { path: '/1/weigh', ...options })
  test('stand by worth, with the sums of what could be won and what is unknown', async () => {
    await weigh()
    await inOrder(['cheap pottery wheel', 'pottery wheels', 'what is slip'])
    await waitFor(() => expect(footText()).toContain('3 keywords'))
    expect(footText()).toContain('difficulty, median 41')
    expect(footText()).toContain('about 12 visits/mo, 2 unknownworth about 9 a month, 2 unknown')
    expect(screen.getByText(/comfortable to/).textContent).toBe('Your level 61, comfortable to 55, stretch to 70')
  })
  test('are weighed all at once, and refreshed at night where that is wanted', async () => {
    const { user, bodies } = await weigh()
    await user.click(await screen.findByRole('button', { name: 'Weigh all kept' }))
    expect(await screen.findByText('Weighing 3 keywords')).toBeTruthy()
    expect(bodies(startWeighing)).toEqual([{ marketId: 1, again: false }])
    await user.click(screen.getByRole('checkbox', { name: 'Refresh old ones at night' }))
    expect(bodies(changeSite)).toEqual([{ refreshWeighings: true }])
  })
  test('none yet, or none that meets the conditions: either is said with the way on', async () => {
    await weigh({ keywords: five.filter(each => !each.kept) })
    expect(await screen.findByText('Nothing is kept yet')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Go to Gather' }).getAttribute('href')).toBe('/1/gather?market=1')
  })
  test('a condition that lets nothing through can be cleared; keeping is not a condition to take away', async () => {
    const { user } = await weigh()
    await user.type(await screen.findByRole('textbox', { name: 'Contains' }), 'zzz')
    expect(await screen.findByText('No kept keyword meets all conditions')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Clear all conditions' }))
    await inOrder(['cheap pottery wheel', 'pottery wheels', 'what is slip'])
    expect(screen.queryByRole('button', { name: /Remove condition/ })).toBeNull()
  })
  test('two to five are compared side by side', async () => {
    const { user } = await weigh()
    await inOrder(['cheap pottery wheel', 'pottery wheels', 'what is slip'])
    sheetRows()[0]!.focus()
    await user.keyboard('x')
    await user.click(screen.getByRole('button', { name: 'More' }))
    expect(screen.getByRole('menuitem', { name: /Compare side by side/ }).getAttribute('aria-disabled')).toBe('true')
    await user.keyboard('{Escape}')
    sheetRows()[1]!.focus()
    await user.keyboard('x')
    await user.click(screen.getByRole('button', { name: 'More' }))
    await user.click(screen.getByRole('menuitem', { name: /Compare side by side/ }))
    expect(await screen.findByRole('dialog')).toBeTruthy()
  })
})
