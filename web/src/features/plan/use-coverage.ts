import { useEffect, useState } from 'react'

type CoverageOf = typeof import('@dew-trail/core/words/coverage').coverageOf
let loaded: CoverageOf | null = null

/** How texts cover phrases, by stems; null until that is there, as word lists of all languages come with it. */
export function useCoverage(): CoverageOf | null {
  const [coverageOf, setCoverageOf] = useState<CoverageOf | null>(() => loaded)
  useEffect(() => {
    if (coverageOf) return
    void import('@dew-trail/core/words/coverage').then(module => {
      loaded = module.coverageOf
      setCoverageOf(() => loaded)
    })
  }, [coverageOf])
  return coverageOf
}
