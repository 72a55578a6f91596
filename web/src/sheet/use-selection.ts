import { useCallback, useEffect, useState, useSyncExternalStore } from 'react'
import type { WholeSource } from '../rows/row-source.ts'

const nothing: ReadonlySet<number> = new Set()

export type Selection = {
  selected: ReadonlySet<number>
  setSelected(ids: ReadonlySet<number>): void
  /** How many of the selected rows conditions hide now. */
  hidden: number
  /**
   * Takes up the selection for an act: gives the selected rows in sight and how many hidden ones are left out, and selects nothing any
   * more. `restore` selects the rows again, for undo.
   */
  take(): Promise<{ ids: number[]; leftOut: number; restore(): void }>
}

/** The selected rows of a sheet. Conditions may hide some of them; acts then serve only those that are in sight. */
export function useSelection(source: WholeSource): Selection {
  const [selected, setSelected] = useState(nothing)
  const [hidden, setHidden] = useState(0)
  const version = useSyncExternalStore(source.subscribe, () => source.listVersion)
  // biome-ignore lint/correctness/useExhaustiveDependencies: version stands for the rows in the list.
  useEffect(() => {
    if (!selected.size) {
      setHidden(0)
      return
    }
    let current = true
    source.indexesOf([...selected]).then(
      indexes => current && setHidden(selected.size - indexes.length),
      () => undefined,
    )
    return () => {
      current = false
    }
  }, [source, version, selected])
  const take = useCallback(async () => {
    const ids = (await source.indexesOf([...selected])).map(row => row.id)
    setSelected(nothing)
    return { ids, leftOut: selected.size - ids.length, restore: () => setSelected(selected) }
  }, [source, selected])
  return { selected, setSelected, hidden, take }
}
