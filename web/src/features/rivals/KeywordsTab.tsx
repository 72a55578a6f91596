import { rankedBatch, rankedSpecs } from '@dew-trail/contract/rival-tables'
import { familyOnce } from '@dew-trail/core/tables/once-by'
import { useMemo } from 'react'
import { useRowActions } from '../../keywords/use-row-actions.tsx'
import { listRankedKeywords, mostListed } from '@dew-trail/contract/rivals'
import { Listed } from '../../sheet/Listed.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useListed } from '../../sheet/use-listed.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useSite } from '../../ui/site-context.ts'
import { CompareBar } from './CompareBar.tsx'
import { coverageText } from './coverage-text.ts'
import { NoResults } from './ProfilesTab.tsx'
import { rankedColumns } from './rival-columns.tsx'
import { TargetChoice, useTarget } from '../../compared/TargetChoice.tsx'
import { useTakingOver } from './use-taking-over.ts'
import type { useCompared } from '../../compared/use-compared.ts'

const sums = ['searches', 'visits', 'worth']
const views = [
  plainView('All of them', '-visits'),
  plainView('On the first page', '-visits', 'now:to:10'),
  plainView('Just below it', '-searches', 'now:from:11', 'now:to:20'),
  plainView('Entered', '-visits', 'entered:yes'),
  plainView('Left', '-searches', 'now:unknown'),
  plainView('Told by the feed alone', '-visits', 'fed:yes'),
  plainView('Where you do not stand', '-visits', 'own:unknown'),
  plainView('Of yours, not in your query log', '-visits', 'withheld:yes'),
]

/** The keywords for which a site, host, folder or page stands, by visits. */
export function KeywordsTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const target = useTarget(targets)
  const state = useSheetState('-visits')
  const { data, error, coming, total } = useListed(
    listRankedKeywords,
    { siteId: site.id, marketId: market.id, target },
    mostListed,
    state,
  )
  const batch = useMemo(() => (data ? rankedBatch(data.rows) : null), [data])
  const source = useRowsInWorker(rankedSpecs, batch, familyOnce)
  const rowActions = useRowActions(useTakingOver())
  return (
    <TableScreen
      key={`${site.id}:${market.id}`}
      name="rival-keywords"
      label={`Keywords of ${target}`}
      fileName={`keywords-of-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Rivals"
      noun="keyword"
      top={
        <CompareBar targets={targets} see="keywords" coverage={coverageText(data?.coverage)} setRivals={setRivals} />
      }
      lead={<TargetChoice targets={targets} target={target} />}
      source={source}
      error={error}
      total={total}
      columns={rankedColumns}
      state={state}
      searchColumn="phrase"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      footSelected={rowActions.foot}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first={coming ? 'that bring most' : 'first in this order'} coming={coming} />
          <span>
            <SumText sum={of.searches!} of="searches/mo" />
          </span>
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
            <h2>Nothing is known of {target}</h2>
            <p>
              It stands for none of the {data.coverage.keywords} keywords whose results are known in this market.{' '}
              {data.coverage.fed ? '' : 'The rankings feed may know more: load it above.'}
            </p>
          </>
        ) : (
          <NoResults />
        )
      }
    />
  )
}
