import { changePage, type PageState, pageStates, type PlannedPage } from '@dew-trail/contract/plan'
import { type KeyboardEvent, useMemo, useState } from 'react'
import { call } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { AddPage, PlanBar } from './PlanBar.tsx'
import { keptText } from './kept-deadlines.ts'
import { kindLabels, stateLabels } from './plan-words.ts'
import { usePlan } from './use-plan.ts'

const dragType = 'application/x-dew-trail-page'
/** So many pages of a state are drawn at first. */
const atFirst = 100

/** Work by its state, late first: a page is dragged, or moved by Alt and an arrow, to the state it has reached. */
export function BoardTab() {
  const { pages, error } = usePlan()
  const { site } = useSite()
  const act = useAct()
  const [over, setOver] = useState<PageState | null>(null)
  const work = useMemo(() => pages?.filter(page => page.kind !== 'keep').toSorted(byDeadline), [pages])
  const to = (page: PlannedPage | undefined, state: PageState) => {
    if (!page || page.state === state) return
    void act(async () => {
      const { actId } = await call(changePage, { siteId: site.id, pageId: page.id, version: page.version, state })
      return { say: `"${page.title}" is ${stateLabels[state].toLowerCase()}`, actId }
    })
  }
  return (
    <main className="screen whole">
      <ScreenTitle title="Plan" />
      <div className="main">
        <PlanBar see="board">{work && <span className="quiet">{keptText(work)}</span>}</PlanBar>
        {!work ? (
          <Waiting error={error} />
        ) : work.length === 0 ? (
          <div className="empty" style={{ flex: 1 }}>
            <h2>No work is planned</h2>
            <p>New pages and pages to rework stand here by how far they are.</p>
            <AddPage />
          </div>
        ) : (
          <div className="plan-board">
            {pageStates.map(state => {
              const cards = work.filter(page => page.state === state)
              return (
                <section
                  key={state}
                  className={over === state ? 'plan-column over' : 'plan-column'}
                  aria-label={stateLabels[state]}
                  onDragOver={event => {
                    if (!event.dataTransfer.types.includes(dragType)) return
                    event.preventDefault()
                    setOver(state)
                  }}
                  onDragLeave={event => event.currentTarget === event.target && setOver(null)}
                  onDrop={event => {
                    event.preventDefault()
                    setOver(null)
                    to(
                      work.find(page => String(page.id) === event.dataTransfer.getData(dragType)),
                      state,
                    )
                  }}
                >
                  <h2>
                    {stateLabels[state]} <span className="quiet">{formatWhole(cards.length)}</span>
                  </h2>
                  <Cards cards={state === 'published' ? cards.toReversed() : cards} onMove={to} />
                </section>
              )
            })}
          </div>
        )}
        <div className="foot">
          <span className="quiet">Drag a page to the state it has reached, or Alt ← → on it · Enter opens it</span>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

function Cards({ cards, onMove }: { cards: PlannedPage[]; onMove(page: PlannedPage, state: PageState): void }) {
  const [, change] = useAddress()
  const [all, setAll] = useState(false)
  const open = (page: PlannedPage) =>
    change(params => {
      params.delete('see')
      setParam('page', String(page.id))(params)
    }, true)
  const onKey = (event: KeyboardEvent, page: PlannedPage) => {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!event.altKey || !step) return
    event.preventDefault()
    const next = pageStates[pageStates.indexOf(page.state) + step]
    if (next) onMove(page, next)
  }
  return (
    <ul>
      {cards.slice(0, all ? cards.length : atFirst).map(page => (
        <li key={page.id} draggable onDragStart={event => event.dataTransfer.setData(dragType, String(page.id))}>
          <button
            type="button"
            className="plan-card"
            onClick={() => open(page)}
            onKeyDown={event => onKey(event, page)}
            aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
          >
            <b>{page.title}</b>
            <span className="quiet">
              {kindLabels[page.kind].toLowerCase()}
              {page.owner && ` · ${page.owner}`}
              {page.effort !== null && ` · ${plural(page.effort, 'day')}`}
            </span>
            <span>
              {page.deadline && (
                <span className={page.late ? 'fall' : 'quiet'}>
                  {page.state === 'published' && page.doneOn
                    ? `published ${formatDay(page.doneOn)}${page.doneOn > page.deadline ? ', late' : ''}`
                    : `${page.late ? 'late since' : 'due'} ${formatDay(page.deadline)}`}
                </span>
              )}
              {page.gain !== null && page.gain >= 0.5 && page.state !== 'published' && (
                <span className="quiet">
                  {page.deadline && ' · '}about {formatWhole(page.gain)} more visits/mo
                </span>
              )}
            </span>
          </button>
        </li>
      ))}
      {cards.length > atFirst && (
        <li>
          <button type="button" className="link" onClick={() => setAll(!all)}>
            {all ? 'Fewer' : `Show all ${formatWhole(cards.length)}`}
          </button>
        </li>
      )}
    </ul>
  )
}

const byDeadline = (a: PlannedPage, b: PlannedPage): number =>
  (a.deadline ?? '9999') < (b.deadline ?? '9999')
    ? -1
    : (a.deadline ?? '9999') > (b.deadline ?? '9999')
      ? 1
      : a.id - b.id
