import type { Brief, BriefCheck } from '@dew-trail/contract/brief'
import { useState } from 'react'
import { formatDay } from '../../ui/format.ts'

const words: Record<BriefCheck['what'], string> = {
  title: 'Title',
  description: 'Description',
  heading: 'Heading',
  term: 'Term',
  words: 'Length',
  link: 'Link',
  keyword: 'Keyword',
}
const marks = { done: '✓', missing: '–', different: '≠' } as const

/** The brief held against the page as it was read last: what is missing or different first. */
export function BriefChecks({ brief }: { brief: Brief }) {
  const [all, setAll] = useState(false)
  const open = brief.checks.filter(check => check.state !== 'done')
  const done = brief.checks.length - open.length
  const listed = all ? brief.checks : open
  return (
    <>
      <h3>
        The page, as read on {formatDay(brief.page!.readOn)}{' '}
        <span className="quiet">
          {done} of {brief.checks.length} done
        </span>
      </h3>
      <ul className="plain-list">
        {listed.map(({ what, wanted, state, has }) => (
          <li key={`${what} ${wanted}`}>
            <span className={state === 'done' ? 'quiet' : 'fall'} title={state}>
              <span aria-hidden="true">{marks[state]}</span>
              <span className="hidden">{state}</span>
            </span>
            <span className="cell-cut" title={has ? `${wanted} (it has: ${has})` : wanted}>
              <span className="quiet">{words[what]}</span> {wanted}
              {state === 'different' && has && <span className="quiet">, it has "{has}"</span>}
            </span>
            <span className="quiet">{state}</span>
          </li>
        ))}
      </ul>
      {done > 0 && (
        <button type="button" className="link" onClick={() => setAll(!all)}>
          {all ? 'Only what is open' : `Show what is done, ${done}`}
        </button>
      )}
    </>
  )
}
