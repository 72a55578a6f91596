import type { OverlapKeyword, readOverlap } from '@dew-trail/contract/rivals'
import { masksOf, type questionKinds } from '@dew-trail/core/rivals/regions'
import { useState } from 'react'
import type { z } from 'zod'
import { formatWhole, plural } from '../../ui/format.ts'
import { colourOf } from '../../compared/use-compared.ts'

export const questionTexts = {
  allRivals: 'All rivals, not you',
  twoRivals: 'At least two rivals, not you',
  belowFirst: 'You below the first page, a rival on it',
  oneRival: 'One rival alone',
  shared: 'You and a rival',
  ownAlone: 'You alone',
} as const

/** Advertisements have no first page. */
const questionsOf = (of: 'organic' | 'paid'): Array<keyof typeof questionTexts> =>
  (Object.keys(questionTexts) as Array<keyof typeof questionTexts>).filter(
    question => of === 'organic' || question !== 'belowFirst',
  )

/** Within which position a site counts as standing for a keyword. */
export const depths = [3, 10, 20, 30, 100]

export type Overlap = z.output<(typeof readOverlap)['output']>
type Props = {
  targets: readonly string[]
  overlap: Overlap
  region: string
  rows: readonly OverlapKeyword[] | undefined
  comfortable: number | null
  onRegion(region: string): void
  within: number
  onWithin(within: number): void
  of: 'organic' | 'paid'
  onOf(of: 'organic' | 'paid'): void
}
/** Regions of the overlap, a row each: dots for who stands there, bars for keywords and searches; beside them ready questions. */
export function RegionMatrix(props: Props) {
  const { targets, overlap, region, rows, comfortable, within, onRegion, onWithin, of, onOf } = props
  const [by, setBy] = useState<'keywords' | 'searches'>('keywords')
  const regions = overlap.regions.toSorted((a, b) => b[by] - a[by] || a.mask - b.mask)
  const most = Math.max(1, ...regions.map(each => each.keywords))
  const mostSearches = Math.max(1, ...regions.map(each => each.searches))
  const countOf = (masks: readonly number[]): number =>
    regions.reduce((sum, each) => sum + (masks.includes(each.mask) ? each.keywords : 0), 0)
  const order = (key: typeof by, label: string) => (
    <button type="button" className="link" aria-pressed={by === key} onClick={() => setBy(key)} title="Order by this">
      {label}
    </button>
  )
  return (
    <div className="regions">
      <div className="regions-table">
        <table>
          <thead>
            <tr>
              {targets.map((target, i) => (
                <th
                  key={target}
                  scope="col"
                  style={{ color: i ? undefined : 'var(--mui-palette-dew-ownInk)' }}
                  title={target}
                >
                  <span className="cut" style={{ borderBottom: `3px solid ${colourOf(i)}` }}>
                    {i ? target.split('.')[0] : 'you'}
                  </span>
                </th>
              ))}
              <th scope="col">{order('keywords', 'Keywords')}</th>
              <th scope="col">{order('searches', 'Searches a month')}</th>
            </tr>
          </thead>
          <tbody>
            {regions.map(each => {
              const names = targets
                .filter((_, i) => each.mask & (1 << i))
                .map(name => (name === targets[0] ? 'you' : name))
              return (
                <tr key={each.mask} aria-selected={region === String(each.mask)}>
                  {targets.map((target, i) => (
                    <td key={target} style={{ textAlign: 'center' }}>
                      <i
                        className="region-dot"
                        style={each.mask & (1 << i) ? { background: colourOf(i), width: 11, height: 11 } : {}}
                      />
                    </td>
                  ))}
                  <td>
                    <button
                      type="button"
                      className="region-bar"
                      aria-pressed={region === String(each.mask)}
                      aria-label={`${names.join(', ')}: ${plural(each.keywords, 'keyword')}`}
                      onClick={() => onRegion(String(each.mask))}
                    >
                      <i style={{ width: `${(each.keywords / most) * 130}px` }} />
                      {formatWhole(each.keywords)}
                    </button>
                  </td>
                  <td>
                    <span className="region-bar pale">
                      <i style={{ width: `${(each.searches / mostSearches) * 130}px` }} />
                      {formatWhole(each.searches)}
                      {each.unknown > 0 && (
                        <span className="unknown" title={`${plural(each.unknown, 'keyword')} of unknown searches`}>
                          +?
                        </span>
                      )}
                    </span>
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </div>
      <div className="regions-ask">
        <p style={{ margin: '0 0 6px', display: 'flex', gap: 12 }} role="group" aria-label="What is compared">
          <button type="button" className="link" aria-pressed={of === 'organic'} onClick={() => onOf('organic')}>
            What they stand for
          </button>
          <button type="button" className="link" aria-pressed={of === 'paid'} onClick={() => onOf('paid')}>
            What they pay for
          </button>
        </p>
        {of === 'organic' && (
          <h2>
            Ask, where a site stands within{' '}
            {depths.map(depth => (
              <button
                key={depth}
                type="button"
                className="link depth"
                aria-pressed={within === depth}
                aria-label={`Within ${depth}`}
                onClick={() => onWithin(depth)}
              >
                {depth}
              </button>
            ))}
          </h2>
        )}
        {questionsOf(of).map(question => (
          <button
            key={question}
            type="button"
            className="link"
            aria-pressed={region === question}
            style={{ display: 'flex', gap: 6 }}
            onClick={() => onRegion(question)}
          >
            {questionTexts[question]}{' '}
            <b style={{ color: 'var(--mui-palette-dew-ink)' }}>
              {formatWhole(
                question === 'belowFirst'
                  ? overlap.belowFirst.keywords
                  : countOf(masksOf(question as (typeof questionKinds)[number], targets.length)),
              )}
            </b>
          </button>
        ))}
        {rows && rows.length > 0 && <Sentence rows={rows} comfortable={comfortable} />}
      </div>
    </div>
  )
}

/** What of the listed keywords lies within reach, in a sentence. */
function Sentence({ rows, comfortable }: { rows: readonly OverlapKeyword[]; comfortable: number | null }) {
  const weighed = rows.filter(row => row.difficulty !== null)
  if (!weighed.length || comfortable === null)
    return (
      <p className="sentence">
        None of these {plural(rows.length, 'keyword')} is weighed yet, so what you could win of them is unknown. Select
        some (X) and press W.
      </p>
    )
  const near = weighed.filter(row => row.difficulty! <= comfortable)
  const visits = near.reduce((sum, row) => sum + (row.could ?? 0), 0)
  return (
    <p className="sentence">
      {formatWhole(near.length)} of these {plural(rows.length, 'keyword')} {near.length === 1 ? 'lies' : 'lie'} within
      your comfortable level{near.length ? `: about ${formatWhole(visits)} visits a month` : ''}.
      {weighed.length < rows.length && ` ${formatWhole(rows.length - weighed.length)} are not weighed yet.`}
    </p>
  )
}
