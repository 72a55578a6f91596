import { lazy, type ReactNode, useMemo } from 'react'
import { useNavigate } from 'react-router'
import type { Row } from '../../rows/row-source.ts'
import type { RowMenuItem } from '../../sheet/RowMenu.tsx'
import type { Selection } from '../../sheet/use-selection.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useLinkActs } from './use-link-acts.ts'

const PutOnFindList = lazy(() => import('../../compared/PutOnFindList.tsx'))

type Take = Selection['take']
type Listed = { id: number; domain: string; contact?: string | null; disavowed?: boolean }

/** What can be done with rows that are sites: by key, in the menu of a row, and in the foot for a selection. */
export function useSiteRows(rows: readonly Listed[] | undefined, targets: readonly string[]) {
  const { site, market } = useSite()
  const navigate = useNavigate()
  const acts = useLinkActs()
  const show = useShowDialog()
  return useMemo(() => {
    const byId = new Map(rows?.map(row => [row.id, row]))
    const sitesOf = (ids: readonly number[]): Listed[] => ids.flatMap(id => byId.get(id) ?? [])
    const prospects = (ids: readonly number[]) => void acts.addProspects(sitesOf(ids).map(({ domain }) => ({ domain })))
    const disavow = (ids: readonly number[], on: boolean) =>
      void acts.disavow(
        sitesOf(ids).map(each => each.domain),
        on,
      )
    const list = (ids: readonly number[]) =>
      show(close => (
        <PutOnFindList kind="sites" items={sitesOf(ids).map(each => ({ what: each.domain }))} onClose={close} />
      ))
    const look = (domain: string, see: string): string =>
      `/${site.id}/links?${new URLSearchParams({ market: String(market.id), with: [...new Set([...targets.slice(1), domain])].slice(0, 9).join(','), see, of: domain })}`
    return {
      keys: (take: Take): Record<string, (id: number | null) => void> => ({
        p: id => (id === null ? void take().then(({ ids }) => prospects(ids)) : prospects([id])),
        l: id => (id === null ? void take().then(({ ids }) => list(ids)) : list([id])),
      }),
      menu: (row: Row): RowMenuItem[] => {
        const each = byId.get(row.id)
        if (!each) return []
        return [
          { label: 'Add to the prospects', key: 'P', run: () => prospects([row.id]) },
          { label: 'Put on a list …', key: 'L', run: () => list([row.id]) },
          { label: 'Who links to it', run: () => void navigate(look(each.domain, 'sites')) },
          {
            label: 'For what it stands',
            run: () => void navigate(look(each.domain, 'keywords').replace('/links?', '/rivals?')),
          },
          { label: 'Open the site', run: () => void window.open(`https://${each.domain}/`, '_blank', 'noreferrer') },
          ...(each.contact
            ? [{ label: `Write to ${each.contact}`, run: () => void window.open(`mailto:${each.contact}`) }]
            : []),
          each.disavowed
            ? { label: 'Disavow no longer', run: () => disavow([row.id], false) }
            : { label: 'Disavow', run: () => disavow([row.id], true) },
        ]
      },
      foot: (take: Take): ReactNode => (
        <>
          <button type="button" className="link" onClick={() => void take().then(({ ids }) => prospects(ids))}>
            Add to the prospects
          </button>
          <button type="button" className="link" onClick={() => void take().then(({ ids }) => list(ids))}>
            Put on a list
          </button>
          <button type="button" className="link" onClick={() => void take().then(({ ids }) => disavow(ids, true))}>
            Disavow
          </button>
        </>
      ),
    }
  }, [rows, targets, site.id, market.id, navigate, acts, show])
}
