import type { Market, Site } from '@dew-trail/contract/sites'
import { createContext, useContext, useEffect, useState } from 'react'
import type { WorkerSource } from '../rows/worker-source.ts'
import { takeKeywords } from './early-source.ts'

export type SiteContext = {
  site: Site
  sites: Site[]
  market: Market
  keywords: WorkerSource
  setMarket(marketId: number): void
  openPalette(): void
  openHelp(): void
}
export const siteContext = createContext<SiteContext | null>(null)

export function useSite(): SiteContext {
  const value = useContext(siteContext)
  if (!value) throw new Error('useSite outside a site')
  return value
}

/** The site's keywords in a worker: one for all screens, made anew when site or market changes. */
export function useKeywordSource(siteId: number, marketId: number): WorkerSource | null {
  const [source, setSource] = useState<{ key: string; source: WorkerSource } | null>(null)
  const key = `${siteId}:${marketId}`
  useEffect(() => {
    const made = takeKeywords(siteId, marketId)
    setSource({ key: `${siteId}:${marketId}`, source: made })
    return () => made.close()
  }, [siteId, marketId])
  return source?.key === key ? source.source : null
}
