import { landingTable, overlapTable, paidTable, positionKey, rankedTable } from '@dew-trail/contract/rival-tables'
import type { PageFeature } from '@dew-trail/contract/rivals'
import { ChanceBar } from '../../pictures/ChanceBar.tsx'
import { PositionDots } from '../../pictures/PositionDots.tsx'
import { Slope } from '../../pictures/Slope.tsx'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { formatDay, formatMoney, formatShare, formatWhole } from '../../ui/format.ts'
import { colourOf } from '../../compared/use-compared.ts'

const n = (row: Row, key: string): number | null => row[key] as number | null
const unknown = <span className="unknown">unknown</span>
const figure = (key: string, show: (value: number) => string) => (row: Row) => {
  const value = n(row, key)
  return value === null ? unknown : show(value)
}
const dash = (title: string) => (
  <span className="unknown" title={title}>
    –
  </span>
)
const right = { align: 'right' as const }

const phrase: SheetColumn = {
  ...rankedTable.phrase,
  explain: 'The phrase people search for',
  width: 230,
  fixed: true,
  render: row => (
    <>
      <span className={row.kept ? 'keyword-name kept-row' : 'keyword-name'} title={String(row.phrase)}>
        {String(row.phrase)}
      </span>
      {row.id < 0 && <small title="Nobody gathered it yet: what you do with it takes it over">known</small>}
    </>
  ),
}
const page = (key: 'page' | 'bestPage', column: Omit<SheetColumn, 'width' | 'render'>, width: number): SheetColumn => ({
  ...column,
  width,
  render: row => (
    <a
      className="link cut"
      href={String(row[key])}
      target="_blank"
      rel="noreferrer"
      tabIndex={-1}
      title={String(row[key])}
      style={{ fontWeight: 400, display: 'block' }}
    >
      {String(row[key]).replace(/^https?:\/\//, '')}
    </a>
  ),
})
const difficulty: SheetColumn = {
  ...rankedTable.difficulty,
  ...right,
  width: 96,
  render: row => {
    const value = n(row, 'difficulty')
    return value === null ? dash('Not weighed yet: press W') : <Slope difficulty={value} />
  },
}
const chance: SheetColumn = {
  ...rankedTable.chance,
  ...right,
  // A file has the chance alone: how it lies between places is Weigh's to say.
  exports: [{ key: 'chance', label: 'Chance' }],
  width: 102,
  render: row => {
    const value = n(row, 'chance')
    return value === null ? dash('Not weighed yet: press W') : <ChanceBar chance={value} />
  },
}
const searches: SheetColumn = { ...rankedTable.searches, ...right, width: 90, render: figure('searches', formatWhole) }
const cpc: SheetColumn = { ...rankedTable.cpc, ...right, width: 74, render: figure('cpc', formatMoney) }
const kept: SheetColumn = { ...rankedTable.kept, width: 60, conditionOnly: true, render: () => null }
const tracked: SheetColumn = { ...rankedTable.tracked, width: 60, conditionOnly: true, render: () => null }

const featureNames: Record<PageFeature | 'none', string> = {
  answer: 'answer',
  questions: 'questions',
  images: 'images',
  shopping: 'products',
  map: 'map',
  ads: 'ads',
  none: 'nothing',
}
/** A column of what first pages show, as words. */
const features = (
  key: 'held' | 'features',
  unknownWhy: string,
  more: { width: number; hidden?: boolean },
): SheetColumn => ({
  ...rankedTable[key],
  ...more,
  isSet: true,
  values: Object.entries(featureNames).map(([value, label]) => ({ value, label })),
  render: row => {
    if (row[key] === null) return dash(unknownWhy)
    const words = String(row[key])
      .split('|')
      .map(name => featureNames[name as PageFeature])
      .join(', ')
    return (
      <span className={words === featureNames.none ? 'quiet' : undefined} title={words}>
        {words}
      </span>
    )
  },
})

export const rankedColumns: SheetColumn[] = [
  phrase,
  {
    ...rankedTable.now,
    ...right,
    width: 78,
    render: row =>
      n(row, 'now') ?? (
        <span className="fall" title="It stood there in the results before">
          left
        </span>
      ),
  },
  {
    ...rankedTable.before,
    ...right,
    width: 70,
    render: row => n(row, 'before') ?? dash('It did not stand there, or the keyword has no results before these'),
  },
  {
    ...rankedTable.moved,
    width: 78,
    hidden: true,
    render: row => {
      const value = n(row, 'moved')
      if (value === null) return dash('There is nothing to compare with')
      if (value === 0) return <span className="quiet">same</span>
      return <span className={value > 0 ? 'kept-row' : 'fall'}>{value > 0 ? `up ${value}` : `down ${-value}`}</span>
    },
  },
  searches,
  cpc,
  { ...rankedTable.visits, ...right, width: 84, render: figure('visits', formatWhole) },
  { ...rankedTable.visitsShare, ...right, width: 92, render: figure('visitsShare', formatShare) },
  { ...rankedTable.worth, ...right, width: 84, render: figure('worth', formatWhole) },
  { ...rankedTable.worthShare, ...right, width: 92, hidden: true, render: figure('worthShare', formatShare) },
  {
    ...rankedTable.own,
    ...right,
    width: 60,
    render: row => {
      const value = n(row, 'own')
      return value === null ? dash('You do not stand in these results') : <span className="own">{value}</span>
    },
  },
  difficulty,
  { ...chance, hidden: true },
  page('page', rankedTable.page, 220),
  { ...rankedTable.pages, ...right, width: 80, hidden: true, render: row => n(row, 'pages') },
  features('held', 'Its first page was not weighed since this is kept: press W', { width: 104 }),
  features('features', 'Its first page was not weighed: press W', { width: 180, hidden: true }),
  {
    ...rankedTable.results,
    ...right,
    width: 96,
    hidden: true,
    render: figure('results', value => `~${formatWhole(value)}`),
  },
  { ...rankedTable.withheld, width: 110, hidden: true, render: row => (row.withheld ? 'not in it' : '') },
  { ...rankedTable.brand, width: 84, hidden: true, render: row => (row.brand ? 'yes' : '') },
  { ...rankedTable.fed, width: 84, hidden: true, render: row => (row.fed ? 'yes' : '') },
  { ...rankedTable.entered, width: 60, conditionOnly: true, render: () => null },
  kept,
  tracked,
]

const address: SheetColumn = {
  ...landingTable.url,
  width: 280,
  fixed: true,
  render: row => (
    <span className="keyword-name" title={String(row.url)}>
      {String(row.url).replace(/^https?:\/\//, '')}
    </span>
  ),
}
const text = (key: 'next' | 'why' | 'top' | 'planned') => (row: Row) => (
  <span title={String(row[key] ?? '')}>{String(row[key] ?? '')}</span>
)
const landingFigures: SheetColumn[] = [
  { ...landingTable.visits, ...right, width: 84, render: figure('visits', formatWhole) },
  { ...landingTable.worth, ...right, width: 84, render: figure('worth', formatWhole) },
  { ...landingTable.keywords, ...right, width: 84, render: row => n(row, 'keywords') },
  { ...landingTable.within10, ...right, width: 104, render: row => n(row, 'within10') },
  { ...landingTable.top, width: 190, render: text('top') },
  { ...landingTable.topPosition, ...right, width: 66, render: row => n(row, 'topPosition') },
  { ...landingTable.linkingSites, ...right, width: 100, render: figure('linkingSites', formatWhole) },
  { ...landingTable.words, ...right, width: 74, render: figure('words', formatWhole) },
  {
    ...landingTable.readOn,
    width: 98,
    render: row => (row.readOn === null ? dash('The crawler did not read it') : formatDay(String(row.readOn))),
  },
  { ...landingTable.visitsUnknown, ...right, width: 112, hidden: true, render: row => n(row, 'visitsUnknown') },
]
export const landingColumns: SheetColumn[] = [address, ...landingFigures]
export const ownLandingColumns: SheetColumn[] = [
  address,
  { ...landingTable.next, width: 170, render: text('next') },
  { ...landingTable.why, width: 260, render: text('why') },
  ...landingFigures,
  { ...landingTable.planned, width: 140, render: text('planned') },
]

/** Columns of an overlap's keywords: where each of the compared sites stands is drawn, and hidden columns have the numbers. */
const bids: SheetColumn[] = [
  { ...paidTable.bidLow, ...right, width: 78, hidden: true, render: figure('bidLow', formatMoney) },
  { ...paidTable.bidHigh, ...right, width: 78, hidden: true, render: figure('bidHigh', formatMoney) },
]
export const paidColumns: SheetColumn[] = [
  phrase,
  { ...paidTable.spend, ...right, width: 92, render: figure('spend', formatWhole) },
  { ...paidTable.spendShare, ...right, width: 110, render: figure('spendShare', formatShare) },
  { ...paidTable.position, ...right, width: 88, render: row => n(row, 'position') },
  searches,
  cpc,
  {
    ...paidTable.stands,
    ...right,
    width: 84,
    render: row => n(row, 'stands') ?? dash('Not among the results that are known'),
  },
  {
    ...paidTable.own,
    ...right,
    width: 60,
    render: row => n(row, 'own') ?? dash('Not among the results that are known'),
  },
  ...bids,
  kept,
  tracked,
]

export const overlapColumns = (targets: readonly string[], paid: boolean): SheetColumn[] => [
  phrase,
  searches,
  cpc,
  difficulty,
  chance,
  { ...overlapTable.could, ...right, width: 92, render: figure('could', formatWhole) },
  { ...overlapTable.worth, ...right, width: 84, render: figure('worth', formatWhole) },
  { ...overlapTable.pageWorth, ...right, width: 118, render: figure('pageWorth', formatWhole) },
  {
    key: 'places',
    label: paid ? 'Ad positions' : 'Where they stand',
    kind: 'series',
    explain: paid
      ? 'Positions of their advertisements, the first at the left: 1 · 3 · 10 · 30 · 100'
      : 'Positions of the compared sites, the first at the left: 1 · 3 · 10 · 30 · 100',
    exports: targets.map((target, i) => ({ key: positionKey(i), label: target })),
    width: 196,
    render: row => (
      <PositionDots
        positions={targets.map((_, i) => n(row, positionKey(i)))}
        colours={targets.map((_, i) => colourOf(i))}
        names={targets}
      />
    ),
  },
  ...(paid
    ? [{ ...overlapTable.spend, ...right, width: 92, render: figure('spend', formatWhole) }]
    : [page('bestPage', overlapTable.bestPage, 240)]),
  ...targets.map(
    (target, i): SheetColumn => ({
      key: positionKey(i),
      label: i ? target.split('.')[0]! : 'You',
      kind: 'number',
      unit: 'position',
      explain: `Position of ${paid ? 'the advertisement of ' : ''}${target}`,
      ...right,
      width: 90,
      hidden: true,
      render: row => n(row, positionKey(i)) ?? dash(paid ? 'It does not pay for it' : 'Not among the results'),
    }),
  ),
  ...bids,
  kept,
  tracked,
]
