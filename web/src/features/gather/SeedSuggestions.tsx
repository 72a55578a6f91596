import type { suggestSeeds } from '@dew-trail/contract/gather'
import type { z } from 'zod'
import { formatWhole } from '../../ui/format.ts'

type Suggestions = z.output<(typeof suggestSeeds)['output']>
type Props = Suggestions & {
  id: string
  /** Index of the phrase that Enter takes; -1 = none, Enter gathers what is typed. */
  active: number
  /** Whose searchers they are. */
  engine: string
  onPick(phrase: string): void
}

/** What searchers type after the words of the seed box, with searches a month. */
export function SeedSuggestions({ id, phrases, problem, active, engine, onPick }: Props) {
  return (
    <div className="seed-suggestions">
      <ul id={id} role="listbox" aria-label="What searchers type">
        {phrases.map(({ phrase, searches }, i) => (
          <li
            key={phrase}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === active}
            // The box keeps the focus, so that typing goes on.
            onMouseDown={event => {
              event.preventDefault()
              onPick(phrase)
            }}
          >
            <span>{phrase}</span>
            {searches === null ? <span className="unknown">unknown</span> : <span>{formatWhole(searches)}</span>}
          </li>
        ))}
      </ul>
      {phrases.length > 0 && <p className="quiet">As searchers of {engine} type; searches a month</p>}
      {problem && <p className="quiet">{problem}</p>}
    </div>
  )
}
