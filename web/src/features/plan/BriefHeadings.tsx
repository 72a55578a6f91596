import type { Brief } from '@dew-trail/contract/brief'
import { TextField } from '@mui/material'
import { ArrowDown, ArrowUp, X } from 'lucide-react'
import { useState } from 'react'
import { formatWhole } from '../../ui/format.ts'
import type { BriefDraft } from './use-brief-draft.ts'

const atFirst = 5
const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** The headings of a page in order; questions people ask and longer keywords are taken in with a click. */
export function BriefHeadings({ draft, offers }: { draft: BriefDraft; offers: Brief['offers']['headings'] }) {
  const { headings } = draft.text
  const [own, setOwn] = useState('')
  const [all, setAll] = useState(false)
  const taken = new Set(headings.map(each => each.toLowerCase()))
  const open = offers.filter(each => !taken.has(each.text.toLowerCase()))
  const searchesOf = new Map(offers.map(each => [each.text.toLowerCase(), each.searches]))
  const move = (from: number, to: number) => {
    const next = [...headings]
    const [heading] = next.splice(from, 1)
    next.splice(to, 0, heading!)
    draft.put({ headings: next })
  }
  const add = (text: string) => draft.put({ headings: [...headings, upper(text)] })
  return (
    <>
      <h3>Headings</h3>
      {headings.length > 0 && (
        <ol className="plain-list">
          {headings.map((heading, i) => (
            <li key={heading}>
              <span className="n quiet">{i + 1}</span>
              <span className="cell-cut" title={heading}>
                {heading}
                {typeof searchesOf.get(heading.toLowerCase()) === 'number' && (
                  <span className="quiet"> {formatWhole(searchesOf.get(heading.toLowerCase())!)} searches</span>
                )}
              </span>
              <span style={{ whiteSpace: 'nowrap' }}>
                <button
                  type="button"
                  className="link"
                  aria-label={`Move "${heading}" up`}
                  disabled={i === 0}
                  onClick={() => move(i, i - 1)}
                >
                  <ArrowUp size={13} />
                </button>{' '}
                <button
                  type="button"
                  className="link"
                  aria-label={`Move "${heading}" down`}
                  disabled={i === headings.length - 1}
                  onClick={() => move(i, i + 1)}
                >
                  <ArrowDown size={13} />
                </button>{' '}
                <button
                  type="button"
                  className="link"
                  aria-label={`Take "${heading}" out`}
                  onClick={() => draft.put({ headings: headings.filter((_, at) => at !== i) })}
                >
                  <X size={13} />
                </button>
              </span>
            </li>
          ))}
        </ol>
      )}
      {open.length > 0 && (
        <div className="offers" aria-label="Headings that can be taken in">
          {open.slice(0, all ? open.length : atFirst).map(({ text, searches, of }) => (
            <button key={text} type="button" className="link" onClick={() => add(text)}>
              + {text}
              <span className="quiet">
                &nbsp;{of === 'question' ? 'asked' : ''}
                {searches === null ? '' : ` ${formatWhole(searches)}`}
              </span>
            </button>
          ))}
          {open.length > atFirst && (
            <button type="button" className="link" onClick={() => setAll(!all)}>
              {all ? 'Fewer' : `${formatWhole(open.length - atFirst)} more were found`}
            </button>
          )}
        </div>
      )}
      <form
        onSubmit={event => {
          event.preventDefault()
          const text = own.trim()
          if (!text || taken.has(text.toLowerCase())) return
          add(text)
          setOwn('')
        }}
      >
        <TextField
          fullWidth
          label="Another heading"
          value={own}
          onChange={event => setOwn(event.target.value)}
          helperText={taken.has(own.trim().toLowerCase()) ? 'It stands there already' : 'Enter adds it'}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
      </form>
    </>
  )
}
