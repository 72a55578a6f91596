import { type Source, testSource } from '@dew-trail/contract/sources'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

type Outcome = { works: boolean; ms: number; what: string | null }

/** Makes one small request to a source, and says what came of it where the button stood. */
export function TestSource({ source: { key }, name }: { source: Source; name: string }) {
  const { site } = useSite()
  const [outcome, setOutcome] = useState<Outcome | null>(null)
  if (key === 'web') return <span className="quiet">by a crawl</span>
  return (
    <>
      <ActButton
        label={`Try ${name}`}
        title="Makes one request, which counts like any other"
        onAct={async () => setOutcome(await call(testSource, { siteId: site.id, key }))}
      >
        Try
      </ActButton>
      {outcome && (
        <span className={outcome.works ? 'quiet' : 'fall'} role="status">
          {' '}
          {outcome.works ? `answers in ${formatWhole(outcome.ms)} ms` : outcome.what}
        </span>
      )}
    </>
  )
}
