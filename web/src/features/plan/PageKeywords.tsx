import {
  assignKeywords,
  type KeywordSpot,
  keywordSpots,
  orderKeywords,
  type PlannedPage,
  setKeywordSpot,
} from '@dew-trail/contract/plan'
import { ArrowUp, X } from 'lucide-react'
import { call } from '../../api/call.ts'
import { Slope } from '../../pictures/Slope.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { Counted } from '../../ui/Counted.tsx'
import { formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { spotLabels } from './plan-words.ts'

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    –
  </span>
)

/**
 * The keywords of a page in its order, the first being the one it is made for; where each goes, and what it brings now and with the plan.
 */
export function PageKeywords({ page }: { page: PlannedPage }) {
  const { site } = useSite()
  const act = useAct()
  const at = { siteId: site.id, pageId: page.id }
  const raise = (index: number) => {
    const ids = page.keywords.map(keyword => keyword.id)
    const [id] = ids.splice(index, 1)
    ids.splice(index - 1, 0, id!)
    return call(orderKeywords, { ...at, keywordIds: ids })
  }
  if (page.keywords.length === 0)
    return <p className="quiet">No keyword stands on this page yet. Select some in Gather or Weigh and press P.</p>
  return (
    <div className="results-box">
      <table className="results">
        <thead>
          <tr>
            <th style={{ minWidth: 120 }}>Keyword</th>
            <th className="n">searches</th>
            <th className="n">difficulty</th>
            <th className="n" title="Where the site stands for it now">
              you
            </th>
            <th className="n" title="Visits a month that the site gets for it now">
              now
            </th>
            <th className="n" title="Visits a month with the plan">
              plan
            </th>
            <th>goes to</th>
            <th className="n">
              <span className="hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {page.keywords.map((keyword, i) => (
            <tr key={keyword.id}>
              <td title={keyword.phrase}>{i === 0 ? <b>{keyword.phrase}</b> : keyword.phrase}</td>
              <td className="n">
                {keyword.searches === null ? (
                  <span className="unknown">unknown</span>
                ) : (
                  <Counted value={keyword.searches} hidden={keyword.hidden} />
                )}
              </td>
              <td className="n">
                {keyword.difficulty === null ? (
                  unknown('Not weighed in this market')
                ) : (
                  <Slope difficulty={keyword.difficulty} />
                )}
              </td>
              <td className="n own" title={keyword.standing ?? undefined}>
                {keyword.position === null
                  ? unknown('Not among the results that are known')
                  : Math.round(keyword.position)}
              </td>
              <td className="n">
                {keyword.visitsNow === null ? unknown('Not known') : formatWhole(keyword.visitsNow)}
              </td>
              <td className="n">
                {keyword.visits === null ? (
                  unknown('Not weighed in this market, or searches are not known')
                ) : (
                  <Counted value={keyword.visits} hidden={keyword.hidden} />
                )}
              </td>
              <td>
                <select
                  className="plain-select"
                  aria-label={`Where "${keyword.phrase}" goes`}
                  value={keyword.spot ?? ''}
                  onChange={event =>
                    void act(async () => {
                      const spot = (event.target.value || null) as KeywordSpot | null
                      const { actId } = await call(setKeywordSpot, { ...at, keywordIds: [keyword.id], spot })
                      return { say: `"${keyword.phrase}" goes ${spot ? `to the ${spot}` : 'anywhere'}`, actId }
                    })
                  }
                >
                  <option value="">anywhere</option>
                  {keywordSpots.map(spot => (
                    <option key={spot} value={spot}>
                      {spotLabels[spot].toLowerCase()}
                    </option>
                  ))}
                </select>
              </td>
              <td className="n" style={{ whiteSpace: 'nowrap' }}>
                {i > 0 && (
                  <ActButton
                    label={i === 1 ? `Make ${keyword.phrase} the lead` : `Put ${keyword.phrase} higher`}
                    title={i === 1 ? 'Make it the lead' : 'Put it higher'}
                    onAct={async () => {
                      const { actId } = await raise(i)
                      return { say: `"${keyword.phrase}" put higher`, actId }
                    }}
                  >
                    <ArrowUp size={13} />
                  </ActButton>
                )}{' '}
                <ActButton
                  label={`Take ${keyword.phrase} off the page`}
                  title="Take off the page"
                  onAct={async () => {
                    const { actId } = await call(assignKeywords, {
                      siteId: site.id,
                      pageId: null,
                      keywordIds: [keyword.id],
                    })
                    return { say: `"${keyword.phrase}" taken off the page`, actId }
                  }}
                >
                  <X size={13} />
                </ActButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
