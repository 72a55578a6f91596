import { explainSplit } from '@dew-trail/core/demand/click-split'
import { explainVisits } from '@dew-trail/core/demand/explain-demand'
import { ClickSplitBar } from '../pictures/ClickSplitBar.tsx'
import { ChanceBar } from '../pictures/ChanceBar.tsx'
import { Slope } from '../pictures/Slope.tsx'
import { TerrainSmall } from '../pictures/Terrain.tsx'
import { formatDay, formatShare, formatWhole } from '../ui/format.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../rows/row-source.ts'
import { aged, n, notWeighed, number, s } from './column-parts.tsx'

const whyVisits: SheetColumn['why'] = row =>
  explainVisits({
    searches: n(row, 'searches'),
    visits: n(row, 'visits'),
    cpc: n(row, 'cpc'),
    worth: n(row, 'worth'),
    chance: n(row, 'chance'),
    fitted: row.fittedCurve === true,
    organicShare: n(row, 'organicShare'),
    date: (row.weighedOn as string | null) ?? null,
  })
export const difficulty = number(
  'difficulty',
  'Difficulty',
  100,
  'The site standing at which a new, well-fitting page has an even chance of the first page, 0 to 100',
  row => {
    const value = n(row, 'difficulty')
    return value === null ? notWeighed(row) : aged(row, <Slope difficulty={value} />)
  },
  {
    limits: [
      { value: 'comfortable', label: 'my comfortable level' },
      { value: 'stretch', label: 'my stretch level' },
    ],
    why: row => ({
      figure: 'Difficulty',
      value: n(row, 'difficulty') === null ? null : String(Math.round(n(row, 'difficulty')!)),
      formula: 'the site standing (0–100) at which a new, well-fitting page has an even chance of the first page',
      inputs: [{ name: 'your level', value: n(row, 'ownLevel') === null ? null : Math.round(n(row, 'ownLevel')!) }],
      source: 'strengths of the results on the first page',
      date: (row.weighedOn as string | null) ?? null,
      note:
        n(row, 'difficulty') === null ? 'Not weighed yet: W weighs it.' : 'Unfold the row for the results it rests on.',
    }),
  },
)
export const terrain: SheetColumn = {
  key: 'terrain',
  label: 'Terrain',
  width: 96,
  kind: 'series',
  explain: 'Strengths of the first results, left to right, against your own level (amber)',
  render: row =>
    Array.isArray(row.terrain) && row.terrain.some(level => level !== null)
      ? aged(row, <TerrainSmall levels={row.terrain} ownLevel={n(row, 'ownLevel')} />)
      : null,
}
export const chance = number(
  'chance',
  'Chance',
  102,
  'Chance that a new, well-fitting page of your site stands on the first page',
  row => {
    const value = n(row, 'chance')
    return value === null ? (
      notWeighed(row)
    ) : (
      <span title={likely(row)}>
        <ChanceBar chance={value} />
      </span>
    )
  },
  {
    exports: [
      { key: 'chance', label: 'Chance' },
      { key: 'likelyFrom', label: 'Likely place from' },
      { key: 'likelyTo', label: 'Likely place to' },
    ],
  },
)
export const worth = number(
  'worth',
  'Worth/mo',
  88,
  'Expected visits a month from the chances, times CPC',
  row => {
    const value = n(row, 'worth')
    return value === null ? notWeighed(row) : formatWhole(value)
  },
  { why: whyVisits },
)
export const visits = number(
  'visits',
  'Visits/mo',
  88,
  'Expected visits a month, from the chances and the click curve',
  row => {
    const value = n(row, 'visits')
    return value === null ? notWeighed(row) : formatWhole(value)
  },
  { why: whyVisits },
)
const whySplit: SheetColumn['why'] = row =>
  explainSplit({
    organic: n(row, 'organicShare'),
    paid: n(row, 'paidShare'),
    date: (row.weighedOn as string | null) ?? null,
  })
const share = (row: Row, key: string) => {
  const value = n(row, key)
  return value === null ? notWeighed(row) : formatShare(value)
}
/** Estimated split of the clicks: on results, on ads, on neither. */
export const organicShare = number(
  'organicShare',
  'Clicks',
  108,
  'Share of searches that click a result, an ad (violet) or nothing (pale): an estimate from what the first page shows',
  row => {
    const organic = n(row, 'organicShare')
    const paid = n(row, 'paidShare')
    return organic === null || paid === null ? notWeighed(row) : <ClickSplitBar organic={organic} paid={paid} />
  },
  { why: whySplit, hidden: true },
)
export const paidShare = number(
  'paidShare',
  'Paid clicks',
  84,
  'Share of searches that click an ad: an estimate from what the first page shows',
  row => share(row, 'paidShare'),
  { why: whySplit, hidden: true },
)
export const noClickShare = number(
  'noClickShare',
  'No click',
  84,
  'Share of searches that click neither a result nor an ad: an estimate from what the first page shows',
  row => share(row, 'noClickShare'),
  { why: whySplit, hidden: true },
)
export const rivalPlace = number(
  'rivalPlace',
  'Rival',
  64,
  "Place of the best of your rivals on the weighed result page; rivals are the owners of rivals' brand words",
  row => {
    const place = n(row, 'rivalPlace')
    return place === null ? (
      s(row, 'weighState') === 'known' ? (
        <span className="quiet" title="No rival among the results that were weighed">
          none
        </span>
      ) : (
        notWeighed(row)
      )
    ) : (
      <span title={`${s(row, 'rival')}, on the result page of ${formatDay(s(row, 'resultsOn'))}`}>{place}</span>
    )
  },
  { hidden: true },
)
export const rival: SheetColumn = {
  key: 'rival',
  label: 'Best rival',
  width: 150,
  kind: 'code',
  explain: 'The rival that stands highest on the weighed result page',
  render: row => <span title={s(row, 'rival')}>{s(row, 'rival')}</span>,
  hidden: true,
}
export function likely(row: Row): string {
  const from = n(row, 'likelyFrom')
  const to = n(row, 'likelyTo')
  return from === null
    ? 'Likely place beyond 20. Unfold for the reasons.'
    : `Likely place ${from}${to === null ? ' to beyond 20' : to === from ? '' : `–${to}`} (six times in ten). Unfold for the reasons.`
}
