import { listLandingPages } from '@dew-trail/contract/rivals'
import { landingBatch, landingSpecs } from '@dew-trail/contract/rival-tables'
import { useCallback, useMemo } from 'react'
import { Link, useNavigate } from 'react-router'
import { useFirstRows } from '../../api/use-first-rows.ts'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useSite } from '../../ui/site-context.ts'
import { CompareBar } from './CompareBar.tsx'
import { coverageText } from './coverage-text.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { PageKeywords } from './PageKeywords.tsx'
import { NoResults } from './ProfilesTab.tsx'
import { landingColumns, ownLandingColumns } from './rival-columns.tsx'
import { TargetChoice, useTarget } from '../../compared/TargetChoice.tsx'
import type { useCompared } from '../../compared/use-compared.ts'

const sums = ['visits', 'worth', 'keywords']
const ownViews = [
  plainView('What to do next', '', 'next:known'),
  plainView('All of them', '-visits'),
  plainView('Not on the plan', '-visits', 'planned:unknown'),
]
const views = [plainView('All of them', '-visits')]

/** The pages of a site that stand for keywords; of the own site weak ones first, each with what to do next and why. */
export function PagesTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const target = useTarget(targets)
  const own = target === site.domain
  const { data, error, coming } = useFirstRows(listLandingPages, { siteId: site.id, marketId: market.id, target })
  const batch = useMemo(() => (data ? landingBatch(data.rows) : null), [data])
  const source = useRowsInWorker(landingSpecs, batch)
  // In the order in which they come: own ones that want something first, then by visits.
  const state = useSheetState('')
  const navigate = useNavigate()
  const rowActions = useMemo(
    () => ({
      keys: () => ({}),
      menu: (row: Row) => {
        const at = new URLSearchParams({
          market: String(market.id),
          with: targets.slice(1).join(','),
          see: 'sites',
          of: String(row.url),
        })
        return [
          { label: 'Who links to this page', run: () => void navigate(`/${site.id}/links?${at}`) },
          { label: 'Open the page', run: () => void window.open(String(row.url), '_blank', 'noreferrer') },
        ]
      },
    }),
    [site.id, market.id, targets, navigate],
  )
  const unfold = useCallback((row: Row) => <PageKeywords url={String(row.url)} why={row.why as string | null} />, [])
  return (
    <TableScreen
      key={`${site.id}:${market.id}:${own}`}
      name={own ? 'own-landing-pages' : 'landing-pages'}
      label={`Pages of ${target}`}
      fileName={`pages-of-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Rivals"
      noun="page"
      top={<CompareBar targets={targets} see="pages" coverage={coverageText(data?.coverage)} setRivals={setRivals} />}
      lead={<TargetChoice targets={targets} target={target} />}
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={own ? ownLandingColumns : landingColumns}
      state={state}
      searchColumn="url"
      sums={sums}
      shippedViews={own ? ownViews : views}
      unfold={unfold}
      rowActions={rowActions}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="that bring most" coming={coming} />
          <span>
            <SumText sum={of.visits!} of="visits/mo" about />
          </span>
          <span>
            worth <SumText sum={of.worth!} of="a month" about />
          </span>
        </>
      )}
      none={
        data && (data.coverage.keywords || data.coverage.fed) ? (
          <>
            <h2>No page of {target} stands for a keyword</h2>
            <p>Results of {data.coverage.keywords} keywords are known in this market, and none has a page of it.</p>
            <Link className="link" to={`/${site.id}/gather?market=${market.id}`}>
              Gather more keywords
            </Link>
          </>
        ) : (
          <NoResults />
        )
      }
    />
  )
}
