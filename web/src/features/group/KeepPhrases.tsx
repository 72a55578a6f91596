import { keepPhrases } from '@dew-trail/contract/gather'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

/** Keeps phrases as keywords: those that are new are found and kept at once. */
export function KeepPhrases({ phrases }: { phrases: readonly string[] }) {
  const { site, market } = useSite()
  return (
    <ActButton
      onAct={async () => {
        const { changed, actId } = await call(keepPhrases, {
          siteId: site.id,
          marketId: market.id,
          phrases: [...phrases],
        })
        return changed.length
          ? { say: `${plural(changed.length, 'keyword')} kept; figures of new ones are asked for`, actId }
          : { say: 'All of them are kept already' }
      }}
    >
      {phrases.length === 1 ? 'Keep it as a keyword' : `Keep all ${phrases.length} as keywords`}
    </ActButton>
  )
}
