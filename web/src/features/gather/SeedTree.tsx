import { useEndpoint } from '../../api/use-endpoint.ts'
import { type Gathering, listGatherings, pruneGathering } from '@dew-trail/contract/gather'
import { Undo2, X } from 'lucide-react'
import { memo, useState, useSyncExternalStore } from 'react'
import { call } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

type Props = {
  chosen: readonly number[]
  /** One alone, none (null), or with `beside` one more or one less beside those that are chosen. */
  onChoose(gatheringId: number | null, beside?: boolean): void
}

/** The path of seeds as a tree with counts; a gathering that met warnings says so. */
export const SeedTree = memo(function SeedTree({ chosen, onChoose }: Props) {
  const { site, keywords } = useSite()
  const total = useSyncExternalStore(keywords.subscribe, () => keywords.total)
  const isLoading = useSyncExternalStore(keywords.subscribe, () => keywords.state === 'loading') && total === 0
  const act = useAct()
  const [showPruned, setShowPruned] = useState(false)
  const { data, error } = useEndpoint(listGatherings, { siteId: site.id })
  if (!data) return <Waiting error={error} />
  if (!data.length)
    return (
      <p className="quiet" style={{ margin: 0 }}>
        No seed yet. Type one above.
      </p>
    )
  const prune = (gathering: Gathering, pruned: boolean) =>
    act(async () => {
      const { actId } = await call(pruneGathering, { siteId: site.id, gatheringId: gathering.id, pruned })
      if (pruned && chosen.includes(gathering.id)) onChoose(null)
      return pruned
        ? { say: `"${gathering.seed}" pruned; what only it found is no longer shown`, actId }
        : { say: `"${gathering.seed}" is back on the path` }
    })
  const pruned = data.filter(each => each.pruned)
  const branch = (parentId: number | null): Gathering[] =>
    data.filter(each => each.parentId === parentId && (showPruned || !each.pruned))
  const draw = (list: Gathering[], depth: number) => (
    <ul className={depth ? 'rail-branch' : ''}>
      {list.map(each => (
        <li key={each.id} className={each.pruned ? 'seed pruned' : 'seed'}>
          <button
            type="button"
            className="rail-row"
            aria-current={chosen.includes(each.id)}
            onClick={event => {
              if (event.ctrlKey || event.metaKey) onChoose(each.id, true)
              else onChoose(chosen.length === 1 && chosen[0] === each.id ? null : each.id)
            }}
            title={titleOf(each)}
          >
            <span>{each.seed}</span>
            <small className={each.warnings.length || each.state === 'failed' ? 'fall' : ''}>
              {each.state === 'failed'
                ? 'failed'
                : `${formatWhole(each.found)}${each.warnings.length ? ', gaps' : ''}${each.state === 'running' ? ' …' : ''}`}
            </small>
          </button>
          <button
            type="button"
            className="seed-prune"
            aria-label={each.pruned ? `Put ${each.seed} back` : `Prune ${each.seed}`}
            title={each.pruned ? 'Put back on the path' : 'Prune: take it and what was gathered from it off the path'}
            onClick={() => void prune(each, !each.pruned)}
          >
            {each.pruned ? <Undo2 size={12} /> : <X size={12} />}
          </button>
          {branch(each.id).length > 0 && draw(branch(each.id), depth + 1)}
        </li>
      ))}
    </ul>
  )
  return (
    <>
      <button type="button" className="rail-row" aria-current={!chosen.length} onClick={() => onChoose(null)}>
        <span>Everything found</span>
        <small>{isLoading ? '' : formatWhole(total)}</small>
      </button>
      {draw(branch(null), 0)}
      {pruned.length > 0 && (
        <button type="button" className="link" style={{ fontSize: 12 }} onClick={() => setShowPruned(!showPruned)}>
          {showPruned ? 'Hide pruned' : `${formatWhole(pruned.length)} pruned`}
        </button>
      )}
    </>
  )
})

/** When and how it was gathered, what was dropped before storing and what went wrong. */
function titleOf(gathering: Gathering): string {
  const { conditions, dropped, short, warnings } = gathering
  const rules = [
    conditions.must.length ? `must have ${conditions.must.join(', ')}` : '',
    conditions.leaveOut.length ? `without ${conditions.leaveOut.join(', ')}` : '',
    conditions.searches === null ? '' : `searches from ${conditions.searches}`,
    conditions.cpc === null ? '' : `CPC from ${conditions.cpc}`,
    conditions.wordsFrom === null ? '' : `words from ${conditions.wordsFrom}`,
    conditions.wordsTo === null ? '' : `words to ${conditions.wordsTo}`,
  ].filter(Boolean)
  const counts = Object.entries(dropped).map(([reason, count]) => `${formatWhole(count)} by ${reason}`)
  return [
    `Gathered on ${formatDay(gathering.startedAt)}`,
    ...(rules.length ? [`Conditions: ${rules.join('; ')}`] : []),
    ...(counts.length ? [`Dropped before storing: ${counts.join(', ')}`] : []),
    ...short.map(
      ({ what, given, requested }) =>
        `Only ${formatWhole(given)} ${what} of ${formatWhole(requested)} asked for: there are no more`,
    ),
    ...warnings.map(item => item.what),
    'Ctrl and a click: beside those that are chosen',
  ].join('\n')
}
