import type { Market } from '@dew-trail/contract/sites'
import { useLivePage } from './live-page.ts'

/** Opens what an engine shows a person for a phrase now, in another tab. Nothing where the engine has no such page. */
export function LiveLink({ phrase, market }: { phrase: string; market: Market }) {
  const live = useLivePage(market)?.(phrase)
  if (!live) return null
  return (
    <a className="link" href={live.address} target="_blank" rel="noreferrer">
      See it live on {live.engine}
    </a>
  )
}
