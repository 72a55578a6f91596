import { listSiteRanking } from '@dew-trail/contract/link-lists'
import { rankingBatch, rankingSpecs } from '@dew-trail/contract/link-tables'
import { rankLinks } from '@dew-trail/contract/links'
import { readTarget } from '@dew-trail/core/rivals/target'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import type { useCompared } from '../../compared/use-compared.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { rankingColumns } from './link-columns.tsx'
import { LinksBar } from './LinksBar.tsx'
import { useSiteRows } from './use-site-rows.tsx'

const sums = ['standing']
const views = [
  plainView('All of them', 'position'),
  plainView('Most trusted', '-trust', 'trust:known'),
  plainView('Doubtful', '-doubt', 'doubt:from:0.5'),
]

/** All sites that our graph knows by standing, the own and the compared ones marked; those are there whatever their place. */
export function RankingTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site } = useSite()
  const marked = useMemo(() => targets.flatMap(text => readTarget(text)?.domain ?? []), [targets])
  const { data, error } = useEndpoint(listSiteRanking, { siteId: site.id, beside: marked })
  const batch = useMemo(() => (data ? rankingBatch(data.rows) : null), [data])
  const source = useRowsInWorker(rankingSpecs, batch)
  const state = useSheetState('position')
  const columns = useMemo(() => rankingColumns(marked), [marked])
  const rowActions = useSiteRows(data?.rows, targets)
  const positions = marked.flatMap(domain => {
    const row = data?.rows.find(each => each.domain === domain)
    return row ? [`${domain} ${formatWhole(row.position)}`] : []
  })
  return (
    <TableScreen
      key={site.id}
      name="site-ranking"
      label="Sites by standing"
      fileName="site-ranking"
      title="Links"
      noun="site"
      top={
        <LinksBar
          targets={targets}
          see="ranking"
          says={
            data?.madeAt
              ? `Of ${formatWhole(data.total)} sites, as of ${formatDay(data.madeAt.slice(0, 10))}${positions.length ? `: ${positions.join(', ')}` : ''}`
              : ''
          }
          setRivals={setRivals}
        />
      }
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={columns}
      state={state}
      searchColumn="domain"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      footSelected={rowActions.foot}
      foot={() =>
        data && data.total > data.rows.length ? (
          <span className="quiet" role="note">
            of {formatWhole(data.total)} in all, the first {formatWhole(data.rows.length)} are listed
          </span>
        ) : null
      }
      none={
        <>
          <h2>Standing was not computed yet</h2>
          <p>It is computed each night, and whenever you ask for it, from all links that are known.</p>
          <ActButton
            onAct={async () => {
              await call(rankLinks, { siteId: site.id })
              return { say: 'Computing standing and trust; the foot shows how far it is' }
            }}
          >
            Compute it now
          </ActButton>
        </>
      }
    />
  )
}
