import { explainSplit } from '@dew-trail/core/demand/click-split'
import { explainFirst, explainVisits } from '@dew-trail/core/demand/explain-demand'
import { ClickSplitBar } from '../pictures/ClickSplitBar.tsx'
import { ChanceBar } from '../pictures/ChanceBar.tsx'
import { Slope } from '../pictures/Slope.tsx'
import { Counted } from '../ui/Counted.tsx'
import { TerrainSmall } from '../pictures/Terrain.tsx'
import { formatChance, formatDay, formatShare, formatWhole } from '../ui/format.ts'
import { lackKinds } from '@dew-trail/core/results/what-lacks'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { ReactNode } from 'react'
import { keywordTable } from '@dew-trail/contract/keyword-table'
import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../rows/row-source.ts'
import { likelyText } from './likely-text.ts'
import { aged, demandUnknown, n, notWeighed, number, s } from './column-parts.tsx'

const curveWord = (row: Row): 'default' | 'fitted' | 'set' => {
  const curve = s(row, 'clickCurve')
  return curve === 'fitted' || curve === 'set' ? curve : 'default'
}
const whyVisits: SheetColumn['why'] = row =>
  explainVisits({
    searches: n(row, 'searches'),
    hidden: row.hidden === true,
    visits: n(row, 'visits'),
    cpc: n(row, 'cpc'),
    worth: n(row, 'worth'),
    pagePosition: n(row, 'pagePosition'),
    chance: n(row, 'chance'),
    curve: curveWord(row),
    organicShare: n(row, 'organicShare'),
    date: (row.weighedOn as string | null) ?? null,
  })
export const difficulty = number(
  keywordTable.difficulty,
  100,
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
      formula:
        'of 100 sites of this market, how many would not have an even chance of the first page with a new, well-fitting page',
      inputs: [{ name: 'your level', value: n(row, 'ownLevel') === null ? null : Math.round(n(row, 'ownLevel')!) }],
      source: 'strengths of the results on the first page',
      date: (row.weighedOn as string | null) ?? null,
      note:
        n(row, 'difficulty') === null ? 'Not weighed yet: W weighs it.' : 'Unfold the row for the results it rests on.',
    }),
  },
)
export const terrain: SheetColumn = {
  ...keywordTable.terrain,
  width: 96,
  render: row =>
    Array.isArray(row.terrain) && row.terrain.some(level => level !== null)
      ? aged(row, <TerrainSmall levels={row.terrain} ownLevel={n(row, 'ownLevel')} />)
      : null,
}
export const chance = number(
  keywordTable.chance,
  102,
  row => {
    const value = n(row, 'chance')
    return value === null ? (
      notWeighed(row)
    ) : row.pagePosition !== null ? (
      <span title={ownPageWords(row)}>
        {Number(row.pagePosition) > 10 ? <ChanceBar chance={value} own /> : <span className="own">on it</span>}
      </span>
    ) : (
      <span title={`${likely(row)}${row.ownLevel === null ? `. ${noLinksAsked}` : ''}`}>
        {row.ownLevel === null && '≥ '}
        <ChanceBar chance={value} />
      </span>
    )
  },
  {},
)
const noLinksAsked =
  'At least so: no source of links has answered for your site yet, so it is judged as one without links'
/** Expected visits or worth, which are at least so many where the searches or the level of the site are not known. */
const won = (row: Row, value: number) =>
  row.ownLevel === null && row.pagePosition === null && row.hidden !== true ? (
    <span title={noLinksAsked}>≥ {formatWhole(value)}</span>
  ) : (
    <Counted value={value} hidden={row.hidden === true} />
  )
/** What the chance of a row whose page stands already means, with that of a new page beside it. */
const ownPageWords = (row: Row): string => {
  const [higher, fresh] = [n(row, 'pageHigher'), n(row, 'newChance')]
  return [
    `Your page stands at ${row.pagePosition}. By its strength its chance ${Number(row.pagePosition) > 10 ? `of the first page is ${formatChance(n(row, 'chance')!)}, ` : ''}${higher === null ? 'of standing higher is none: it leads' : `of standing higher is ${formatChance(higher)}`}.`,
    ...(fresh === null ? [] : [`A new, well-fitting page: ${formatChance(fresh)}.`]),
  ].join(' ')
}
const chanceOf = (key: 'pageHigher' | 'newChance', unknown: (row: Row) => ReactNode) => (row: Row) => {
  const value = n(row, key)
  return value === null ? unknown(row) : <ChanceBar chance={value} own={key === 'pageHigher'} />
}
export const pageHigher = number(
  keywordTable.pageHigher,
  96,
  chanceOf('pageHigher', row => (row.weighState === 'known' ? '' : notWeighed(row))),
)
export const newChance = number(keywordTable.newChance, 102, chanceOf('newChance', notWeighed), { hidden: true })
const newFigure = (column: TableColumn) =>
  number(
    column,
    110,
    row => {
      const value = n(row, column.key)
      return value === null ? notWeighed(row) : <Counted value={value} hidden={row.hidden === true} />
    },
    { hidden: true },
  )
export const newVisits = newFigure(keywordTable.newVisits)
export const newWorth = newFigure(keywordTable.newWorth)
export const reported = number(
  keywordTable.reported,
  116,
  row => {
    const value = n(row, 'reported')
    return value !== null ? (
      <span title="Rough: as the engine says">{formatWhole(value)}</span>
    ) : row.weighState === 'known' ? (
      <span className="unknown" title="The engine did not say">
        unknown
      </span>
    ) : (
      notWeighed(row)
    )
  },
  { hidden: true },
)
const countColumn = (column: TableColumn): SheetColumn =>
  number(
    column,
    104,
    row => {
      const value = n(row, column.key)
      return value !== null ? (
        <span title="Rough: as the engine says">{formatWhole(value)}</span>
      ) : (
        <span
          className="unknown"
          title="Not asked, or the engine did not say: “Ask how many pages have it” among the actions asks it"
        >
          –
        </span>
      )
    },
    { hidden: true },
  )
export const countText = countColumn(keywordTable.countText)
export const countTitle = countColumn(keywordTable.countTitle)
/** How many of the first ten results lack something. */
export const lacks = lackKinds.map(kind =>
  number(
    keywordTable[`lack_${kind}`],
    84,
    row => {
      const value = n(row, `lack_${kind}`)
      return value !== null ? (
        value
      ) : row.weighState === 'known' ? (
        <span className="unknown" title="Not known of any of the results">
          unknown
        </span>
      ) : (
        notWeighed(row)
      )
    },
    { hidden: true },
  ),
)
export const worth = number(
  keywordTable.worth,
  88,
  row => {
    const value = n(row, 'worth')
    return value === null ? notWeighed(row) : won(row, value)
  },
  { why: whyVisits },
)
export const visits = number(
  keywordTable.visits,
  88,
  row => {
    const value = n(row, 'visits')
    return value === null ? notWeighed(row) : won(row, value)
  },
  { why: whyVisits },
)
const whyFirst: SheetColumn['why'] = row =>
  explainFirst({
    searches: n(row, 'searches'),
    hidden: row.hidden === true,
    visits: n(row, 'visitsFirst'),
    worth: n(row, 'worthFirst'),
    cpc: n(row, 'cpc'),
    curve: curveWord(row),
    organicShare: n(row, 'organicShare'),
    date: (row.demandDate as string | null) ?? null,
  })
const first = (key: 'visitsFirst' | 'worthFirst') => (row: Row) => {
  const value = n(row, key)
  if (value === null) return demandUnknown()
  return <Counted value={value} hidden={row.hidden === true} />
}
export const visitsFirst = number(keywordTable.visitsFirst, 84, first('visitsFirst'), { why: whyFirst })
export const worthFirst = number(keywordTable.worthFirst, 100, first('worthFirst'), { why: whyFirst })
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
  keywordTable.organicShare,
  108,
  row => {
    const organic = n(row, 'organicShare')
    const paid = n(row, 'paidShare')
    return organic === null || paid === null ? notWeighed(row) : <ClickSplitBar organic={organic} paid={paid} />
  },
  { why: whySplit, hidden: true },
)
export const paidShare = number(keywordTable.paidShare, 84, row => share(row, 'paidShare'), {
  why: whySplit,
  hidden: true,
})
export const noClickShare = number(keywordTable.noClickShare, 84, row => share(row, 'noClickShare'), {
  why: whySplit,
  hidden: true,
})
export const rivalPosition = number(
  keywordTable.rivalPosition,
  64,
  row => {
    const position = n(row, 'rivalPosition')
    return position === null ? (
      s(row, 'weighState') === 'known' ? (
        <span className="quiet" title="No rival among the results that were weighed">
          none
        </span>
      ) : (
        notWeighed(row)
      )
    ) : (
      <span title={`${s(row, 'rival')}, on the result page of ${formatDay(s(row, 'resultsOn'))}`}>{position}</span>
    )
  },
  { hidden: true },
)
export const rival: SheetColumn = {
  ...keywordTable.rival,
  width: 150,
  render: row => <span title={s(row, 'rival')}>{s(row, 'rival')}</span>,
  hidden: true,
}
function likely(row: Row): string {
  const text = likelyText(n(row, 'likelyFrom'), n(row, 'likelyTo'))
  return `Likely place ${text}${text === 'unknown' || text === 'beyond 20' ? '' : ' (six times in ten)'}. Unfold for the reasons.`
}
