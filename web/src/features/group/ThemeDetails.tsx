import { readTheme } from '@dew-trail/contract/group'
import { type DragEvent, lazy, useState } from 'react'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { Counted } from '../../ui/Counted.tsx'
import { formatDay, formatOne, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { pathOf } from './group-columns.tsx'
import { KeepPhrases } from './KeepPhrases.tsx'
import { SharedStrip } from './SharedStrip.tsx'
import type { Choice } from './use-grouping.ts'
import type { ThemeActs } from './use-theme-acts.tsx'

const MoveDialog = lazy(() => import('./MoveDialog.tsx'))
const TextDialog = lazy(() => import('../../ui/TextDialog.tsx'))

const dragType = 'application/x-dew-trail-keywords'
/** Keywords that are dragged; null for anything else. */
export function draggedKeywords(event: DragEvent): number[] | null {
  const text = event.dataTransfer.getData(dragType)
  return text ? text.split(',').map(Number) : null
}
const atFirst = 100

type Props = {
  one: { siteId: number; groupingId: number }
  choice: Choice | null
  theme: { id: number; leadId: number; name: string }
  acts: ThemeActs
}
/** An unfolded theme: its keywords with what each shares with the lead, and the first page that holds them together. */
export function ThemeDetails({ one, choice, theme, acts }: Props) {
  const { site, market } = useSite()
  const show = useShowDialog()
  const { data, error } = useEndpoint(readTheme, { ...one, ...choice, lead: theme.leadId }, { keep: true })
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [most, setMost] = useState(atFirst)
  if (!data) return <Waiting error={error} />
  const own = data.results.map(each => each.own)
  const kept = theme.id > 0
  const ids = data.members.map(each => each.id).filter(id => chosen.has(id))
  const onChosen = (run: (ids: number[]) => void) => () => {
    run(ids)
    setChosen(new Set())
  }
  const toggle = (id: number) => {
    const next = new Set(chosen)
    if (!next.delete(id)) next.add(id)
    setChosen(next)
  }
  const move = (moved: number[]) =>
    show(close => (
      <MoveDialog
        one={one}
        title={`Move ${plural(moved.length, 'keyword')} to`}
        without={[theme.id]}
        done="Move"
        onChoose={into => void acts.move(moved, into)}
        onClose={close}
      />
    ))
  const split = (moved: number[]) =>
    show(close => (
      <TextDialog
        label="Name"
        most={200}
        optional
        title={`Split ${plural(moved.length, 'keyword')} off`}
        text=""
        help="Without a name the theme is called as its most searched keyword"
        onSave={name => void acts.split(moved, name)}
        onClose={close}
      />
    ))
  return (
    <div className="theme-details">
      <div style={{ minWidth: 0 }}>
        <table className="results">
          <thead>
            <tr>
              <th style={{ width: 28 }}>
                <span className="hidden">Choose</span>
              </th>
              <th style={{ width: '40%' }}>Keyword</th>
              <th>The lead's first {data.results.length || 'results'}, here too</th>
              <th className="n" title="Pages of ten that both show">
                shared of ten
              </th>
              <th className="n">searches</th>
              <th className="n">you</th>
            </tr>
          </thead>
          <tbody>
            {data.members.slice(0, most).map(member => (
              <tr
                key={member.id}
                draggable={kept}
                onDragStart={event =>
                  event.dataTransfer.setData(dragType, (chosen.has(member.id) ? ids : [member.id]).join())
                }
                onKeyDown={event => {
                  if (event.key.toLowerCase() !== 'm' || event.ctrlKey || event.metaKey || !kept) return
                  event.stopPropagation()
                  event.preventDefault()
                  move(chosen.has(member.id) ? ids : [member.id])
                }}
              >
                <td>
                  <input
                    type="checkbox"
                    checked={chosen.has(member.id)}
                    disabled={!kept}
                    aria-label={`Choose ${member.phrase}`}
                    onChange={() => toggle(member.id)}
                  />
                </td>
                <td title={member.phrase}>
                  <Link className="link" to={`/${site.id}/weigh/page/${member.id}?market=${market.id}`}>
                    {member.phrase}
                  </Link>
                  {member.byHand && <small className="quiet"> by hand</small>}
                </td>
                <td>
                  {member.shared === null ? (
                    <span className="unknown">no result page</span>
                  ) : (
                    <SharedStrip strip={member.strip} own={own} />
                  )}
                </td>
                <td className="n">
                  {member.id === theme.leadId ? (
                    <b>lead</b>
                  ) : member.shared === null ? (
                    <span className="unknown">–</span>
                  ) : (
                    formatOne(member.shared)
                  )}
                </td>
                <td className="n">
                  {member.searches === null ? (
                    <span className="unknown">unknown</span>
                  ) : (
                    <Counted value={member.searches} hidden={member.hidden} />
                  )}
                </td>
                <td className="n">
                  {member.own === null ? (
                    <span className="unknown" title="No page of yours is among its results">
                      –
                    </span>
                  ) : (
                    <span className="own" title={member.ownPage ?? ''}>
                      {Math.round(member.own)}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {data.members.length > most && (
          <button type="button" className="link" onClick={() => setMost(most + 500)}>
            {data.members.length - most > 500
              ? `500 more of ${formatWhole(data.members.length)}`
              : `All ${formatWhole(data.members.length)}`}
          </button>
        )}
        {kept && (
          <div className="theme-acts" role="group" aria-label="With the chosen keywords">
            <span className="quiet">
              {ids.length ? plural(ids.length, 'keyword') : 'Choose keywords, or drag one to another theme:'}
            </span>
            <button type="button" className="link" disabled={!ids.length} onClick={onChosen(move)}>
              Move (M)
            </button>
            <button type="button" className="link" disabled={!ids.length} onClick={onChosen(split)}>
              Split off
            </button>
            <button
              type="button"
              className="link"
              disabled={!ids.length}
              onClick={onChosen(moved => void acts.letGo(moved))}
            >
              Let go
            </button>
            <button
              type="button"
              className="link"
              disabled={ids.length !== 1 || ids[0] === theme.leadId}
              onClick={onChosen(([id]) => {
                const member = data.members.find(each => each.id === id)
                if (member) void acts.lead(theme.id, member)
              })}
            >
              Make it the lead
            </button>
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <h2>The lead's first page{data.resultsDay && <span className="quiet">, {formatDay(data.resultsDay)}</span>}</h2>
        {data.results.length ? (
          <ol className="lead-results">
            {data.results.map(each => (
              <li key={each.url} className={each.own ? 'own' : undefined}>
                <a href={each.url} target="_blank" rel="noreferrer" title={each.url}>
                  {each.own ? pathOf(each.url) : each.url.replace(/^https?:\/\//, '')}
                </a>
                {each.rival && <small className="quiet"> rival</small>}
              </li>
            ))}
          </ol>
        ) : (
          <p className="unknown">No result page of it is known.</p>
        )}
        <p style={{ margin: '6px 0' }}>
          <b>Its page:</b>{' '}
          {data.proposal.kind === 'new' ? `a new one, "${data.proposal.title}"` : `"${data.proposal.title}"`}
          {data.proposal.address && (
            <>
              {' '}
              <span className="own">{pathOf(data.proposal.address)}</span>
            </>
          )}
          . <span className="quiet">{data.proposal.why}.</span>{' '}
          {kept && (
            <button type="button" className="link" onClick={() => void acts.plan([theme.id])}>
              Put it there (P)
            </button>
          )}
        </p>
        {data.marked.length > 0 && (
          <p style={{ margin: '6px 0' }}>
            <b>Words the engine marks:</b>{' '}
            <span className="quiet">{data.marked.map(each => each.word).join(', ')}</span>{' '}
            <KeepPhrases phrases={data.marked.map(each => each.word)} />
          </p>
        )}
        {data.questions.length > 0 && (
          <div style={{ margin: '6px 0' }}>
            <b>Questions on these first pages:</b> <KeepPhrases phrases={data.questions.map(each => each.question)} />
            <ul className="theme-questions">
              {data.questions.map(each => (
                <li key={each.question}>
                  {each.question}
                  {each.keywords > 1 && <span className="quiet"> on {each.keywords}</span>}
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </div>
  )
}
