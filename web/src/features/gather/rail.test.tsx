// @vitest-environment jsdom
import {
  type Gathering,
  listGatherings,
  pruneGathering,
  startGathering,
  suggestSeeds,
} from '@dew-trail/contract/gather'
import { addList, changeList, listLists, removeList, renameList, valueLabel } from '@dew-trail/contract/lists'
import type { Condition } from '@dew-trail/core/tables/column-spec'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import type { SheetState } from '../../sheet/use-sheet-state.ts'
import { KindPanel } from './KindPanel.tsx'
import { SeedForm } from './SeedForm.tsx'
import { SeedTree } from './SeedTree.tsx'
import { ListPanel } from '../../keywords/ListPanel.tsx'
import { WordPanel } from './WordPanel.tsx'

const conditions = { must: [], leaveOut: [], searches: null, cpc: null, wordsFrom: null, wordsTo: null }
const gathering = (id: number, seed: string, more: Partial<Gathering> = {}): Gathering => ({
  id,
  parentId: null,
  seed,
  marketId: 1,
  ways: ['completions'],
  found: 120,
  startedAt: '2026-11-20T10:00:00Z',
  jobId: null,
  state: 'done',
  conditions,
  short: [],
  dropped: {},
  pruned: false,
  warnings: [],
  ...more,
})
const keywords = { total: 5_400, subscribe: () => () => undefined }

describe('the seed form', () => {
  const begun = answer(startGathering, () => ({ jobs: [{ gatheringId: 8, jobId: 1 }] }))
  test('Enter gathers, Shift and Enter begins a new line; the box is empty again', async () => {
    const started = vi.fn()
    const { user, requests } = showScreen(<SeedForm onStarted={started} />, [begun])
    const box = screen.getByRole('textbox', { name: 'Seeds, one a line' })
    await user.type(box, 'kick wheel{Shift>}{Enter}{/Shift} raku kiln +gas {Enter}')
    await waitFor(() => expect(started).toHaveBeenCalledWith(8))
    expect(requests[0]!.body).toMatchObject({
      seeds: ['kick wheel', 'raku kiln +gas'],
      marketId: 1,
      conditions: { cpc: null },
    })
    expect((box as HTMLTextAreaElement).value).toBe('')
  })
  test('a second press while it begins gathers once', async () => {
    let go: (answer: { jobs: Array<{ gatheringId: number; jobId: number }> }) => void = () => undefined
    const slow = { ...begun, give: () => new Promise(resolve => (go = resolve)) }
    const { user, requests } = showScreen(<SeedForm onStarted={() => undefined} />, [slow])
    await user.type(screen.getByRole('textbox', { name: 'Seeds, one a line' }), 'kick wheel{Enter}{Enter}{Enter}')
    expect(screen.getByRole('button', { name: 'Gather' })).toHaveProperty('disabled', true)
    go({ jobs: [{ gatheringId: 8, jobId: 1 }] })
    await waitFor(() => expect(screen.getByRole('button', { name: 'Gather' })).toHaveProperty('disabled', false))
    expect(requests.filter(each => each.spec === startGathering)).toHaveLength(1)
  })
  test('what searchers type stands below while one types, is taken by keys or a click, and is let go by Escape', async () => {
    const phrases = [
      { phrase: 'kick wheel', searches: 1_900 },
      { phrase: 'kick wheel for sale', searches: null },
    ]
    const { user, requests } = showScreen(<SeedForm onStarted={() => undefined} />, [
      begun,
      answer(suggestSeeds, ({ url }) => ({ phrases: url.includes('typed=ki') ? phrases : [], problem: null })),
    ])
    const box = screen.getByRole('textbox', { name: 'Seeds, one a line' }) as HTMLTextAreaElement
    await user.type(box, 'raku{Shift>}{Enter}{/Shift}Kick')
    const [first, second] = await screen.findAllByRole('option')
    expect([first!.textContent, second!.textContent]).toEqual(['kick wheel1,900', 'kick wheel for saleunknown'])
    await user.keyboard('{ArrowDown}{ArrowDown}')
    expect(second!.getAttribute('aria-selected')).toBe('true')
    expect(box.getAttribute('aria-activedescendant')).toBe(second!.id)
    await user.keyboard('{Enter}')
    expect(box.value).toBe('raku\nkick wheel for sale')
    expect(requests.filter(each => each.spec === startGathering)).toEqual([])
    await user.type(box, '{Shift>}{Enter}{/Shift}kic')
    await user.click((await screen.findAllByRole('option'))[0]!)
    expect(box.value).toBe('raku\nkick wheel for sale\nkick wheel')
    await user.type(box, '{Backspace}')
    await screen.findAllByRole('option')
    await user.keyboard('{Escape}')
    expect(screen.queryByRole('option')).toBeNull()
    await user.keyboard('{Enter}')
    await waitFor(() => expect(requests.filter(each => each.spec === startGathering)).toHaveLength(1))
  })
  test('ways follow what is typed: a site has other ways than a phrase', async () => {
    const { user } = showScreen(<SeedForm onStarted={() => undefined} />, [])
    const box = screen.getByRole('textbox', { name: 'Seeds, one a line' })
    await user.type(box, 'clayharbour.example')
    expect(screen.queryByRole('checkbox', { name: 'Completions' })).toBeNull()
    expect(screen.getByRole('checkbox', { name: 'What it ranks and pays for' })).toBeTruthy()
    await user.type(box, '{Shift>}{Enter}{/Shift}kick wheel')
    expect(screen.getByRole('checkbox', { name: 'Completions' })).toBeTruthy()
  })
  test('conditions are sent as numbers, and what is none is said before anything is asked', async () => {
    const { user, requests } = showScreen(<SeedForm onStarted={() => undefined} />, [begun])
    await user.type(screen.getByRole('textbox', { name: 'Seeds, one a line' }), 'kick wheel')
    await user.click(screen.getByRole('button', { name: 'Conditions before storing' }))
    await user.type(screen.getByRole('textbox', { name: 'CPC from' }), 'much')
    await user.click(screen.getByRole('button', { name: 'Gather' }))
    expect(screen.getByText('"much" is not a number')).toBeTruthy()
    expect(requests).toEqual([])
    await user.clear(screen.getByRole('textbox', { name: 'CPC from' }))
    await user.type(screen.getByRole('textbox', { name: 'CPC from' }), '0,5')
    await user.type(screen.getByRole('textbox', { name: /Words to leave out/ }), 'used, second hand,')
    await user.click(screen.getByRole('button', { name: 'Gather' }))
    await waitFor(() => expect(requests).toHaveLength(1))
    expect(requests[0]!.body.conditions).toMatchObject({ cpc: 0.5, searches: null, leaveOut: ['used', 'second hand'] })
  })
  test('without a seed nothing is asked, and a refusal leaves what was typed', async () => {
    const { user, requests } = showScreen(<SeedForm onStarted={() => undefined} />, [
      answer(startGathering, () => new Error('A seed may have 2,000 characters')),
    ])
    await user.click(screen.getByRole('button', { name: 'Gather' }))
    expect(screen.getByText('Type a seed first')).toBeTruthy()
    expect(requests).toEqual([])
    const box = screen.getByRole('textbox', { name: 'Seeds, one a line' })
    await user.type(box, 'kick wheel{Enter}')
    expect(await screen.findByText('A seed may have 2,000 characters')).toBeTruthy()
    expect((box as HTMLTextAreaElement).value).toBe('kick wheel')
  })
})

describe('the path of seeds', () => {
  const list = [
    gathering(1, 'kiln', {
      dropped: { 'words left out': 40 },
      short: [{ what: 'ideas', given: 12, requested: 200 }],
      conditions: { ...conditions, leaveOut: ['used'], searches: 100 },
    }),
    gathering(2, 'raku kiln', { parentId: 1, warnings: [{ what: 'Completions: no answer within 20 s', times: 2 }] }),
    gathering(3, 'kiln shelves', { parentId: 1, pruned: true }),
    gathering(4, 'glaze', { state: 'failed', found: 0 }),
  ]
  test('a branch lies below its seed; gaps and failures are told, the rest where the pointer rests', async () => {
    showScreen(
      <SeedTree chosen={[]} onChoose={() => undefined} />,
      [answer(listGatherings, () => list)],
      '/1',
      keywords,
    )
    const raku = await screen.findByRole('button', { name: /^raku kiln/ })
    expect(raku.textContent).toBe('raku kiln120, gaps')
    expect(raku.closest('ul')!.parentElement!.textContent).toMatch(/^kiln120/)
    expect(screen.getByRole('button', { name: /^glaze/ }).textContent).toContain('failed')
    expect(screen.getByRole('button', { name: /^Everything found/ }).textContent).toContain('5,400')
    const kiln = screen.getByRole('button', { name: /^kiln120/ }).title
    expect(kiln).toContain('Conditions: without used; searches from 100')
    expect(kiln).toContain('Dropped before storing: 40 by words left out')
    expect(kiln).toContain('Only 12 ideas of 200 asked for: there are no more')
  })
  test('pruned seeds are out of sight until asked for, and come back', async () => {
    const { user, requests } = showScreen(
      <SeedTree chosen={[]} onChoose={() => undefined} />,
      [answer(listGatherings, () => list), answer(pruneGathering, () => ({ gatherings: 1, actId: 71 }))],
      '/1',
      keywords,
    )
    await user.click(await screen.findByRole('button', { name: '1 pruned' }))
    await user.click(screen.getByRole('button', { name: 'Put kiln shelves back' }))
    expect(await screen.findByText('"kiln shelves" is back on the path')).toBeTruthy()
    expect(requests.find(({ spec }) => spec === pruneGathering)!.body).toEqual({ pruned: false })
  })
  test('one is chosen by a click, several with Ctrl, and a click on the only one chooses all', async () => {
    const choose = vi.fn()
    const { user } = showScreen(
      <SeedTree chosen={[1]} onChoose={choose} />,
      [answer(listGatherings, () => list)],
      '/1',
      keywords,
    )
    const kiln = await screen.findByRole('button', { name: /^kiln120/ })
    expect(kiln.getAttribute('aria-current')).toBe('true')
    await user.click(screen.getByRole('button', { name: /^raku kiln/ }))
    await user.keyboard('{Control>}')
    await user.click(screen.getByRole('button', { name: /^raku kiln/ }))
    await user.keyboard('{/Control}')
    await user.click(kiln)
    expect(choose.mock.calls).toEqual([[2], [2, true], [null]])
  })
  test('pruning the chosen one chooses all, and can be undone', async () => {
    const choose = vi.fn()
    const { user, requests, undone } = showScreen(
      <SeedTree chosen={[2]} onChoose={choose} />,
      [answer(listGatherings, () => list), answer(pruneGathering, () => ({ gatherings: 1, actId: 71 }))],
      '/1',
      keywords,
    )
    await user.click(await screen.findByRole('button', { name: 'Prune raku kiln' }))
    await user.click(await screen.findByRole('button', { name: 'Undo' }))
    expect(choose).toHaveBeenCalledWith(null)
    expect(requests.filter(({ spec }) => spec === pruneGathering).map(each => each.body.pruned)).toEqual([true])
    await waitFor(() => expect(undone()).toEqual([71]))
  })
})

/** Panels that change the conditions of a list, with those they were given at first. */
function Panels({ first }: { first: Condition[] }) {
  const [where, setWhere] = useState(first)
  const state = { where, setWhere } as unknown as SheetState
  return (
    <>
      <KindPanel counts={{ question: 12 }} state={state} />
      <WordPanel
        words={[
          { word: 'kiln', rows: 40 },
          { word: 'used', rows: 8 },
        ]}
        state={state}
      />
      <ListPanel state={state} kind="shortlist" />
      <ListPanel state={state} kind="label" />
      <output>{JSON.stringify(where)}</output>
    </>
  )
}
const showPanels = (first: Condition[] = []) => ({
  ...showScreen(<Panels first={first} />, [
    answer(listLists, () => [
      { id: 5, kind: 'shortlist' as const, name: 'Winter', keywords: 30, visitWorth: null },
      { id: 6, kind: 'label' as const, name: 'Clay', keywords: 2, visitWorth: null },
    ]),
    answer(renameList, () => ({ actId: 72 })),
    answer(removeList, () => ({ actId: 73 })),
    answer(valueLabel, () => ({ actId: 74 })),
    answer(addList, ({ body }) => ({
      id: 9,
      kind: 'label' as const,
      name: String(body.name),
      keywords: 0,
      visitWorth: null,
    })),
    answer(changeList, () => ({ changed: [], actId: null })),
  ]),
  where: () => JSON.parse(screen.getByRole('status').textContent!) as Condition[],
})
const other: Condition = { column: 'searches', op: 'from', value: 100 }

describe('panels beside the list', () => {
  test('a word is asked for, left out and given back; other conditions stay', async () => {
    const { user, where } = showPanels([other])
    await user.click(screen.getByRole('button', { name: 'kiln' }))
    expect(where()).toEqual([other, { column: 'phrase', op: 'has', value: '"kiln"' }])
    await user.click(screen.getByTitle('Leave out keywords with kiln'))
    expect(where()).toEqual([other, { column: 'phrase', op: 'without', value: '"kiln"' }])
    // It stays in sight, so that it can be given back.
    await user.click(screen.getByTitle('Show keywords with kiln again'))
    expect(where()).toEqual([other])
  })
  test('all words are cleared at once', async () => {
    const { user, where } = showPanels([other])
    await user.click(screen.getByRole('button', { name: 'kiln' }))
    await user.click(screen.getByTitle('Leave out keywords with used'))
    await user.click(screen.getByRole('button', { name: 'Clear' }))
    expect(where()).toEqual([other])
  })
  test('before the rows are there nothing is counted, which is not zero', () => {
    const state = { where: [], setWhere: () => undefined } as unknown as SheetState
    const { rerender } = render(<KindPanel counts={null} state={state} />)
    expect(screen.getByRole('button', { name: 'Question' }).textContent).toBe('Question')
    rerender(<KindPanel counts={{}} state={state} />)
    expect(screen.getByRole('button', { name: /Question/ }).textContent).toBe('Question0')
  })
  test('kinds add up, and the last one taken away leaves no condition', async () => {
    const { user, where } = showPanels([other])
    const kinds = screen.getAllByRole('button', { pressed: false }).slice(0, 2)
    await user.click(kinds[0]!)
    await user.click(kinds[1]!)
    expect(where()[1]).toMatchObject({ column: 'kind', op: 'is', value: [expect.any(String), expect.any(String)] })
    await user.click(kinds[0]!)
    await user.click(kinds[1]!)
    expect(where()).toEqual([other])
  })
  test('a shortlist is shown and left again', async () => {
    const { user, where } = showPanels([other])
    await user.click(await screen.findByRole('button', { name: /Winter/ }))
    expect(where()).toEqual([other, { column: 'lists', op: 'any', value: ['5'] }])
    await user.click(screen.getByRole('button', { name: /Winter/ }))
    expect(where()).toEqual([other])
  })
  test('a label says what a visit by its keywords is worth; a wrong figure is kept in its field and not sent', async () => {
    const { user, requests } = showPanels()
    await user.click(await screen.findByRole('button', { name: 'Change Labels' }))
    const worth = await screen.findByRole('textbox', { name: 'What a visit by Clay is worth' })
    await user.type(worth, '-3{Enter}')
    expect(worth).toHaveProperty('value', '-3')
    await user.clear(worth)
    await user.type(worth, '2,5{Enter}')
    expect(await screen.findByText('A visit by "Clay" counts as worth 2.5 everywhere')).toBeTruthy()
    const sent = () => requests.filter(({ spec }) => spec === valueLabel).map(each => each.body)
    expect(sent()).toEqual([{ visitWorth: 2.5 }])
    // Left while Enter is still being saved.
    await user.clear(worth)
    await user.type(worth, '3')
    fireEvent.submit(worth.closest('form')!)
    fireEvent.blur(worth)
    expect(await screen.findByText('A visit by "Clay" counts as worth 3 everywhere')).toBeTruthy()
    expect(sent()).toEqual([{ visitWorth: 2.5 }, { visitWorth: 3 }])
  })
  test('a label is shown by its name, renamed and removed, and comes back with its keywords', async () => {
    const { user, where, requests, undone } = showPanels()
    await user.click(await screen.findByRole('button', { name: /^Clay/ }))
    expect(where()).toEqual([{ column: 'labels', op: 'any', value: ['Clay'] }])
    await user.click(screen.getByRole('button', { name: 'Change Labels' }))
    const name = await screen.findByRole('textbox', { name: 'Name of Clay' })
    await user.clear(name)
    await user.type(name, 'Earth{Enter}')
    expect(await screen.findByText('"Clay" is called "Earth" now')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Remove Clay' }))
    expect(await screen.findByText('"Clay" is removed; its keywords stay')).toBeTruthy()
    await user.click(screen.getAllByRole('button', { name: 'Undo', hidden: true }).at(-1)!)
    await waitFor(() => expect(undone()).toEqual([73]))
    expect(requests.filter(({ spec }) => spec === renameList).map(each => each.body)).toEqual([{ name: 'Earth' }])
  })
})
