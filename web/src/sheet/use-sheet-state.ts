import type { Condition, Sort } from '@dew-trail/core/tables/column-spec'
import { conditionText, readCondition, readSort, sortText } from '@dew-trail/core/tables/condition-text'
import { useCallback, useMemo } from 'react'
import { useSearchParams } from 'react-router'

export type SheetState = {
  where: Condition[]
  sort: Sort[]
  open: number[]
  setWhere(where: Condition[]): void
  setSort(sort: Sort[]): void
  toggleOpen(id: number): void
  clearOpen(): void
}

/** Conditions, order and unfolded rows, kept in the address so that a view can be sent and returned to. Typing replaces the entry, it does not pile up history. */
export function useSheetState(defaultSort: string): SheetState {
  const [params, setParams] = useSearchParams()
  const whereText = JSON.stringify(params.getAll('where'))
  const sortParam = params.get('sort') ?? defaultSort
  const openParam = params.get('open') ?? ''
  const where = useMemo(() => (JSON.parse(whereText) as string[]).map(readCondition).filter(condition => condition !== null), [whereText])
  const sort = useMemo(() => readSort(sortParam), [sortParam])
  const open = useMemo(() => openParam.split(',').filter(Boolean).map(Number), [openParam])
  const change = useCallback((edit: (next: URLSearchParams) => void) => setParams(before => { const next = new URLSearchParams(before); edit(next); return next }, { replace: true }), [setParams])
  const setWhere = useCallback((next: Condition[]) => change(address => { address.delete('where'); for (const condition of next) address.append('where', conditionText(condition)) }), [change])
  const setSort = useCallback((next: Sort[]) => change(address => { const text = sortText(next); if (text === defaultSort) address.delete('sort'); else address.set('sort', text) }), [change, defaultSort])
  const toggleOpen = useCallback((id: number) => change(address => {
    const ids = (address.get('open') ?? '').split(',').filter(Boolean).map(Number)
    const next = ids.includes(id) ? ids.filter(each => each !== id) : [...ids, id]
    if (next.length) address.set('open', next.join(',')); else address.delete('open')
  }), [change])
  const clearOpen = useCallback(() => change(address => address.delete('open')), [change])
  return { where, sort, open, setWhere, setSort, toggleOpen, clearOpen }
}
