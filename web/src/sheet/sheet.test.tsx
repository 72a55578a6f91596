// @vitest-environment jsdom
import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { useEffect, useMemo, useState } from 'react'
import { describe, expect, test, vi } from 'vitest'
import { sheetRows, showScreen } from '../../test/show-screen.tsx'
import { ColumnMenu } from './ColumnMenu.tsx'
import type { SheetColumn } from './columns.ts'
import { ConditionsBar } from './ConditionsBar.tsx'
import type { Row } from '../rows/row-source.ts'
import { Sheet } from './Sheet.tsx'
import { useColumnTable } from './use-column-table.ts'
import { useSheetState } from './use-sheet-state.ts'
import { WorkerSource } from '../rows/worker-source.ts'

const specs: ColumnSpec[] = [
  { key: 'phrase', kind: 'text' },
  { key: 'searches', kind: 'number' },
  { key: 'kind', kind: 'code' },
  { key: 'kept', kind: 'flag' },
]
const plain = (key: string) => (row: Row) => (row[key] === null ? 'unknown' : String(row[key]))
const columns: SheetColumn[] = [
  {
    key: 'phrase',
    label: 'Keyword',
    width: 200,
    kind: 'text',
    explain: 'The phrase',
    fixed: true,
    render: plain('phrase'),
  },
  {
    key: 'searches',
    label: 'Searches',
    width: 80,
    align: 'right',
    kind: 'number',
    explain: 'Searches a month',
    limits: [{ value: 'stretch', label: 'my stretch' }],
    render: plain('searches'),
    why: row => ({
      figure: 'Searches',
      value: row.searches === null ? null : String(row.searches),
      formula: 'searches a month',
      inputs: [],
      source: 'the ads data',
      date: null,
    }),
  },
  {
    key: 'kind',
    label: 'Kind',
    width: 90,
    kind: 'code',
    explain: 'What it is',
    values: [
      { value: 'question', label: 'Question' },
      { value: 'related', label: 'Related' },
    ],
    render: plain('kind'),
    hidden: true,
  },
  { key: 'kept', label: 'kept', width: 60, kind: 'flag', explain: 'Kept', conditionOnly: true, render: () => null },
]
const four: Batch = {
  ids: [1, 2, 3, 4],
  columns: {
    phrase: ['kick wheel', 'raku kiln', 'wheel price', 'glaze'],
    searches: [300, 900, null, 20],
    kind: ['related', 'question', 'related', ''],
    kept: [true, false, false, false],
  },
}

let source: WorkerSource
type BedProps = { batch: Batch; act?: (id: number | null) => void }
function Bed({ batch, act }: BedProps) {
  const held = useMemo(() => new WorkerSource(specs), [])
  source = held
  useEffect(() => {
    held.put(batch)
  }, [held, batch])
  const state = useSheetState('-searches')
  const table = useColumnTable('bed', columns)
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set())
  const keys = useMemo(() => (act ? { y: act } : {}), [act])
  return (
    <>
      <ConditionsBar columns={columns} state={state} searchColumn="phrase" />
      <ColumnMenu table={table} columns={columns} />
      <Sheet
        label="Keywords"
        source={held}
        columns={columns}
        table={table}
        state={state}
        selected={selected}
        onSelect={setSelected}
        unfold={row => <p>More of {String(row.phrase)}</p>}
        keys={keys}
        limits={limits}
        empty={<p>Nothing meets them</p>}
      />
      <output>{[...selected].sort((a, b) => a - b).join()}</output>
    </>
  )
}
const limits = { stretch: 300 }
const show = async (props: Partial<BedProps> = {}) => {
  localStorage.clear()
  const shown = showScreen(<Bed batch={four} {...props} />, [])
  await screen.findAllByText(/kick wheel|phrase 1$/)
  return shown
}
const phrases = (): string[] => sheetRows().map(row => row.children[1]!.textContent!)
const picked = (): string => screen.getByRole('status').textContent!
const inOrder = (wanted: string[]) => waitFor(() => expect(phrases()).toEqual(wanted))
const heads = (): string[] =>
  screen
    .getAllByRole('columnheader')
    .slice(1)
    .map(head => head.textContent!)
const bySearches = ['raku kiln', 'kick wheel', 'glaze', 'wheel price']

describe('order', () => {
  test('a header sorts down, up, and no more; unknown ones stand last either way', async () => {
    const { user } = await show()
    expect(phrases()).toEqual(bySearches)
    const head = screen.getByRole('button', { name: /^Searches/ })
    await user.click(head)
    await inOrder(['glaze', 'kick wheel', 'raku kiln', 'wheel price'])
    expect(screen.getByRole('columnheader', { name: /^Searches/ }).getAttribute('aria-sort')).toBe('ascending')
    await user.click(head)
    await inOrder(['kick wheel', 'raku kiln', 'wheel price', 'glaze'])
    await user.click(head)
    await inOrder(bySearches)
  })
  test('with Shift a column joins the order, and says which it is', async () => {
    const columns = { phrase: ['kick wheel', 'b', 'c'], searches: [5, 5, 9] }
    const { user } = await show({ batch: { ids: [1, 2, 3], columns } })
    await user.keyboard('{Shift>}')
    await user.click(screen.getByRole('button', { name: /^Keyword/ }))
    await user.keyboard('{/Shift}')
    await inOrder(['c', 'kick wheel', 'b'])
    expect(screen.getByRole('button', { name: /^Searches/ }).textContent).toBe('Searches↓1')
    expect(screen.getByRole('button', { name: /^Keyword/ }).textContent).toBe('Keyword↓2')
  })
})

describe('keys', () => {
  const focusFirst = () => sheetRows()[0]!.focus()
  test('move, select one, a range, all, none; a letter acts on the row or on what is selected', async () => {
    const act = vi.fn()
    const { user } = await show({ act })
    focusFirst()
    await user.keyboard('{ArrowDown}y')
    expect(act).toHaveBeenLastCalledWith(1)
    await user.keyboard('x{ArrowDown}{ArrowDown}{Shift>}x{/Shift}')
    expect(picked()).toBe('1,3,4')
    await user.keyboard('{Home}y')
    // What is done with a selection is its holder's to say.
    expect(act).toHaveBeenLastCalledWith(null)
    await user.keyboard('{Control>}a{/Control}')
    await waitFor(() => expect(picked()).toBe('1,2,3,4'))
    await user.keyboard('{Escape}')
    expect(picked()).toBe('')
  })
  test('all means all that meet the conditions', async () => {
    const { user } = await show()
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'wheel')
    await inOrder(['kick wheel', 'wheel price'])
    focusFirst()
    await user.keyboard('{Control>}a{/Control}')
    await waitFor(() => expect(picked()).toBe('1,3'))
  })
  test('Enter unfolds a row and folds it, with the focus where it was', async () => {
    const { user } = await show()
    focusFirst()
    await user.keyboard('{ArrowDown}{Enter}')
    expect(await screen.findByText('More of kick wheel')).toBeTruthy()
    expect(document.activeElement?.getAttribute('aria-expanded')).toBe('true')
    await user.keyboard('{ArrowLeft}')
    await waitFor(() => expect(screen.queryByText('More of kick wheel')).toBeNull())
    expect(document.activeElement?.textContent).toContain('kick wheel')
  })
  test('I explains the figures of the row, unknown ones as such', async () => {
    const { user } = await show()
    focusFirst()
    await user.keyboard('{End}i')
    const card = await screen.findByRole('tooltip')
    expect(card.textContent).toContain('Searches: unknown')
    expect(card.textContent).toContain('From the ads data')
    await user.keyboard('{Escape}')
    expect(screen.queryByRole('tooltip')).toBeNull()
  })
  test('letters that are typed into a box do nothing to rows', async () => {
    const act = vi.fn()
    const { user } = await show({ act })
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'yx')
    expect(act).not.toHaveBeenCalled()
    expect(picked()).toBe('')
  })
})

describe('many rows', () => {
  const ids = Array.from({ length: 20_000 }, (_, i) => i + 1)
  const many: Batch = {
    ids,
    columns: { phrase: ids.map(id => `phrase ${id}`), searches: ids.map(id => 20_001 - id) },
  }
  test('only those in sight are drawn; the end of the list is a key away', async () => {
    const { user } = await show({ batch: many })
    expect(sheetRows().length).toBeLessThan(40)
    expect(screen.getByRole('treegrid').getAttribute('aria-rowcount')).toBe('20001')
    sheetRows()[0]!.focus()
    await user.keyboard('{End}')
    await waitFor(() => expect(document.activeElement?.textContent).toContain('phrase 20000'))
    expect(sheetRows().length).toBeLessThan(40)
    await user.keyboard('{PageUp}')
    await waitFor(() => expect(Number(document.activeElement?.getAttribute('aria-rowindex'))).toBeLessThan(19_995))
  })
  test('a row that arrives above leaves the focus on the row that has it', async () => {
    await show()
    sheetRows()[1]!.focus()
    expect(document.activeElement?.textContent).toContain('kick wheel')
    source.put({ ids: [9], columns: { phrase: ['pug mill'], searches: [5_000] } }, false)
    await inOrder(['pug mill', ...bySearches])
    await waitFor(() => expect(document.activeElement?.textContent).toContain('kick wheel'))
    expect(document.activeElement?.getAttribute('aria-rowindex')).toBe('4')
  })
})

describe('conditions', () => {
  const choose = async (user: Awaited<ReturnType<typeof show>>['user'], box: string, option: string) => {
    await user.click(screen.getByRole('combobox', { name: box }))
    await user.click(await screen.findByRole('option', { name: option }))
  }
  test('a number is asked for, changed, and taken away; what is no number is said and leaves the last one', async () => {
    const { user } = await show()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    const value = await screen.findByRole('textbox', { name: 'Value' })
    expect(value).toHaveProperty('value', '')
    // Begun, it filters nothing: not even what is unknown.
    await inOrder(bySearches)
    await user.type(value, '100')
    await inOrder(['raku kiln', 'kick wheel'])
    await user.clear(value)
    await user.type(value, '40x')
    expect(screen.getByText('Type a number')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Searches ≥ 40', hidden: true })).toBeTruthy()
    await choose(user, 'Comparison', 'is unknown')
    await inOrder(['wheel price'])
    await user.keyboard('{Escape}')
    await user.click(await screen.findByRole('button', { name: 'Remove condition on Searches' }))
    await inOrder(bySearches)
  })
  test('Enter is done with one; a printed minus sign is a minus; one that was only begun is gone', async () => {
    const { user } = await show()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    await user.type(await screen.findByRole('textbox', { name: 'Value' }), '−5{Enter}')
    await waitFor(() => expect(screen.queryByRole('textbox', { name: 'Value' })).toBeNull())
    expect(screen.getByRole('button', { name: 'Searches ≥ -5' })).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    await user.type(await screen.findByRole('textbox', { name: 'Value' }), '{Escape}')
    await waitFor(() => expect(screen.queryByRole('textbox', { name: 'Value' })).toBeNull())
    expect(screen.getAllByRole('button', { name: /^Remove condition/ })).toHaveLength(1)
  })
  test('a limit of the site’s own goes by its name', async () => {
    const { user } = await show()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    await choose(user, 'Comparison', 'up to my stretch')
    await inOrder(['kick wheel', 'glaze'])
    expect(screen.getByRole('button', { name: 'Searches up to my stretch', hidden: true })).toBeTruthy()
  })
  test('values are ticked; a condition without any is not kept', async () => {
    const { user } = await show()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    await choose(user, 'Column', 'Kind')
    await user.click(await screen.findByRole('checkbox', { name: 'Related' }))
    await inOrder(['kick wheel', 'wheel price'])
    await user.click(screen.getByRole('checkbox', { name: 'Question' }))
    await inOrder(['raku kiln', 'kick wheel', 'wheel price'])
    expect(screen.getByRole('button', { name: 'Kind Related or Question', hidden: true })).toBeTruthy()
    await user.click(screen.getByRole('checkbox', { name: 'Question' }))
    await user.click(screen.getByRole('checkbox', { name: 'Related' }))
    await user.keyboard('{Escape}')
    await waitFor(() => expect(screen.queryByRole('button', { name: /^Kind/ })).toBeNull())
  })
  test('a yes or no needs no value; nothing that meets all is said', async () => {
    const { user } = await show()
    await user.click(screen.getByRole('button', { name: 'condition' }))
    await choose(user, 'Column', 'kept')
    await inOrder(['kick wheel'])
    await choose(user, 'Comparison', 'no')
    await inOrder(['raku kiln', 'glaze', 'wheel price'])
    await user.keyboard('{Escape}')
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'zzz')
    expect(await screen.findByText('Nothing meets them')).toBeTruthy()
  })
  test('/ goes to the text box from anywhere, Escape empties it', async () => {
    const { user } = await show()
    sheetRows()[0]!.focus()
    await user.keyboard('/raku')
    await inOrder(['raku kiln'])
    await user.keyboard('{Escape}')
    await inOrder(bySearches)
  })
})

describe('columns', () => {
  test('are chosen and come back as they came; the first cannot be taken away', async () => {
    const { user } = await show()
    expect(heads()).toEqual(['Keyword', 'Searches↓'])
    await user.click(screen.getByRole('button', { name: 'Columns' }))
    expect(await screen.findByRole('checkbox', { name: 'Keyword' })).toHaveProperty('disabled', true)
    expect(screen.queryByRole('checkbox', { name: 'kept' })).toBeNull()
    await user.click(screen.getByRole('checkbox', { name: 'Kind' }))
    await user.click(screen.getByRole('checkbox', { name: 'Searches' }))
    expect(screen.getAllByRole('columnheader', { hidden: true }).map(head => head.textContent)).toEqual([
      'Mark',
      'Keyword',
      'Kind',
    ])
    await user.click(screen.getByRole('button', { name: 'As they came' }))
    await user.keyboard('{Escape}')
    await waitFor(() => expect(heads()).toEqual(['Keyword', 'Searches↓']))
  })
  test('move and widen by keys, and are so the next time', async () => {
    const { user } = await show()
    screen.getByRole('button', { name: /^Searches/ }).focus()
    await user.keyboard('{Alt>}{ArrowLeft}{/Alt}')
    expect(heads()).toEqual(['Searches↓', 'Keyword'])
    screen.getByRole('separator', { name: 'Width of Keyword' }).focus()
    await user.keyboard('{ArrowRight}{ArrowRight}')
    expect(screen.getByRole('separator', { name: 'Width of Keyword' }).getAttribute('aria-valuenow')).toBe('224')
    expect(JSON.parse(localStorage.getItem('sheet:bed')!)).toMatchObject({
      order: ['searches', 'phrase', 'kind'],
      widths: { phrase: 224 },
    })
    fireEvent.doubleClick(screen.getByRole('separator', { name: 'Width of Keyword' }))
    expect(screen.getByRole('separator', { name: 'Width of Keyword' }).getAttribute('aria-valuenow')).toBe('200')
  })
})
