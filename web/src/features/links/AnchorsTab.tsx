import { listTargetAnchors, mostLinkRows } from '@dew-trail/contract/link-lists'
import { anchorBatch, anchorSpecs } from '@dew-trail/contract/link-tables'
import { keepPhrases, startGathering } from '@dew-trail/contract/gather'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import type { useCompared } from '../../compared/use-compared.ts'
import { Listed } from '../../sheet/Listed.tsx'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useListed } from '../../sheet/use-listed.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { anchorColumns } from './link-columns.tsx'
import { LinksBar } from './LinksBar.tsx'
import { NoLinks } from './NoLinks.tsx'
import { useLinks } from './use-links.ts'

const sums = ['links']
const views = [
  plainView('All of them', '-sites'),
  plainView('Odd ones', '-sites', 'odd:known'),
  plainView('Keywords', '-sites', 'kind:is:exact|partial'),
]
/** Of an anchor that becomes a seed, so many ideas are asked for. */
const mostIdeas = 50
const mostSeeds = 20
const longestPhrase = 200

/** The words of the links to a site, host, folder or page, what they say, and which are odd. */
export function AnchorsTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const act = useAct()
  const { target, scope } = useLinks(targets)
  const state = useSheetState('-sites')
  const { data, error, coming, total } = useListed(listTargetAnchors, { ...scope, target }, mostLinkRows, state)
  const batch = useMemo(() => (data ? anchorBatch(data.rows) : null), [data])
  const source = useRowsInWorker(anchorSpecs, batch)
  const rowActions = useMemo(() => {
    const byId = new Map(data?.rows.map(row => [row.id, row]))
    const gather = (ids: readonly number[]) =>
      void act(async () => {
        const seeds = ids.flatMap(id => byId.get(id)?.text.toLowerCase() || []).slice(0, mostSeeds)
        await call(startGathering, { siteId: site.id, marketId: market.id, seeds, mostIdeas })
        return { say: `Gathering from ${plural(seeds.length, 'anchor')}; the foot shows how far it is` }
      })
    const keep = (ids: readonly number[]) =>
      void act(async () => {
        const phrases = ids.flatMap(id => byId.get(id)?.text.trim().slice(0, longestPhrase) || [])
        const { changed, actId } = await call(keepPhrases, { siteId: site.id, marketId: market.id, phrases })
        return changed.length
          ? {
              say: `${plural(changed.length, 'anchor')} kept as ${changed.length === 1 ? 'a keyword' : 'keywords'}`,
              actId,
            }
          : { say: 'Kept already' }
      })
    const onOneOrAll = (run: (ids: readonly number[]) => void, take: Selection['take']) => (id: number | null) =>
      id === null ? void take().then(({ ids }) => run(ids)) : run([id])
    return {
      keys: (take: Selection['take']) => ({ g: onOneOrAll(gather, take), y: onOneOrAll(keep, take) }),
      menu: (row: { id: number }) => [
        { label: 'Keep as a keyword', key: 'Y', run: () => keep([row.id]) },
        { label: 'Gather keywords from it', key: 'G', run: () => gather([row.id]) },
      ],
    }
  }, [data, act, site.id, market.id])
  return (
    <TableScreen
      key={target}
      name="anchors"
      label={`Anchors of links to ${target}`}
      fileName={`anchors-to-${target.replace(/[^a-z0-9.]+/gi, '-')}`}
      title="Links"
      noun="anchor"
      top={<LinksBar targets={targets} see="anchors" setRivals={setRivals} />}
      source={source}
      error={error}
      total={total}
      columns={anchorColumns}
      state={state}
      searchColumn="text"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      foot={({ sums: of }) => (
        <>
          <Listed data={data} first="of most sites" coming={coming} />
          <span>
            <SumText sum={of.links!} of="links" /> of {plural(data?.sites ?? 0, 'site')}
          </span>
        </>
      )}
      none={<NoLinks target={target} />}
    />
  )
}
