import { changePage, type PlannedPage, pageStates, removePage } from '@dew-trail/contract/plan'
import { trackKeywords } from '@dew-trail/contract/track'
import { useCallback, useMemo } from 'react'
import { call } from '../../api/call.ts'
import type { RowActions } from '../../keywords/use-row-actions.tsx'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { stateLabels } from './plan-words.ts'

/** What can be done with a planned page where it stands in the table. */
export function usePlanMenu(pages: ReadonlyMap<number, PlannedPage>): Pick<RowActions, 'keys' | 'menu'> {
  const { site } = useSite()
  const act = useAct()
  const [, change] = useAddress()
  const openPage = useCallback(
    (id: number) =>
      change(params => {
        for (const name of ['see', 'where', 'sort', 'open']) params.delete(name)
        setParam('page', String(id))(params)
      }, true),
    [change],
  )
  return useMemo(
    () => ({
      keys: () => ({}),
      menu: row => {
        const page = pages.get(row.id)
        if (!page) return []
        const { id, version, title, address } = page
        const untracked = page.keywords.filter(keyword => !keyword.tracked).map(keyword => keyword.id)
        const shown = address === null ? null : new URL(address, `https://${site.domain}`).href
        return [
          { label: 'Brief', run: () => openPage(id) },
          ...(shown ? [{ label: 'Open the page', run: () => void window.open(shown, '_blank', 'noreferrer') }] : []),
          ...(untracked.length
            ? [
                {
                  label: `Track ${plural(untracked.length, 'keyword')}`,
                  run: () =>
                    void act(async () => {
                      const { changed, actId } = await call(trackKeywords, {
                        siteId: site.id,
                        keywordIds: untracked,
                        tracked: true,
                      })
                      return { say: `${plural(changed.length, 'keyword')} sent to tracking`, actId }
                    }),
                },
              ]
            : []),
          ...pageStates
            .filter(state => state !== page.state)
            .map(state => ({
              label: `State: ${stateLabels[state]}`,
              run: () =>
                void act(async () => {
                  const { actId } = await call(changePage, { siteId: site.id, pageId: id, version, state })
                  return { say: `"${title}" is ${stateLabels[state]!.toLowerCase()}`, actId }
                }),
            })),
          {
            label: 'Remove from the plan',
            run: () =>
              void act(async () => {
                const { actId } = await call(removePage, { siteId: site.id, pageId: id })
                return { say: `"${title}" removed`, actId }
              }),
          },
        ]
      },
    }),
    [pages, site.id, site.domain, act, openPage],
  )
}
