import { useEndpoint } from '../../api/use-endpoint.ts'
import { type Gathering, listGatherings } from '@dew-trail/contract/gather'
import { lazy, Suspense, useCallback, useDeferredValue, useMemo, useState, useRef } from 'react'
import { formatMoney, formatWhole, plural } from '../../ui/format.ts'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { gatherColumns } from '../../keywords/keyword-columns.tsx'
import { KeywordSheet } from '../../keywords/KeywordSheet.tsx'
import { useKeywordActions } from '../../keywords/keyword-actions.ts'
import { KindPanel } from './KindPanel.tsx'
import { SeedForm } from './SeedForm.tsx'
import { SeedTree } from './SeedTree.tsx'
import { ListPanel } from '../../keywords/ListPanel.tsx'
import { useListFacts } from './use-source-facts.ts'
import { WordPanel } from './WordPanel.tsx'

const WordTreeView = lazy(() => import('./WordTreeView.tsx'))
const KindLanesView = lazy(() => import('./KindLanesView.tsx'))
const LogDialog = lazy(() => import('./LogDialog.tsx'))
const ImportDialog = lazy(() =>
  import('../../imports/ImportDialog.tsx').then(module => ({ default: module.ImportDialog })),
)
const BrandDialog = lazy(() => import('./BrandDialog.tsx'))

const isWithoutWords = (way: Gathering['ways'][number]): boolean => way === 'log' || way === 'page' || way === 'rival'
const sumColumns = ['searches', 'cpc', 'visitsFirst']
const shapes = [
  { name: 'list', label: 'As a list', title: 'The keywords with their figures' },
  { name: 'tree', label: 'As a tree', title: 'The words before and after the seed as a tree' },
  {
    name: 'words',
    label: 'By words',
    title: 'Questions under their question words, comparisons and prepositions under theirs',
  },
] as const
const hide = ['gatherings', 'kind', 'lists', 'labels']

export default function GatherScreen() {
  const { site, market, keywords } = useSite()
  const { run } = useKeywordActions()
  const [dialog, setDialog] = useState<'log' | 'brands' | null>(null)
  const [params, changeAddress] = useAddress()
  const state = useSheetState('-searches')
  const facts = useListFacts(keywords)
  const seeds = useMemo(() => {
    const condition = state.where.find(each => each.column === 'gatherings' && each.op === 'any')
    return condition?.op === 'any' ? condition.value.map(Number) : []
  }, [state.where])
  /** The one that is looked at; null where none or several are. */
  const chosen = seeds.length === 1 ? seeds[0]! : null
  // The rail follows a moment after the rows, so that a key typed need not wait for it.
  const later = useDeferredValue(state)
  const latest = useRef(state)
  latest.current = state
  // The same for good, so that the form is not drawn with every key: its box measures itself each time.
  const choose = useCallback((gatheringId: number | null, beside = false) => {
    const { where, setWhere } = latest.current
    const rest = where.filter(each => each.column !== 'gatherings')
    const before = where.find(each => each.column === 'gatherings' && each.op === 'any')
    const held = beside && before?.op === 'any' ? before.value : []
    const id = String(gatheringId)
    const value = gatheringId === null ? [] : held.includes(id) ? held.filter(each => each !== id) : [...held, id]
    setWhere(value.length ? [{ column: 'gatherings', op: 'any', value }, ...rest] : rest)
  }, [])
  const gatherings = useEndpoint(listGatherings, { siteId: site.id })
  // A tree grows around words, not around an address or the log.
  const seed = gatherings.data?.find(each => each.id === chosen && !each.ways.some(isWithoutWords))?.seed ?? null
  const stuck = gatheringNote(
    gatherings.data?.find(each => each.id === chosen),
    state.where.length > 1,
  )
  const asked = params.get('as')
  const shape = asked === 'tree' && seed !== null ? 'tree' : asked === 'words' ? 'words' : 'list'
  const picture = {
    source: keywords,
    fileName: `${site.domain}${seed === null ? '' : `-${seed.replace(/\s+/g, '-')}`}`,
    onKeep: (ids: number[]) => void run('keep', ids),
    onGather: (ids: number[]) => void run('gather', ids, { parentId: chosen ?? undefined }),
  }
  return (
    <main className="screen">
      <ScreenTitle title="Gather" />
      <aside className="rail" aria-label="Seeds, kinds and words">
        <SeedForm onStarted={choose} />
        <section>
          <h2>Seeds</h2>
          <SeedTree chosen={seeds} onChoose={choose} />
        </section>
        <ListPanel state={later} kind="shortlist" />
        <ListPanel state={later} kind="label" />
        <KindPanel counts={keywords.state === 'loading' && !keywords.total ? null : facts.kinds} state={later} />
        <section>
          <h2>From your site</h2>
          <button type="button" className="rail-row" onClick={() => setDialog('log')}>
            <span>Query log</span>
          </button>
          <button type="button" className="rail-row" onClick={() => setDialog('brands')}>
            <span>Brand words</span>
          </button>
        </section>
        <WordPanel words={facts.words} state={later} />
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
        instead={
          shape === 'list' ? null : (
            <Suspense fallback={<p className="empty quiet">Loading</p>}>
              {shape === 'tree' ? (
                <WordTreeView {...picture} seed={seed!} />
              ) : (
                <KindLanesView {...picture} seed={seed} kinds={facts.kinds} language={market.language} />
              )}
            </Suspense>
          )
        }
        actions={
          <>
            {shapes
              .filter(each => each.name !== shape && (each.name !== 'tree' || seed !== null))
              .map(({ name, label, title }) => (
                <button
                  key={name}
                  type="button"
                  className="link"
                  title={title}
                  onClick={() => changeAddress(setParam('as', name === 'list' ? null : name))}
                >
                  {label}
                </button>
              ))}
            <button type="button" className="link" onClick={() => changeAddress(setParam('import', 'keywords'))}>
              Import
            </button>
          </>
        }
        foot={({ rows, sums }, ofSelected) => (
          <>
            {!ofSelected && (
              <span>
                {keywords.state === 'loading' && 'loading: '}
                <b>{formatWhole(rows)}</b> shown of {formatWhole(keywords.total)}
              </span>
            )}
            <span>
              <SumText sum={sums.searches!} of="searches/mo" />
              {sums.searches!.repeats && !ofSelected ? (
                <span
                  className="quiet"
                  title="The source gave one number for a whole family of forms; it is counted once"
                >
                  , {plural(sums.searches!.repeats, 'form')} counted once
                </span>
              ) : null}
            </span>
            <span>
              CPC, median <b>{sums.cpc!.median === null ? 'unknown' : formatMoney(sums.cpc!.median)}</b>
            </span>
            <span title="Were you first for all of them: searches times the share of clicks at the first position">
              <SumText sum={sums.visitsFirst!} of="visits/mo if first" about />
            </span>
          </>
        )}
        empty={
          stuck ? (
            <div className="empty" role="status">
              <h2>{stuck.title}</h2>
              <p>{stuck.text}</p>
              <button type="button" className="link" onClick={() => choose(null)}>
                Show everything found
              </button>
            </div>
          ) : keywords.total ? (
            <div className="empty">
              <h2>No keyword meets all conditions</h2>
              <p>{formatWhole(keywords.total)} are found. Take a condition away to see more.</p>
              <button type="button" className="link" onClick={() => state.setWhere([])}>
                Clear all conditions
              </button>
            </div>
          ) : (
            <div className="empty">
              <h2>Gather the first keywords</h2>
              <p>
                Type a seed at the left, such as the name of what the site sells, and start. Completions, related
                searches and ideas from ads data arrive here as they are found.
              </p>
            </div>
          )
        }
      />
      <Suspense fallback={null}>
        {(params.get('import') === 'keywords' || params.get('import') === 'log') && (
          <ImportDialog
            kind={params.get('import') as 'keywords' | 'log'}
            onClose={() => changeAddress(setParam('import', null))}
          />
        )}
        {dialog === 'log' && (
          <LogDialog
            onClose={() => setDialog(null)}
            onImport={() => {
              setDialog(null)
              changeAddress(setParam('import', 'log'))
            }}
          />
        )}
        {dialog === 'brands' && <BrandDialog onClose={() => setDialog(null)} />}
      </Suspense>
    </main>
  )
}

/** What to say in place of the rows of a gathering that has none to show; null where its rows or conditions speak for themselves. */
function gatheringNote(gathering: Gathering | undefined, filtered: boolean): { title: string; text: string } | null {
  if (!gathering || (gathering.found > 0 && filtered)) return null
  const { seed, state, warnings, dropped } = gathering
  const why = warnings.map(each => each.what).join('; ')
  const left = Object.entries(dropped)
    .map(([reason, count]) => `${formatWhole(count)} by ${reason}`)
    .join(', ')
  if (state === 'running' || state === 'waiting')
    return { title: `Gathering from "${seed}"`, text: 'Keywords come here as they are found.' }
  if (state === 'failed')
    return {
      title: `Gathering from "${seed}" failed`,
      text: why || 'The work log on Sources says why; it can be tried again there.',
    }
  if (gathering.found === 0)
    return {
      title: `"${seed}" brought nothing`,
      text: [why, left ? `Dropped before storing: ${left}` : '', 'Try a broader seed, or fewer conditions.']
        .filter(Boolean)
        .join('. '),
    }
  return null
}
