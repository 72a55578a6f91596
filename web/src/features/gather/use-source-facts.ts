import { useEffect, useState, useSyncExternalStore } from 'react'
import type { WholeSource } from '../../rows/row-source.ts'

/** Words and kinds of the shown rows, a moment later than the rows themselves, so that typing stays quick. */
export function useListFacts(source: WholeSource): {
  words: Array<{ word: string; rows: number }>
  kinds: Record<string, number>
} {
  const version = useSyncExternalStore(source.subscribe, () => source.listVersion)
  const [facts, setFacts] = useState<{ words: Array<{ word: string; rows: number }>; kinds: Record<string, number> }>({
    words: [],
    kinds: {},
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: version stands for the rows.
  useEffect(() => {
    const timer = setTimeout(() => {
      Promise.all([source.words(40), source.codes('kind', ['kind'])]).then(
        ([words, kinds]) => setFacts({ words, kinds }),
        () => undefined,
      )
    }, 350)
    return () => clearTimeout(timer)
  }, [source, version])
  return facts
}
