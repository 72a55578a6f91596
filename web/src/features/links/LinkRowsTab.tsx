import { listTargetLinks, mostLinkRows } from '@dew-trail/contract/link-lists'
import { verifyLinks } from '@dew-trail/contract/links'
import { linkBatch, linkSpecs } from '@dew-trail/contract/link-tables'
import { lazy, useCallback, useMemo } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../api/call.ts'
import type { useCompared } from '../../compared/use-compared.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useListed } from '../../sheet/use-listed.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { useSite } from '../../ui/site-context.ts'
import { plural } from '../../ui/format.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { linkColumns } from './link-columns.tsx'
import type { Row } from '../../rows/row-source.ts'
import { LinksOfSite } from './LinksOfSite.tsx'
import { LinksBar } from './LinksBar.tsx'
import { NoLinks } from './NoLinks.tsx'
import { useLinkActs } from './use-link-acts.ts'
import { useLinks } from './use-links.ts'

const PutOnFindList = lazy(() => import('../../compared/PutOnFindList.tsx'))
const sums = ['standing', 'pull']
/** Linking pages that are read at once. */
const mostVerified = 2_000
const views = [
  plainView('All of them', ''),
  plainView('Followed, by pull', '-pull', 'rel:is:follow'),
  plainView('In the text of pages', '-standing', 'region:is:content'),
  plainView('Read by our crawler', '-standing', 'verifiedOn:known'),
  plainView('Without words', '-standing', 'anchor:unknown'),
]

/** Links to a site, host, folder or page with all that is known of each; of one linking site where the address names it. */
export function LinkRowsTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const navigate = useNavigate()
  const act = useAct()
  const acts = useLinkActs()
  const show = useShowDialog()
  const { target, scope } = useLinks(targets)
  const from = params.get('from')
  const bySite = params.get('group') === 'site' && !from
  const state = useSheetState('')
  const { data, error, coming, total } = useListed(
    listTargetLinks,
    { ...scope, target, ...(from ? { from } : {}), ...(bySite ? { bySite: 'true' } : {}) },
    mostLinkRows,
    state,
  )
  const batch = useMemo(() => (data ? linkBatch(data.rows) : null), [data])
  const source = useRowsInWorker(linkSpecs, batch)
  const unfold = useCallback((row: Row) => <LinksOfSite domain={String(row.domain)} target={target} />, [target])
  const rowActions = useMemo(() => {
    const byId = new Map(data?.rows.map(row => [row.id, row]))
    const prospect = (ids: readonly number[]) =>
      void acts.addProspects(
        ids.flatMap(id => {
          const row = byId.get(id)
          return row ? [{ domain: row.domain, page: row.source }] : []
        }),
      )
    const list = (ids: readonly number[]) =>
      show(close => (
        <PutOnFindList
          kind="links"
          items={ids.flatMap(id => {
            const row = byId.get(id)
            return row ? [{ what: row.source, target: row.lands }] : []
          })}
          onClose={close}
        />
      ))
    const verify = (ids: readonly number[]) =>
      void act(async () => {
        const pages = [...new Set(ids.flatMap(id => byId.get(id)?.source ?? []))].slice(0, mostVerified)
        const { requests } = await call(verifyLinks, { siteId: site.id, pages })
        return { say: `Reading ${plural(requests, 'linking page')}; the foot shows how far it is` }
      })
    return {
      keys: (take: Selection['take']) => ({
        v: (id: number | null) => (id === null ? void take().then(({ ids }) => verify(ids)) : verify([id])),
        l: (id: number | null) => (id === null ? void take().then(({ ids }) => list(ids)) : list([id])),
        p: (id: number | null) => (id === null ? void take().then(({ ids }) => prospect(ids)) : prospect([id])),
      }),
      menu: (row: { id: number }) => {
        const link = byId.get(row.id)
        if (!link) return []
        const at = new URLSearchParams({
          market: String(market.id),
          with: params.get('with') ?? '',
          see: 'sites',
          of: link.domain,
        })
        return [
          { label: 'Add its site to the prospects', key: 'P', run: () => prospect([row.id]) },
          { label: 'Verify it now: read the linking page', key: 'V', run: () => verify([row.id]) },
          { label: 'Put on a list …', key: 'L', run: () => list([row.id]) },
          { label: 'Open the linking page', run: () => void window.open(link.source, '_blank', 'noreferrer') },
          { label: 'Open the page it lands on', run: () => void window.open(link.lands, '_blank', 'noreferrer') },
          { label: 'Who links to that site', run: () => void navigate(`/${site.id}/links?${at}`) },
        ]
      },
    }
  }, [data, act, acts, show, params, market.id, site.id, navigate])
  return (
    <TableScreen
      key={`${target} ${from} ${bySite}`}
      name="links-to"
      label={`Links to ${target}`}
      fileName={`links-to-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Links"
      noun={bySite ? 'site' : 'link'}
      {...(bySite ? { unfold } : {})}
      top={<LinksBar targets={targets} see="links" setRivals={setRivals} />}
      lead={
        from ? (
          <span className="chip">
            <span style={{ padding: '0 8px' }}>
              from <b>{from}</b>
            </span>
            <button type="button" aria-label="Links of all sites" onClick={() => change(setParam('from', null), true)}>
              ×
            </button>
          </span>
        ) : (
          <button
            type="button"
            className="link"
            aria-pressed={bySite}
            title="The first link of each site, which unfolds to all of them"
            onClick={() => change(setParam('group', bySite ? null : 'site'), true)}
          >
            {bySite ? 'One by one' : 'By site'}
          </button>
        )
      }
      source={source}
      error={error}
      total={total}
      columns={linkColumns}
      state={state}
      searchColumn="source"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="strongest" coming={coming} />
          {of.standing!.median !== null && <span>standing, median {Math.round(of.standing!.median)}</span>}
        </>
      )}
      none={<NoLinks target={target} />}
    />
  )
}
