import type { Brief } from '@dew-trail/contract/brief'
import { X } from 'lucide-react'
import { useState } from 'react'
import { formatWhole } from '../../ui/format.ts'
import type { BriefDraft } from './use-brief-draft.ts'

const atFirst = 4
const pathOf = (address: string): string => (URL.canParse(address) ? new URL(address).pathname : address)

/** Own pages that should link to the page, each with the words of its link; pages on the subject that do not link yet are offered. */
export function BriefLinks({ draft, offers }: { draft: BriefDraft; offers: Brief['offers']['links'] }) {
  const { links } = draft.text
  const [all, setAll] = useState(false)
  const taken = new Set(links.map(each => each.from))
  const open = offers.filter(each => !taken.has(each.from))
  return (
    <>
      <h3>Links to set</h3>
      {links.length > 0 && (
        <ul className="plain-list">
          {links.map(({ from, anchor }) => (
            <li key={from}>
              <span />
              <span className="cell-cut" title={from}>
                <span className="own">{pathOf(from)}</span> with "{anchor}"
              </span>
              <button
                type="button"
                className="link"
                aria-label={`Take the link from ${pathOf(from)} out`}
                onClick={() => draft.put({ links: links.filter(each => each.from !== from) })}
              >
                <X size={13} />
              </button>
            </li>
          ))}
        </ul>
      )}
      {open.length > 0 ? (
        <div className="offers" aria-label="Links that can be taken in">
          {open.slice(0, all ? open.length : atFirst).map(({ from, anchor, title }) => (
            <button
              key={from}
              type="button"
              className="link"
              title={title ?? from}
              onClick={() => draft.put({ links: [...links, { from, anchor }] })}
            >
              + {pathOf(from)}
              <span className="quiet">&nbsp;with "{anchor}"</span>
            </button>
          ))}
          {open.length > atFirst && (
            <button type="button" className="link" onClick={() => setAll(!all)}>
              {all ? 'Fewer' : `${formatWhole(open.length - atFirst)} more speak of it`}
            </button>
          )}
        </div>
      ) : (
        links.length === 0 && (
          <p className="quiet">No page of the site that was read speaks of the lead without linking here.</p>
        )
      )}
    </>
  )
}
