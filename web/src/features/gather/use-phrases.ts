import type { TreePhrase } from '@dew-trail/core/words/word-tree'
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react'
import type { WholeSource } from '../../rows/row-source.ts'
import { themeColour } from '../../theme/theme-colour.ts'
import { useShownScheme } from '../../theme/use-shown-scheme.ts'

export const mostRead = 5_000

/** A phrase of a picture: `weight` its searches, null = unknown. */
export type PicturePhrase = TreePhrase & { kind: string }

type Shown = {
  phrases: PicturePhrase[]
  kept: ReadonlySet<number>
  /** How many the list shows in all. */
  total: number
}
/** The phrases that a list shows, the first few thousand in its order, and which of them are kept. */
export function usePhrases(source: WholeSource): Shown {
  const version = useSyncExternalStore(source.subscribe, () => source.listVersion)
  const [shown, setShown] = useState<Shown>({ phrases: [], kept: new Set(), total: 0 })
  // biome-ignore lint/correctness/useExhaustiveDependencies: version stands for the rows.
  useEffect(() => {
    const timer = setTimeout(() => {
      // The first of the list as it is ordered: a picture of more would say nothing.
      source
        .ids()
        .then(async ids => ({ rows: await source.rows(ids.slice(0, mostRead)), total: ids.length }))
        .then(
          ({ rows, total }) =>
            setShown({
              total,
              phrases: rows.map(row => ({
                id: row.id,
                phrase: String(row.phrase),
                weight: row.searches as number | null,
                kind: String(row.kind),
              })),
              kept: new Set(rows.filter(row => row.kept).map(row => row.id)),
            }),
          () => undefined,
        )
    }, 120)
    return () => clearTimeout(timer)
  }, [source, version])
  return shown
}

/** Colours of a picture of phrases, read anew when the theme changes. */
export function usePictureColours() {
  const scheme = useShownScheme()
  return useMemo(
    () => ({
      key: scheme,
      ink: themeColour('ink'),
      ink2: themeColour('ink2'),
      line: themeColour('scale1'),
      lagoon: themeColour('lagoon'),
      soft: themeColour('scale0'),
    }),
    [scheme],
  )
}
