import { type Gathering, listGatherings } from '@dew-trail/contract/gather'
import { useQuery } from '@tanstack/react-query'
import { call } from '../api/call.ts'
import { formatDay, formatWhole } from '../format.ts'
import { useSite } from '../shell/site-context.ts'

type Props = { chosen: number | null; onChoose(gatheringId: number | null): void }

/** The path of seeds as a tree with counts; a gathering that met trouble says so. */
export function SeedTree({ chosen, onChoose }: Props) {
  const { site, keywords } = useSite()
  const { data } = useQuery({
    queryKey: ['gatherings', site.id],
    queryFn: () => call(listGatherings, { siteId: site.id }),
  })
  if (!data?.length)
    return (
      <p className="quiet" style={{ margin: 0 }}>
        No seed yet. Type one above.
      </p>
    )
  const branch = (parentId: number | null): Gathering[] => data.filter(each => each.parentId === parentId)
  const draw = (list: Gathering[], depth: number) => (
    <ul className={depth ? 'rail-branch' : ''}>
      {list.map(each => (
        <li key={each.id}>
          <button
            type="button"
            className="rail-row"
            aria-current={chosen === each.id}
            onClick={() => onChoose(chosen === each.id ? null : each.id)}
            title={`Gathered on ${formatDay(each.startedAt)}${each.trouble.length ? `\n${each.trouble.map(item => item.what).join('\n')}` : ''}`}
          >
            <span>{each.seed}</span>
            <small className={each.trouble.length || each.state === 'failed' ? 'fall' : ''}>
              {each.state === 'failed'
                ? 'failed'
                : `${formatWhole(each.found)}${each.trouble.length ? ', gaps' : ''}${each.state === 'running' ? ' …' : ''}`}
            </small>
          </button>
          {branch(each.id).length > 0 && draw(branch(each.id), depth + 1)}
        </li>
      ))}
    </ul>
  )
  return (
    <>
      <button type="button" className="rail-row" aria-current={chosen === null} onClick={() => onChoose(null)}>
        <span>All keywords</span>
        <small>{formatWhole(keywords.total)}</small>
      </button>
      {draw(branch(null), 0)}
    </>
  )
}
