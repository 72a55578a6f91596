import { levelWords, ownLevelsIn } from '../../ui/own-levels.ts'
import { useSite } from '../../ui/site-context.ts'

/** The site's level in the market, and up to which difficulty a keyword is comfortable or a stretch for it. */
export function OwnLevels() {
  const { site, market } = useSite()
  const own = ownLevelsIn(site, market)
  return (
    own && (
      <span className="quiet" title={levelWords(own, site)}>
        Your level{' '}
        {own.level === null ? <span className="unknown">unknown</span> : <b className="own">{Math.round(own.level)}</b>}
        , comfortable to{own.level === null && ' at least'} <b>{Math.round(own.comfortable)}</b>, stretch to{' '}
        <b>{Math.round(own.stretch)}</b>
      </span>
    )
  )
}
