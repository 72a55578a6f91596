import { listLinkedPages, mostLinkRows } from '@dew-trail/contract/link-lists'
import { linkedPageBatch, linkedPageSpecs } from '@dew-trail/contract/link-tables'
import { lazy, useMemo } from 'react'
import { useNavigate } from 'react-router'
import type { useCompared } from '../../compared/use-compared.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useListed } from '../../sheet/use-listed.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { useSite } from '../../ui/site-context.ts'
import { linkedPageColumns } from './link-columns.tsx'
import { LinksBar } from './LinksBar.tsx'
import { NoLinks } from './NoLinks.tsx'
import { useLinks } from './use-links.ts'

const PutOnFindList = lazy(() => import('../../compared/PutOnFindList.tsx'))
const sums = ['links']
const views = [
  plainView('All of them', '-sites'),
  plainView('Gone, yet linked', '-sites', 'status:from:400'),
  plainView('That lead elsewhere', '-sites', 'redirectTo:known'),
]

/** The pages of a target that links lead to: what attracts links, and which pages waste them. */
export function LinkedPagesTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const navigate = useNavigate()
  const show = useShowDialog()
  const { target, scope } = useLinks(targets)
  const state = useSheetState('-sites')
  const { data, error, coming, total } = useListed(listLinkedPages, { ...scope, target }, mostLinkRows, state)
  const batch = useMemo(() => (data ? linkedPageBatch(data.rows) : null), [data])
  const source = useRowsInWorker(linkedPageSpecs, batch)
  const rowActions = useMemo(() => {
    const byId = new Map(data?.rows.map(row => [row.id, row]))
    const list = (ids: readonly number[]) =>
      show(close => (
        <PutOnFindList
          kind="pages"
          items={ids.flatMap(id => (byId.has(id) ? [{ what: byId.get(id)!.url }] : []))}
          onClose={close}
        />
      ))
    return {
      keys: (take: Selection['take']) => ({
        l: (id: number | null) => (id === null ? void take().then(({ ids }) => list(ids)) : list([id])),
      }),
      menu: (row: { id: number }) => {
        const page = byId.get(row.id)
        if (!page) return []
        const at = (see: string) =>
          new URLSearchParams({ market: String(market.id), with: targets.slice(1).join(','), see, of: page.url })
        return [
          { label: 'Who links to this page', run: () => void navigate(`/${site.id}/links?${at('sites')}`) },
          { label: 'For what it stands', run: () => void navigate(`/${site.id}/rivals?${at('keywords')}`) },
          { label: 'Put on a list …', key: 'L', run: () => list([row.id]) },
          { label: 'Open the page', run: () => void window.open(page.url, '_blank', 'noreferrer') },
        ]
      },
    }
  }, [data, targets, market.id, site.id, navigate, show])
  return (
    <TableScreen
      key={target}
      name="linked-pages"
      label={`Pages of ${target} that links lead to`}
      fileName={`linked-pages-of-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Links"
      noun="page"
      top={<LinksBar targets={targets} see="pages" setRivals={setRivals} />}
      source={source}
      error={error}
      total={total}
      columns={linkedPageColumns}
      state={state}
      searchColumn="url"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="that most sites link to" coming={coming} />
          <span>
            <SumText sum={of.links!} of="links" />
          </span>
        </>
      )}
      none={<NoLinks target={target} />}
    />
  )
}
