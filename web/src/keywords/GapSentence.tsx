import type { FirstPage } from '@dew-trail/contract/weigh'
import { featureNames } from './feature-names.ts'

const mostNamed = 3

/** What explains that others stand above the page of the site, in a sentence; nothing where none stands or it leads. */
export function GapSentence({ page: { standing } }: { page: FirstPage }) {
  if (!standing || standing.position === 1) return null
  const above = standing.position > 10 ? 'the first page' : 'those above it'
  const named = standing.gap.slice(0, mostNamed).map(gap => featureNames[gap.feature] ?? gap.feature)
  return (
    <div className="sentence">
      {named.length
        ? `What separates your page at ${standing.position} from ${above}, most first: ${named.join(', ')}.`
        : `Nothing that is known explains why your page stands at ${standing.position} and not higher.`}
    </div>
  )
}
