import { type Grouping, listCompeting } from '@dew-trail/contract/group'
import { competingBatch, competingSpecs } from '@dew-trail/contract/group-tables'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { formatDay } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { GroupBar } from './GroupBar.tsx'
import { competingColumns, pathOf } from './group-columns.tsx'
import { useGrouping } from './use-grouping.ts'

const sums = ['keepVisits', 'giveVisits']
const views = [
  plainView('All of them', '-giveVisits'),
  plainView('Each leads for some', '-giveVisits', 'keepKeywords:from:1', 'giveKeywords:from:1'),
  plainView('Both on the first page', '-giveVisits', 'keepPosition:to:10', 'givePosition:to:10'),
]

/** Own pages that fight for one theme, and which of them should have it. */
export function CompetingTab({ groupings, grouping }: { groupings: readonly Grouping[]; grouping: Grouping }) {
  const { site, market } = useSite()
  const { one } = useGrouping(grouping)
  const { data, error } = useEndpoint(listCompeting, one, { keep: true })
  const batch = useMemo(() => (data ? competingBatch(data.rows) : null), [data])
  const source = useRowsInWorker(competingSpecs, batch)
  const state = useSheetState('-giveVisits')
  const byId = useMemo(() => new Map(data?.rows.map(row => [row.id, row])), [data])
  return (
    <TableScreen
      key={`${site.id}:${market.id}:${grouping.id}`}
      name="competing-pages"
      label="Pages of yours that compete"
      fileName="competing-pages"
      title="Group"
      noun="pair"
      top={<GroupBar groupings={groupings} grouping={grouping} see="competing" />}
      head={
        <p className="quiet" style={{ margin: '8px 16px' }}>
          Two pages of yours stand within 30 for keywords of one theme. The one that brings more visits should have it:
          link to it from the other, move there what belongs there, or send the other's readers on. Where each is the
          best placed for some keywords, the engine itself wavers between them.{' '}
          {data &&
            (data.logged
              ? `From the latest results and the query log up to ${formatDay(data.logged)}.`
              : 'From the latest results; a query log by page would say more, and none is loaded.')}
        </p>
      }
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={competingColumns}
      state={state}
      searchColumn="theme"
      sums={sums}
      shippedViews={views}
      unfold={(row: Row) => {
        const pair = byId.get(row.id)
        if (!pair) return null
        return (
          <div className="competing-details">
            {(
              [
                [pair.keep, pair.keepLeads, 'should have the theme; your best placed page for'],
                [pair.give, pair.giveLeads, 'is in its way; your best placed page for'],
              ] as const
            ).map(([page, leads, words]) => (
              <div key={page}>
                <b className="own">{pathOf(page)}</b> {words}
                <ul>
                  {leads.slice(0, 50).map(phrase => (
                    <li key={phrase}>{phrase}</li>
                  ))}
                  {!leads.length && <li className="quiet">none: the other stands above it for all</li>}
                  {leads.length > 50 && <li className="quiet">and {leads.length - 50} more</li>}
                </ul>
              </div>
            ))}
          </div>
        )
      }}
      foot={({ sums: of }) => (
        <>
          <span>
            <SumText sum={of.keepVisits!} of="visits/mo of pages that should have it" about />
          </span>
          <span>
            <SumText sum={of.giveVisits!} of="of those in the way" about />
          </span>
        </>
      )}
      none={
        <>
          <h2>No pages of yours compete</h2>
          <p>
            For no theme do two pages within 30 share the keywords between them, as far as results and your query log
            tell.
          </p>
          {data && !data.logged && (
            <Link className="link" to={`/${site.id}/sources?market=${market.id}`}>
              Load the query log
            </Link>
          )}
        </>
      }
    />
  )
}
