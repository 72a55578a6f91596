import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import { keywordTable } from './keyword-table.ts'
import { columnsOf, specsOf } from './table-batch.ts'
import type { LandingPage, OverlapKeyword, PaidKeyword, RankedKeyword } from './rivals.ts'

/** Columns of the keywords for which a target stands. */
export const rankedTable = {
  phrase: keywordTable.phrase,
  now: {
    key: 'now',
    label: 'Position',
    kind: 'number',
    unit: 'position',
    explain: 'Its best position in the latest results',
  },
  before: {
    key: 'before',
    label: 'Before',
    kind: 'number',
    unit: 'position',
    explain: 'Its best position in the results before those',
  },
  moved: {
    key: 'moved',
    label: 'Change',
    kind: 'number',
    unit: 'positions',
    explain: 'Positions gained (above 0) or lost since the results before',
  },
  page: { key: 'page', label: 'Page', kind: 'code', explain: 'The page of it that stands highest' },
  pages: {
    key: 'pages',
    label: 'Its pages',
    kind: 'number',
    unit: 'pages',
    explain: 'How many of its pages stand within twenty',
  },
  searches: keywordTable.searches,
  cpc: keywordTable.cpc,
  visits: {
    key: 'visits',
    label: 'Visits/mo',
    kind: 'number',
    unit: 'visits a month',
    explain: 'Searches × share of clicks at its position',
  },
  visitsShare: {
    key: 'visitsShare',
    label: 'Of its visits',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of all its visits: × their sum gives the visits back',
  },
  worth: {
    key: 'worth',
    label: 'Worth/mo',
    kind: 'number',
    unit: 'currency of the ads data, a month',
    explain: 'What these visits would cost as advertisements, or are worth to you where you said so',
  },
  worthShare: {
    key: 'worthShare',
    label: 'Of its worth',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of the worth of all its visits',
  },
  own: {
    key: 'own',
    label: 'You',
    kind: 'number',
    unit: 'position',
    explain: 'Your own best position in the same results',
  },
  difficulty: keywordTable.difficulty,
  chance: keywordTable.chance,
  results: {
    key: 'results',
    label: 'Results',
    kind: 'number',
    unit: 'results',
    explain: 'How many results the engine reports: a rough figure, that two engines tell differently',
  },
  features: {
    key: 'features',
    label: 'First page with',
    kind: 'code',
    explain: 'What the first page shows besides results',
  },
  held: {
    key: 'held',
    label: 'Shown in',
    kind: 'code',
    explain: 'Which of these show a page of it: the answer, images, products',
  },
  withheld: {
    key: 'withheld',
    label: 'Not in your log',
    kind: 'flag',
    explain: 'Your site stands for it, yet your query log does not name it: hardly asked, or withheld',
  },
  brand: { key: 'brand', label: 'Names it', kind: 'flag', explain: 'Whether the keyword names the site' },
  entered: { key: 'entered', label: 'Entered', kind: 'flag', explain: 'It did not stand in the results before these' },
  fed: {
    key: 'fed',
    label: 'By the feed',
    kind: 'flag',
    explain: 'Told by the rankings feed alone: its results were not fetched',
  },
  kept: { key: 'kept', label: 'kept', kind: 'flag', explain: 'Kept for weighing' },
  tracked: { key: 'tracked', label: 'tracked', kind: 'flag', explain: 'Watched in Track' },
} satisfies Record<string, TableColumn>
/** Told of each keyword, so that sums count a family once; not a column that is shown. */
const family: ColumnSpec = { key: 'family', kind: 'number' }
export const rankedSpecs: ColumnSpec[] = [...specsOf(rankedTable), family]
export const rankedBatch = (rows: readonly RankedKeyword[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    ...columnsOf(rows, [
      'phrase',
      'family',
      'now',
      'before',
      'entered',
      'fed',
      'page',
      'pages',
      'searches',
      'cpc',
      'visits',
      'visitsShare',
      'worth',
      'worthShare',
      'own',
      'difficulty',
      'chance',
      'brand',
      'results',
      'withheld',
      'kept',
      'tracked',
    ]),
    features: rows.map(({ features }) => (features ? features.join('|') || 'none' : null)),
    held: rows.map(({ held }) => (held ? held.join('|') || 'none' : null)),
    moved: rows.map(({ now, before }) => (now === null || before === null ? null : before - now)),
  },
})

/** Columns of the keywords that a site pays for. */
export const paidTable = {
  phrase: keywordTable.phrase,
  spend: {
    key: 'spend',
    label: 'Spends/mo',
    kind: 'number',
    unit: 'currency of the ads data, a month',
    explain: 'What it spent on the keyword in the month, by the ads data',
  },
  spendShare: {
    key: 'spendShare',
    label: 'Of its spending',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of all it spent in the month: × their sum gives the spending back',
  },
  position: {
    key: 'position',
    label: 'Ad position',
    kind: 'number',
    unit: 'position',
    explain: 'Position of its advertisement among the advertisements',
  },
  stands: {
    key: 'stands',
    label: 'It stands',
    kind: 'number',
    unit: 'position',
    explain: 'Its own best position among the results, where that is known',
  },
  own: rankedTable.own,
  searches: keywordTable.searches,
  cpc: keywordTable.cpc,
  bidLow: {
    key: 'bidLow',
    label: 'Low bid',
    kind: 'number',
    unit: 'currency of the ads data',
    explain: 'Low end of the bids for the top of a page',
  },
  bidHigh: {
    key: 'bidHigh',
    label: 'High bid',
    kind: 'number',
    unit: 'currency of the ads data',
    explain: 'High end of the bids for the top of a page',
  },
  kept: rankedTable.kept,
  tracked: rankedTable.tracked,
} satisfies Record<string, TableColumn>
export const paidSpecs: ColumnSpec[] = specsOf(paidTable)
export const paidBatch = (rows: readonly PaidKeyword[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(paidTable) as Array<keyof typeof paidTable>),
})

/** Columns of pages that stand for keywords. */
export const landingTable = {
  url: { key: 'url', label: 'Page', kind: 'text', explain: 'The address of the page' },
  next: { key: 'next', label: 'Next', kind: 'code', explain: 'What to do next about a page of yours' },
  why: { key: 'why', label: 'Why', kind: 'code', explain: 'The reason for what to do next' },
  visits: rankedTable.visits,
  visitsUnknown: {
    key: 'visitsUnknown',
    label: 'Without figures',
    kind: 'number',
    unit: 'keywords',
    explain: 'Keywords whose searches are unknown, so that their visits are not in the sum',
  },
  worth: rankedTable.worth,
  keywords: {
    key: 'keywords',
    label: 'Keywords',
    kind: 'number',
    unit: 'keywords',
    explain: 'For how many keywords it stands',
  },
  within10: {
    key: 'within10',
    label: 'On first pages',
    kind: 'number',
    unit: 'keywords',
    explain: 'For how many it stands on the first page',
  },
  top: { key: 'top', label: 'Top keyword', kind: 'code', explain: 'The keyword that brings it most visits' },
  topPosition: {
    key: 'topPosition',
    label: 'There',
    kind: 'number',
    unit: 'position',
    explain: 'Its position for the top keyword',
  },
  linkingSites: {
    key: 'linkingSites',
    label: 'Linking sites',
    kind: 'number',
    unit: 'sites',
    explain: 'Sites that link to the page, by the link feeds',
  },
  words: {
    key: 'words',
    label: 'Words',
    kind: 'number',
    unit: 'words',
    explain: 'Words of its text, as the crawler read it last',
  },
  readOn: {
    key: 'readOn',
    unit: 'day',
    label: 'Read',
    kind: 'code',
    explain: 'The day on which the crawler read it last',
  },
  planned: { key: 'planned', label: 'On the plan', kind: 'code', explain: 'The planned page at this address' },
} satisfies Record<string, TableColumn>
export const landingSpecs: ColumnSpec[] = specsOf(landingTable)
export const landingBatch = (rows: readonly LandingPage[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(landingTable) as Array<keyof typeof landingTable>),
})

/** Columns of the keywords of an overlap; positions of the compared sites have columns of their own (`positionKey`). */
export const overlapTable = {
  phrase: keywordTable.phrase,
  searches: keywordTable.searches,
  cpc: keywordTable.cpc,
  difficulty: keywordTable.difficulty,
  chance: keywordTable.chance,
  could: {
    key: 'could',
    label: 'Could bring',
    kind: 'number',
    unit: 'visits a month',
    explain:
      'Visits a month that a new, fitting page of yours could bring: searches × clicks by position, weighed by the chances',
  },
  worth: {
    key: 'worth',
    label: 'Worth/mo',
    kind: 'number',
    unit: 'currency of the ads data, a month',
    explain: 'What those visits would cost as advertisements, or are worth to you where you said so',
  },
  pageWorth: {
    key: 'pageWorth',
    label: 'Likely page worth',
    kind: 'number',
    unit: 'currency of the ads data, a month',
    explain:
      'What a new page for it may be worth with all it is found by: its visits and the mean of the list count half each, with what pages of yours bring beside their top keyword, more where you get on the first page of similar keywords more easily. The list begins with the most',
  },
  bestPage: {
    key: 'bestPage',
    label: 'Best page of theirs',
    kind: 'code',
    explain: 'The page that stands highest among those compared',
  },
  bidLow: paidTable.bidLow,
  bidHigh: paidTable.bidHigh,
  spend: {
    ...paidTable.spend,
    explain: 'What the compared sites spent on the keyword together in the newest month of the ads data',
  },
  kept: rankedTable.kept,
  tracked: rankedTable.tracked,
} satisfies Record<string, TableColumn>
export const positionKey = (at: number): string => `position${at}`
export const overlapSpecs = (targets: number): ColumnSpec[] => [
  ...specsOf(overlapTable),
  family,
  ...Array.from({ length: targets }, (_, i) => ({ key: positionKey(i), kind: 'number' as const })),
]
export const overlapBatch = (rows: readonly OverlapKeyword[], targets: number): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    ...columnsOf(rows, ['family', ...(Object.keys(overlapTable) as Array<keyof typeof overlapTable>)]),
    ...Object.fromEntries(
      Array.from({ length: targets }, (_, i) => [positionKey(i), rows.map(row => row.positions[i] ?? null)]),
    ),
  },
})
