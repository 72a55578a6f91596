import type { Condition, Sort } from '@dew-trail/core/tables/column-spec'
import { conditionText, readCondition, readSort, sortText } from '@dew-trail/core/tables/condition-text'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useAddress } from '../ui/use-address.ts'

type Shown = { where: Condition[]; sort: Sort[]; open: number[] }
export type SheetState = Shown & {
  setWhere(where: Condition[]): void
  setSort(sort: Sort[]): void
  toggleOpen(id: number): void
}

/** How long typing rests before the address follows. */
const addressDelayMs = 150

function read(params: URLSearchParams, defaultSort: string): Shown {
  return {
    where: params
      .getAll('where')
      .map(readCondition)
      .filter(condition => condition !== null),
    sort: readSort(params.get('sort') ?? defaultSort),
    open: (params.get('open') ?? '').split(',').filter(Boolean).map(Number),
  }
}
function write(params: URLSearchParams, shown: Shown, defaultSort: string): void {
  for (const key of ['where', 'sort', 'open']) params.delete(key)
  for (const condition of shown.where) params.append('where', conditionText(condition))
  const sort = sortText(shown.sort)
  if (sort !== defaultSort) params.set('sort', sort)
  if (shown.open.length) params.set('open', shown.open.join(','))
}
/** What of a table is shown, without the values that are typed into its conditions; what is chosen from a list is not typed. */
const shapeOf = ({ where, sort, open }: Shown): string =>
  JSON.stringify([
    where.map(each => [each.column, each.op, 'value' in each && Array.isArray(each.value) ? each.value : null]),
    sort,
    open,
  ])
const textOf = (params: URLSearchParams): string =>
  JSON.stringify([params.getAll('where'), params.get('sort'), params.get('open')])

/**
 * Conditions, order and unfolded rows of a sheet. They live in the component, so that every keystroke counts at once, and the address
 * follows a moment later, so that a view can be sent and returned to; an address that changes by itself is taken over.
 */
export function useSheetState(defaultSort: string): SheetState {
  const [params, changeAddress] = useAddress()
  const [shown, setShown] = useState(() => read(params, defaultSort))
  const latest = useRef(shown)
  const addressText = useRef(textOf(params))
  const seenText = useRef(addressText.current)
  const addressShape = useRef(shapeOf(shown))
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)

  useEffect(() => {
    const text = textOf(params)
    // Another part's change may arrive while ours is under way: then nothing of ours has changed in the address.
    if (text === seenText.current) return
    seenText.current = text
    if (text === addressText.current) return
    addressText.current = text
    if (timer.current) clearTimeout(timer.current)
    latest.current = read(params, defaultSort)
    addressShape.current = shapeOf(latest.current)
    setShown(latest.current)
  }, [params, defaultSort])
  useEffect(
    () => () => {
      if (timer.current) clearTimeout(timer.current)
    },
    [],
  )

  const change = useCallback(
    (edit: (before: Shown) => Shown) => {
      latest.current = edit(latest.current)
      setShown(latest.current)
      if (timer.current) clearTimeout(timer.current)
      timer.current = setTimeout(() => {
        // Back goes back one thing: another condition, another order, another row. What is typed into one is one thing.
        const push = shapeOf(latest.current) !== addressShape.current
        addressShape.current = shapeOf(latest.current)
        changeAddress(next => {
          write(next, latest.current, defaultSort)
          addressText.current = textOf(next)
        }, push)
      }, addressDelayMs)
    },
    [defaultSort, changeAddress],
  )
  const setWhere = useCallback((where: Condition[]) => change(before => ({ ...before, where })), [change])
  const setSort = useCallback((sort: Sort[]) => change(before => ({ ...before, sort })), [change])
  const toggleOpen = useCallback(
    (id: number) =>
      change(before => ({
        ...before,
        open: before.open.includes(id) ? before.open.filter(each => each !== id) : [...before.open, id],
      })),
    [change],
  )
  return useMemo(() => ({ ...shown, setWhere, setSort, toggleOpen }), [shown, setWhere, setSort, toggleOpen])
}
