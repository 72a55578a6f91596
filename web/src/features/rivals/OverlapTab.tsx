import { familyOnce } from '@dew-trail/core/tables/once-by'
import { listOverlap, readOverlap } from '@dew-trail/contract/rivals'
import { overlapBatch, overlapSpecs } from '@dew-trail/contract/rival-tables'
import { masksOf, type QuestionKind, questionKinds } from '@dew-trail/core/rivals/regions'
import { lazy, useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useRowActions } from '../../keywords/use-row-actions.tsx'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { ownLevelsIn } from '../../ui/own-levels.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { CompareBar } from './CompareBar.tsx'
import { coverageText } from './coverage-text.ts'
import { depths, type Overlap, questionTexts, RegionMatrix } from './RegionMatrix.tsx'
import { Listed } from '../../sheet/Listed.tsx'
import { LoadRankings } from './LoadRankings.tsx'
import { NoResults } from './ProfilesTab.tsx'
import { overlapColumns } from './rival-columns.tsx'
import { useTakingOver } from './use-taking-over.ts'
import type { useCompared } from '../../compared/use-compared.ts'

const AdGroupsDialog = lazy(() => import('./AdGroupsDialog.tsx'))

const sums = ['searches', 'could', 'worth']
/** How deep a site must stand to count, from the address; a hundred where it says nothing that is offered. */
const withinOf = (text: string | null): number => depths.find(depth => String(depth) === text) ?? 100
/** What of the overlap is listed: a question, or one region by its mask. */
const masksFor = (region: string, sites: number): number[] | null =>
  region === 'belowFirst'
    ? null
    : (questionKinds as readonly string[]).includes(region)
      ? masksOf(region as QuestionKind, sites)
      : [Number(region)]

/** What is listed before somebody asks: what several rivals have and the own site lacks, or where that is nothing, stands too low for. */
function firstQuestion(overlap: Overlap | undefined, sites: number, paid: boolean): string {
  const question = sites > 2 ? 'twoRivals' : 'allRivals'
  const masks = masksOf(question, sites)
  return overlap?.regions.some(region => masks.includes(region.mask)) ? question : paid ? 'shared' : 'belowFirst'
}

/** How the keywords of the compared sites lie over each other; the keywords of a region below, what can be won first. */
export function OverlapTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const few = targets.length < 2
  const within = withinOf(params.get('within'))
  const of = params.get('overlap') === 'paid' ? ('paid' as const) : ('organic' as const)
  const paid = of === 'paid'
  const at = { siteId: site.id, marketId: market.id, targets: [...targets], within: paid ? 100 : within, of }
  const overlap = useEndpoint(readOverlap, at, { enabled: !few, keep: true })
  const region = params.get('region') ?? firstQuestion(overlap.data, targets.length, paid)
  const { data, error } = useEndpoint(
    listOverlap,
    { ...at, masks: masksFor(region, targets.length) },
    { enabled: !few && overlap.data !== undefined },
  )
  const batch = useMemo(() => (data ? overlapBatch(data.rows, targets.length) : null), [data, targets.length])
  const specs = useMemo(() => overlapSpecs(targets.length), [targets.length])
  const source = useRowsInWorker(specs, batch, familyOnce)
  const columns = useMemo(() => overlapColumns(targets, paid), [targets, paid])
  const state = useSheetState('-pageWorth,-searches')
  const rowActions = useRowActions(useTakingOver())
  const show = useShowDialog()
  const top = (
    <>
      <CompareBar
        targets={targets}
        see="overlap"
        coverage={coverageText(overlap.data?.coverage)}
        setRivals={setRivals}
      />
      {overlap.data && !few && (
        <RegionMatrix
          targets={targets}
          overlap={overlap.data}
          region={region}
          rows={data?.rows}
          comfortable={ownLevelsIn(site, market)?.comfortable ?? null}
          within={within}
          of={of}
          onOf={next =>
            change(params => {
              setParam('overlap', next === 'paid' ? 'paid' : null)(params)
              for (const name of ['region', 'within', 'where', 'sort', 'open']) params.delete(name)
            }, true)
          }
          onWithin={next => change(setParam('within', next === 100 ? null : String(next)))}
          onRegion={next => change(setParam('region', next), true)}
        />
      )}
    </>
  )
  if (few)
    return (
      <main className="screen whole">
        <div className="main">
          {top}
          <div className="empty">
            <h1>Name a site to compare with</h1>
            <p>Type a rival above, or look at who they are.</p>
            <button type="button" className="link" onClick={() => change(setParam('see', 'who'), true)}>
              Who the rivals are
            </button>
          </div>
        </div>
      </main>
    )
  const name = region in questionTexts ? questionTexts[region as keyof typeof questionTexts] : 'this region'
  return (
    <TableScreen
      key={`${site.id}:${market.id}:${of}:${targets.join()}`}
      name={paid ? 'overlap-paid' : 'overlap'}
      label={`Keywords: ${name}`}
      fileName={paid ? 'overlap-paid' : 'overlap'}
      title="Rivals"
      noun="keyword"
      top={top}
      source={source}
      error={overlap.error ?? error}
      total={data?.rows.length ?? 0}
      columns={columns}
      state={state}
      searchColumn="phrase"
      sums={sums}
      rowActions={rowActions}
      actions={
        <button
          type="button"
          className="link"
          disabled={!data?.rows.length}
          onClick={() => source && show(close => <AdGroupsDialog source={source} ids={null} onClose={close} />)}
        >
          Ad groups
        </button>
      }
      footSelected={take => (
        <>
          {rowActions.foot(take)}
          <button
            type="button"
            className="link"
            onClick={async () => {
              const { ids } = await take()
              if (source && ids.length) show(close => <AdGroupsDialog source={source} ids={ids} onClose={close} />)
            }}
          >
            Ad groups
          </button>
        </>
      )}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="most searched" />
          <span>
            <SumText sum={of.searches!} of="searches/mo" />
          </span>
          <span title="Visits that new, fitting pages of yours could bring">
            could bring <SumText sum={of.could!} of="visits/mo" about />
          </span>
          <span>
            worth <SumText sum={of.worth!} of="a month" about />
          </span>
        </>
      )}
      none={
        overlap.data && !overlap.data.coverage.keywords && !overlap.data.coverage.fed ? (
          <NoResults />
        ) : (
          <>
            <h2>No keyword lies there</h2>
            {paid && !overlap.data?.regions.length ? (
              <>
                <p>What sites pay for is known once the ads data was asked about them, with the rankings feed.</p>
                <LoadRankings targets={targets} />
              </>
            ) : (
              <p>Choose another region or question above.</p>
            )}
          </>
        )
      }
    />
  )
}
