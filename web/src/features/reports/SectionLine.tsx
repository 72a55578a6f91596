import { type Section, sectionNames } from '@dew-trail/contract/reports'
import { useState } from 'react'
import { formatDay } from '../../ui/format.ts'
import { TypedLine } from './TypedLine.tsx'

type Props = {
  section: Section
  onDrag(isDragged: boolean): void
  /** −1 up, 1 down. */
  onMove(by: -1 | 1): void
  onChange(section: Section): void
  onRemove(): void
}
/** Sections in which the number of rows is chosen, with what it is where nobody did. */
const withRows: Partial<Record<Section['kind'], number>> = {
  movers: 15,
  voices: 10,
  work: 30,
  links: 10,
  rivals: 4,
  view: 50,
}

/** One section: dragged by its handle, or moved by Alt and an arrow; its title, its words or how many rows it shows. */
export function SectionLine({ section, onDrag, onMove, onChange, onRemove }: Props) {
  const name = sectionNames[section.kind]
  const [words, setWords] = useState(section.words ?? '')
  const usual = withRows[section.kind]
  return (
    <div className="section-line">
      <button
        type="button"
        className="handle"
        draggable
        aria-label={`${section.title || name}: drag, or move with Alt and an arrow`}
        title="Drag, or Alt and an arrow"
        onDragStart={event => {
          event.dataTransfer.effectAllowed = 'move'
          event.dataTransfer.setData('text/plain', name)
          onDrag(true)
        }}
        onDragEnd={() => onDrag(false)}
        onKeyDown={event => {
          if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
          event.preventDefault()
          onMove(event.key === 'ArrowUp' ? -1 : 1)
        }}
      >
        ⋮⋮
      </button>
      <div style={{ minWidth: 0 }}>
        {section.kind === 'break' ? (
          <span className="quiet">{name}</span>
        ) : (
          <TypedLine
            label={`Title of "${name}"`}
            value={section.title}
            most={120}
            optional
            placeholder={section.kind === 'words' ? 'Own words, without a title' : name}
            onSave={title => onChange({ ...section, title })}
          />
        )}
        {section.kind === 'view' && section.table && (
          <small className="quiet">
            the table "{section.table.name}"
            {section.table.state.where.length > 0 && `, ${section.table.state.where.length} conditions`}
          </small>
        )}
        {section.kept && (
          <small className="quiet">
            a {section.kept.drawing ? 'picture' : 'table'} as it was shown on {formatDay(section.kept.on)}
          </small>
        )}
        {usual !== undefined && (
          <small className="quiet">
            {' '}
            at most{' '}
            <TypedLine
              label={`Rows of "${section.title || name}"`}
              value={String(section.most ?? usual)}
              most={4}
              width={44}
              isRight={text => /^\d+$/.test(text) && Number(text) >= 1 && Number(text) <= 1_000}
              onSave={text => onChange({ ...section, most: Number(text) })}
            />
          </small>
        )}
        {section.kind === 'words' && (
          <textarea
            aria-label="Own words, in Markdown"
            rows={4}
            maxLength={20_000}
            value={words}
            onChange={event => setWords(event.target.value)}
            onBlur={() => words !== section.words && onChange({ ...section, words })}
          />
        )}
      </div>
      <button type="button" className="link" aria-label={`Take out "${section.title || name}"`} onClick={onRemove}>
        ×
      </button>
    </div>
  )
}
