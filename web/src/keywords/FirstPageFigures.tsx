import type { FirstPage } from '@dew-trail/contract/weigh'
import { formatChance } from '../ui/format.ts'
import { scaleWords } from '../ui/own-levels.ts'
import { likelyText } from './likely-text.ts'

/** Difficulty, chance and likely place of a first page. */
export function FirstPageFigures({ page }: { page: FirstPage }) {
  const chance = page.chances?.['10']
  return (
    <div style={{ display: 'flex', gap: 30, marginBottom: 8 }}>
      <Figure
        value={page.difficulty === null ? 'unknown' : String(Math.round(page.difficulty))}
        label="difficulty"
        title={`Of 100 sites of this market, how many would not have an even chance of the first page with a new page of fit 90 and two linking sites. The scale rests on ${scaleWords(page.scale)}`}
      />
      <Figure
        value={chance === undefined ? 'unknown' : `${page.ownLevel === null ? '≥ ' : ''}${formatChance(chance)}`}
        label="chance, first page"
        title={`For a new, well-fitting page of your site${page.ownLevel === null ? ', judged as one without links, since no source of links has answered for it yet' : ''}`}
      />
      <Figure
        value={likelyText(page.likelyFrom, page.likelyTo)}
        label="likely place"
        title="The places between which it lands six times in ten"
      />
    </div>
  )
}

export function Figure({ value, label, title }: { value: string; label: string; title: string }) {
  return (
    <div title={title}>
      <div style={{ fontSize: 19, fontWeight: 640, lineHeight: '24px' }}>{value}</div>
      <div className="quiet" style={{ fontSize: 12 }}>
        {label}
      </div>
    </div>
  )
}
