// @vitest-environment jsdom
import { act, renderHook } from '@testing-library/react'
import { useState } from 'react'
import { MemoryRouter } from 'react-router'
import { beforeEach, expect, test } from 'vitest'
import type { SheetColumn } from './columns.ts'
import { plainView } from './plain-view.ts'
import { useColumnTable } from './use-column-table.ts'
import { useSheetState } from './use-sheet-state.ts'
import { viewsOf } from './use-views.ts'

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
})
const column = (key: string, more: Partial<SheetColumn> = {}): SheetColumn =>
  ({ key, label: key, width: 90, kind: 'number', explain: '', ...more }) as SheetColumn
const columns = [column('phrase', { fixed: true }), column('now'), column('best', { hidden: true }), column('page')]

test('a view sets columns, conditions and order; conditions of the place stay; the columns of before come back', () => {
  const { result } = renderHook(
    () => {
      const state = useSheetState('now')
      const table = useColumnTable('views-test', columns)
      const shown = table.getVisibleLeafColumns().map(each => each.id)
      const [on, set] = useState(false)
      return {
        state,
        shown,
        views: viewsOf({ name: 'views-test', state, table, columns, fold: { on, set } }, 'gatherings'),
      }
    },
    {
      wrapper: ({ children }) => <MemoryRouter initialEntries={['/?where=gatherings:any:3']}>{children}</MemoryRouter>,
    },
  )
  expect(result.current.shown).toEqual(['phrase', 'now', 'page'])
  const before = result.current.views.current()
  expect(before).toEqual({ where: [], sort: 'now', columns: ['phrase', 'now', 'page'], folded: false })
  act(() =>
    result.current.views.apply({ where: ['now:from:11'], sort: '-best', columns: ['best', 'phrase'], folded: false }),
  )
  expect(result.current.shown).toEqual(['best', 'phrase'])
  expect(result.current.state.where.map(each => each.column)).toEqual(['gatherings', 'now'])
  act(() => result.current.views.apply({ where: [], sort: 'now', columns: ['phrase', 'page'], folded: false }))
  expect(result.current.shown).toEqual(['phrase', 'page'])
  // One without columns gives back those that were there before any view.
  act(() => result.current.views.apply(plainView('All', 'page').state))
  expect(result.current.shown).toEqual(['phrase', 'now', 'page'])
  expect(result.current.views.current()).toMatchObject({ where: [], sort: 'page' })
  expect(result.current.views.giveBack).toBeNull()
  act(() => result.current.views.apply({ ...before, columns: ['phrase'], folded: true }))
  expect(result.current.shown).toEqual(['phrase'])
  expect(result.current.views.current().folded).toBe(true)
  act(() => result.current.views.giveBack!())
  expect(result.current.views.current()).toEqual(before)
})
