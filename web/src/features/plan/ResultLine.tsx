import '@fontsource/arimo/latin-400.css'
import '@fontsource/arimo/latin-ext-400.css'
import { cutToWidth, lineLimits, textWidth } from '@dew-trail/core/planning/text-width'
import { formatWhole } from '../../ui/format.ts'

type Props = { title: string; address: string; description: string }
/** How title and description would look as a line of results: cut where an engine would cut them. */
export function ResultLine({ title, address, description }: Props) {
  const { title: ofTitle, description: ofDescription } = lineLimits
  return (
    <div className="result-line">
      <div className="result-line-title" style={{ fontSize: ofTitle.size }}>
        {title ? cutToWidth(title, ofTitle.size, ofTitle.desktop) : <span className="unknown">No title yet</span>}
      </div>
      <div className="quiet result-line-address">{address}</div>
      <div style={{ fontSize: ofDescription.size }}>
        {description ? (
          cutToWidth(description, ofDescription.size, ofDescription.desktop)
        ) : (
          <span className="unknown">No description: an engine takes a sentence of the page</span>
        )}
      </div>
    </div>
  )
}

/** How wide title and description are, against what is shown of them. */
export function LineWidths({ title, description }: { title: string; description: string }) {
  const ofTitle = textWidth(title, lineLimits.title.size)
  return (
    <div className="line-widths">
      <Width name="title" px={ofTitle} limit={lineLimits.title.desktop} />
      <Width name="title, mobile" px={ofTitle} limit={lineLimits.title.mobile} />
      <Width
        name="description"
        px={textWidth(description, lineLimits.description.size)}
        limit={lineLimits.description.desktop}
      />
    </div>
  )
}

function Width({ name, px, limit }: { name: string; px: number; limit: number }) {
  const over = px > limit
  return (
    <div>
      <div className="quiet">{name}</div>
      <svg width="110" height="6" aria-hidden="true">
        <rect width="110" height="6" rx="3" fill="var(--mui-palette-dew-scale0)" />
        <rect
          width={Math.min(110, (110 * px) / limit)}
          height="6"
          rx="3"
          fill={over ? 'var(--mui-palette-dew-fall)' : 'var(--mui-palette-dew-scale3)'}
        />
      </svg>
      <div className={over ? 'fall' : ''}>
        {formatWhole(px)} of {formatWhole(limit)} px{over ? ', cut' : ''}
      </div>
    </div>
  )
}
