import type { FirstPage } from '@dew-trail/contract/weigh'
import { formatChance } from '../ui/format.ts'
import { likelyText } from './likely-text.ts'

/** Difficulty, chance and likely place of a first page. */
export function FirstPageFigures({ page }: { page: FirstPage }) {
  const chance = page.chances?.['10']
  return (
    <div style={{ display: 'flex', gap: 30, marginBottom: 8 }}>
      <Figure
        value={page.difficulty === null ? 'unknown' : String(Math.round(page.difficulty))}
        label="difficulty"
        title="The level of a site at which a new page with fit 90 and two linking sites has an even chance of the first page"
      />
      <Figure
        value={chance === undefined ? 'unknown' : formatChance(chance)}
        label="chance, first page"
        title="For a new, well-fitting page of your site"
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
