import { paidBatch, paidSpecs } from '@dew-trail/contract/rival-tables'
import { listPaidKeywords } from '@dew-trail/contract/rivals'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useRowActions } from '../../keywords/use-row-actions.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { formatMonth } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { CompareBar } from './CompareBar.tsx'
import { Listed } from '../../sheet/Listed.tsx'
import { LoadRankings } from './LoadRankings.tsx'
import { paidColumns } from './rival-columns.tsx'
import { TargetChoice, useTarget } from '../../compared/TargetChoice.tsx'
import { useTakingOver } from './use-taking-over.ts'
import type { useCompared } from '../../compared/use-compared.ts'

const sums = ['spend', 'searches']
const views = [
  plainView('All of them', '-spend'),
  plainView('Where it does not stand itself', '-spend', 'stands:unknown'),
  plainView('Where you stand already', '-spend', 'own:to:10'),
  plainView('Where you do not stand', '-spend', 'own:unknown'),
]

/** The keywords that a site pays for, most spent first. */
export function PaidTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const target = useTarget(targets)
  const { data, error } = useEndpoint(listPaidKeywords, { siteId: site.id, marketId: market.id, target })
  const batch = useMemo(() => (data ? paidBatch(data.rows) : null), [data])
  const source = useRowsInWorker(paidSpecs, batch)
  const state = useSheetState('-spend')
  const rowActions = useRowActions(useTakingOver())
  const whole = data && data.domain !== target ? ` for all of ${data.domain}` : ''
  return (
    <TableScreen
      key={`${site.id}:${market.id}`}
      name="rival-paid"
      label={`Keywords that ${target} pays for`}
      fileName={`paid-by-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Rivals"
      noun="keyword"
      top={
        <CompareBar
          targets={targets}
          see="paid"
          coverage={data?.month ? `By the ads data, ${formatMonth(data.month.slice(0, 7))}${whole}` : ''}
          setRivals={setRivals}
        />
      }
      lead={<TargetChoice targets={targets} target={target} />}
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={paidColumns}
      state={state}
      searchColumn="phrase"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      footSelected={rowActions.foot}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="it spends most on" />
          <span title="By the ads data, in its newest month">
            spends <SumText sum={of.spend!} of="a month" about />
          </span>
          <span>
            <SumText sum={of.searches!} of="searches/mo" />
          </span>
        </>
      )}
      none={
        data?.month ? (
          <>
            <h2>{data.domain} pays for nothing</h2>
            <p>The ads data knows no advertisement of it in {formatMonth(data.month.slice(0, 7))}.</p>
          </>
        ) : (
          <>
            <h2>What {target} pays for is not known yet</h2>
            <p>The ads data is asked about a site when the rankings feed is.</p>
            <LoadRankings targets={[target]} />
          </>
        )
      }
    />
  )
}
