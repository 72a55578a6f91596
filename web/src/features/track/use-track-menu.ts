import { useMemo } from 'react'
import type { Taken } from '../../keywords/keyword-actions.ts'
import { type RowActions, useRowActions } from '../../keywords/use-row-actions.tsx'

type Acts = { check(ids: number[]): Promise<void>; stop(taken: Taken): Promise<void>; busy: boolean }

/** What can be done with a tracked keyword where it stands: what every sheet of keywords offers, and what belongs to tracking. */
export function useTrackMenu({ check, stop, busy }: Acts): RowActions {
  const actions = useRowActions()
  return useMemo(
    () => ({
      ...actions,
      menu: row => [
        ...(busy ? [] : [{ label: 'Check this now', run: () => void check([row.id]) }]),
        { label: 'Stop tracking', run: () => void stop({ ids: [row.id], leftOut: 0, restore: () => undefined }) },
        // Whether it is kept does not stand in these rows, so that neither keeping nor letting go is offered.
        ...actions.menu({ ...row, tracked: true, kept: true }).filter(item => item.key !== 'N'),
      ],
    }),
    [actions, check, stop, busy],
  )
}
