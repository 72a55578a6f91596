import type { FirstPage } from '@dew-trail/contract/weigh'
import { formatChance } from '../ui/format.ts'
import { scaleWords } from '../ui/own-levels.ts'
import { likelyText } from './likely-text.ts'

/** Difficulty, chance and likely place of a first page. */
export function FirstPageFigures({ page }: { page: FirstPage }) {
  const chance = page.chances?.['10']
  return (
    <div style={{ display: 'flex', gap: page.standing ? 18 : 30, marginBottom: 8, flexWrap: 'wrap' }}>
      <Figure
        value={page.difficulty === null ? 'unknown' : String(Math.round(page.difficulty))}
        label="difficulty"
        title={`Of 100 sites of this market, how many would not have an even chance of the first page with a new page of fit 90 and two linking sites. The scale rests on ${scaleWords(page.scale)}`}
      />
      {page.standing && (
        <>
          <Figure
            value={String(page.standing.position)}
            label="place of your page"
            title="Of its pages that which stands highest"
            own
          />
          {page.standing.position > 10 && (
            <Figure
              value={formatChance(page.standing.first)}
              label="its chance, first page"
              title="As far as its strength tells, as if it were not known where it stands"
              own
            />
          )}
          {page.standing.higher !== null && (
            <Figure
              value={formatChance(page.standing.higher)}
              label="to stand higher"
              title="Chance that it stands higher than it does, as far as its strength tells"
              own
            />
          )}
        </>
      )}
      <Figure
        value={chance === undefined ? 'unknown' : `${page.ownLevel === null ? '≥ ' : ''}${formatChance(chance)}`}
        label={page.standing ? 'a new page, first page' : 'chance, first page'}
        title={`For a new, well-fitting page of your site${page.ownLevel === null ? ', judged as one without links, since no source of links has answered for it yet' : ''}`}
      />
      <Figure
        value={likelyText(page.likelyFrom, page.likelyTo)}
        label={page.standing ? 'its likely place' : 'likely place'}
        title="The places between which it lands six times in ten"
      />
    </div>
  )
}

export function Figure({ value, label, title, own }: { value: string; label: string; title: string; own?: boolean }) {
  return (
    <div title={title}>
      <div className={own ? 'own' : undefined} style={{ fontSize: 19, fontWeight: 640, lineHeight: '24px' }}>
        {value}
      </div>
      <div className="quiet" style={{ fontSize: 12 }}>
        {label}
      </div>
    </div>
  )
}
