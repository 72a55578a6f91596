import { takeMarketScale } from '@dew-trail/contract/weigh'
import { call } from '../../api/call.ts'
import { formatMarket } from '../../ui/format.ts'
import { ownLevelsIn, scaleWords } from '../../ui/own-levels.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** What the scale of difficulty and levels rests on in the market that is looked at, and how to take it anew. */
export function ScaleSection() {
  const { site, market } = useSite()
  const act = useAct()
  const own = ownLevelsIn(site, market)
  if (!own) return null
  return (
    <section aria-labelledby="scale-title">
      <h2 id="scale-title">The scale of difficulty and levels</h2>
      <p>
        A difficulty of 60 means: of 100 sites of {formatMarket(market)}, 60 would not have an even chance of the first
        page with a new, well-fitting page. Levels of sites and results stand on the same scale. It rests on{' '}
        <b>{scaleWords({ sites: own.scaleSites, takenOn: own.scaleTakenOn, deep: own.scaleDeep })}</b>, and stays so
        until you take it anew, so that figures of different days compare.
      </p>
      <button
        type="button"
        className="link"
        onClick={() =>
          act(async () => {
            await call(takeMarketScale, { siteId: site.id, marketId: market.id })
            return { say: 'Taking the scale anew; difficulties will move, and by how much is said then' }
          })
        }
      >
        Take it anew
      </button>
    </section>
  )
}
