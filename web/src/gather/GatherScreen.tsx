import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { formatMoney, formatWhole } from '../format.ts'
import { ImportDialog } from '../imports/ImportDialog.tsx'
import { useSite } from '../shell/site-context.ts'
import { useSheetState } from '../sheet/use-sheet-state.ts'
import { gatherColumns } from './keyword-columns.tsx'
import { KeywordSheet } from './KeywordSheet.tsx'
import { KindPanel } from './KindPanel.tsx'
import { SeedForm } from './SeedForm.tsx'
import { SeedTree } from './SeedTree.tsx'
import { useListFacts } from './use-source-facts.ts'
import { WordPanel } from './WordPanel.tsx'

const sumColumns = ['searches', 'cpc']
const hide = ['gatherings', 'kind']

export default function GatherScreen() {
  const { keywords } = useSite()
  const [params, setParams] = useSearchParams()
  const state = useSheetState('-searches')
  const facts = useListFacts(keywords)
  const chosen = useMemo(() => {
    const condition = state.where.find(each => each.column === 'gatherings' && each.op === 'any')
    return condition?.op === 'any' ? Number(condition.value[0]) : null
  }, [state.where])
  const choose = (gatheringId: number | null) => {
    const rest = state.where.filter(each => each.column !== 'gatherings')
    state.setWhere(
      gatheringId === null ? rest : [{ column: 'gatherings', op: 'any', value: [String(gatheringId)] }, ...rest],
    )
  }
  const setImporting = (on: boolean) =>
    setParams(
      before => {
        const next = new URLSearchParams(before)
        if (on) next.set('import', 'keywords')
        else next.delete('import')
        return next
      },
      { replace: true },
    )
  return (
    <main className="screen">
      <aside className="rail" aria-label="Seeds, kinds and words">
        <SeedForm onStarted={choose} />
        <section>
          <h2>Seeds</h2>
          <SeedTree chosen={chosen} onChoose={choose} />
        </section>
        <KindPanel counts={facts.kinds} state={state} />
        <WordPanel words={facts.words} state={state} />
      </aside>
      <KeywordSheet
        name="gather"
        label="Keywords found"
        fileName="keywords"
        columns={gatherColumns}
        state={state}
        source={keywords}
        hide={hide}
        sums={sumColumns}
        parentGathering={chosen}
        actions={
          <button type="button" className="link" onClick={() => setImporting(true)}>
            Import CSV
          </button>
        }
        foot={({ rows, sums }) => (
          <>
            <span>
              <b>{formatWhole(rows)}</b> shown of {formatWhole(keywords.total)}
            </span>
            <span
              title={
                sums.searches!.unknown
                  ? `${formatWhole(sums.searches!.unknown)} with unknown searches are not in the sum`
                  : ''
              }
            >
              <b>{formatWhole(sums.searches!.sum)}</b> searches/mo
              {sums.searches!.unknown ? (
                <span className="unknown">, {formatWhole(sums.searches!.unknown)} unknown</span>
              ) : null}
            </span>
            <span>
              CPC, median <b>{sums.cpc!.median === null ? 'unknown' : formatMoney(sums.cpc!.median)}</b>
            </span>
          </>
        )}
        empty={
          keywords.total ? (
            <div className="empty">
              <h1>No keyword meets all conditions</h1>
              <p>{formatWhole(keywords.total)} are found. Take a condition away to see more.</p>
              <button type="button" className="link" onClick={() => state.setWhere([])}>
                Clear all conditions
              </button>
            </div>
          ) : (
            <div className="empty">
              <h1>Gather the first keywords</h1>
              <p>
                Type a seed at the left, such as the name of what the site sells, and start. Completions, related
                searches and ideas from ads data arrive here as they are found.
              </p>
            </div>
          )
        }
      />
      {params.get('import') === 'keywords' && <ImportDialog kind="keywords" onClose={() => setImporting(false)} />}
    </main>
  )
}
