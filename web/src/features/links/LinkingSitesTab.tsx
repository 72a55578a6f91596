import { listLinkingSites, mostLinkRows } from '@dew-trail/contract/link-lists'
import { linkingSiteBatch, linkingSiteSpecs } from '@dew-trail/contract/link-tables'
import { readTarget } from '@dew-trail/core/rivals/target'
import { useCallback, useMemo } from 'react'
import type { useCompared } from '../../compared/use-compared.ts'
import type { Row } from '../../rows/row-source.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useListed } from '../../sheet/use-listed.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { linkingSiteColumns } from './link-columns.tsx'
import { LinksBar } from './LinksBar.tsx'
import { LinksOfSite } from './LinksOfSite.tsx'
import { NoLinks } from './NoLinks.tsx'
import { useLinks } from './use-links.ts'
import { useSiteRows } from './use-site-rows.tsx'

const sums = ['links', 'follow', 'standing']
const views = [
  plainView('All of them', ''),
  plainView('With followed links', '-standing', 'follow:from:1'),
  plainView('That link to others too', '-toRivals,-standing', 'toRivals:from:1'),
  plainView('On every page', '-links', 'siteWide:yes'),
  plainView('Schools and public bodies', '-standing', 'kind:is:school|public'),
  plainView('Suspected', '-doubt', 'suspected:yes'),
]

/** The sites that link to a site, host, folder or page, followed ones of the highest standing first. */
export function LinkingSitesTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { target, scope } = useLinks(targets)
  const beside = targets.flatMap(text => {
    const domain = readTarget(text)?.domain
    return domain && domain !== readTarget(target)?.domain ? [domain] : []
  })
  // In the order in which they come.
  const state = useSheetState('')
  const { data, error, coming, total } = useListed(listLinkingSites, { ...scope, target, beside }, mostLinkRows, state)
  const batch = useMemo(() => (data ? linkingSiteBatch(data.rows) : null), [data])
  const source = useRowsInWorker(linkingSiteSpecs, batch)
  const unfold = useCallback((row: Row) => <LinksOfSite domain={String(row.domain)} target={target} />, [target])
  const rowActions = useSiteRows(data?.rows, targets)
  return (
    <TableScreen
      key={target}
      name="linking-sites"
      label={`Sites that link to ${target}`}
      fileName={`linking-to-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Links"
      noun="site"
      top={<LinksBar targets={targets} see="sites" setRivals={setRivals} />}
      source={source}
      error={error}
      total={total}
      columns={linkingSiteColumns}
      state={state}
      searchColumn="domain"
      sums={sums}
      shippedViews={views}
      unfold={unfold}
      rowActions={rowActions}
      footSelected={rowActions.foot}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="strongest" coming={coming} />
          <span>
            <SumText sum={of.links!} of="links" />
          </span>
          {of.standing!.median !== null && <span>standing, median {Math.round(of.standing!.median)}</span>}
        </>
      )}
      none={<NoLinks target={target} />}
    />
  )
}
