import { takeOverKeywords } from '@dew-trail/contract/rivals'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import type { ActionDetails } from '../../keywords/keyword-actions.ts'
import { useSite } from '../../ui/site-context.ts'

/**
 * Lets every action on keywords work on rows of the rankings feed: those that nobody gathered (with negative ids) are taken over first, so
 * that they are keywords of the site when the action comes to them.
 */
export function useTakingOver(): ActionDetails {
  const { site, market, keywords } = useSite()
  return useMemo(
    () => ({
      resolve: async ids => {
        const known = ids.filter(id => id < 0).map(id => -id)
        if (!known.length) return ids
        const { keywordIds } = await call(takeOverKeywords, { siteId: site.id, marketId: market.id, known })
        const of = new Map(known.map((id, i) => [-id, keywordIds[i]!]))
        keywords.refresh()
        return ids.map(id => of.get(id) ?? id)
      },
    }),
    [site.id, market.id, keywords],
  )
}
