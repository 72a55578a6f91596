import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { CompetingRow, GroupedKeyword, ThemeRow } from './group.ts'
import { keywordTable } from './keyword-table.ts'
import { columnsOf, specsOf } from './table-batch.ts'

/** Columns of themes, by key. */
export const themeTable = {
  theme: { key: 'theme', label: 'Theme', kind: 'text', explain: 'Its name, or else the keyword that leads it' },
  lead: { key: 'lead', label: 'Lead', kind: 'code', explain: 'The keyword that leads it: the most searched one' },
  keywords: { key: 'keywords', label: 'Keywords', kind: 'number', unit: 'keywords', explain: 'How many it has' },
  searches: {
    key: 'searches',
    label: 'Searches',
    kind: 'number',
    unit: 'searches a month',
    explain: 'Searches a month of its keywords together; forms of one keyword count once',
  },
  together: {
    key: 'together',
    label: 'Shared with lead',
    kind: 'number',
    unit: 'pages, 0 to 10',
    explain: 'Of ten results, how many its keywords share with the lead on average: what holds it together',
  },
  difficultyFrom: {
    key: 'difficultyFrom',
    label: 'Difficulty',
    kind: 'number',
    unit: '0 to 100',
    explain: 'Range of difficulty of its weighed keywords',
    exports: [
      { key: 'difficultyFrom', label: 'Difficulty from' },
      { key: 'difficultyTo', label: 'Difficulty to' },
    ],
  },
  chance: {
    key: 'chance',
    label: 'Chance',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Chance of the first page, mean of its weighed keywords by searches',
  },
  intent: { key: 'intent', label: 'Search intent', kind: 'code', explain: 'What most of its searches want' },
  cpc: {
    key: 'cpc',
    label: 'CPC',
    kind: 'number',
    unit: 'currency of the ads data, a click',
    explain: 'Mean CPC weighted by searches',
  },
  visits: {
    key: 'visits',
    label: 'Visits to expect',
    kind: 'number',
    unit: 'visits a month',
    explain: 'Expected visits a month of its weighed keywords, from chances and the click curve',
  },
  ownPage: {
    key: 'ownPage',
    label: 'Answered today by',
    kind: 'code',
    explain: 'Your page that brings most visits from it today',
  },
  ownPosition: {
    key: 'ownPosition',
    label: 'You',
    kind: 'number',
    unit: 'position',
    explain: 'The best position of that page among its keywords',
  },
  competing: {
    key: 'competing',
    label: 'Pages that compete',
    kind: 'number',
    unit: 'pages',
    explain: 'Pages of yours within 30 for its keywords; 0 where one page has it all',
  },
  planned: {
    key: 'planned',
    label: 'Planned page',
    kind: 'code',
    explain: 'The page of the plan on which most of its keywords stand',
  },
  onPlan: {
    key: 'onPlan',
    label: 'On the plan',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of its keywords that stand on a page of the plan',
  },
  tracked: {
    key: 'tracked',
    label: 'Tracked',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of its keywords that are tracked',
  },
  byHand: {
    key: 'byHand',
    label: 'By hand',
    kind: 'number',
    unit: 'keywords',
    explain: 'Keywords that somebody put there by hand; they stay when keywords are grouped again',
  },
  locked: {
    key: 'locked',
    label: 'Locked',
    kind: 'flag',
    explain: 'Whether it stays as it is when keywords are grouped again',
  },
} satisfies Record<string, TableColumn>

const intentCount = 5
export const themeSpecs: ColumnSpec[] = [
  ...specsOf(themeTable),
  { key: 'leadId', kind: 'number' },
  { key: 'searchesUnknown', kind: 'number' },
  { key: 'visitsUnknown', kind: 'number' },
  { key: 'difficultyTo', kind: 'number' },
  { key: 'intents', kind: 'series', length: intentCount },
]
export const themeBatch = (rows: readonly ThemeRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    theme: rows.map(row => row.name ?? row.lead),
    ...columnsOf(rows, [
      'lead',
      'leadId',
      'keywords',
      'searches',
      'searchesUnknown',
      'together',
      'difficultyFrom',
      'difficultyTo',
      'chance',
      'intent',
      'intents',
      'cpc',
      'visits',
      'visitsUnknown',
      'ownPage',
      'ownPosition',
      'competing',
      'planned',
      'onPlan',
      'tracked',
      'byHand',
      'locked',
    ]),
  },
})

/** Columns of the keywords of a grouping. */
export const groupedTable = {
  phrase: keywordTable.phrase,
  theme: {
    key: 'theme',
    label: 'Theme',
    kind: 'code',
    explain: 'The theme it is in',
    exports: [
      { key: 'theme', label: 'Theme' },
      { key: 'lead', label: 'Lead' },
    ],
  },
  isLead: { key: 'isLead', label: 'Leads', kind: 'flag', explain: 'Whether it leads its theme' },
  shared: {
    key: 'shared',
    label: 'Shared with lead',
    kind: 'number',
    unit: 'pages, 0 to 10',
    explain: 'Of ten results, how many it shares with the lead of its theme',
  },
  searches: keywordTable.searches,
  own: { key: 'own', label: 'You', kind: 'number', unit: 'position', explain: 'The best position of a page of yours' },
  ownPage: { key: 'ownPage', label: 'Page', kind: 'code', explain: 'Your page that stands best for it' },
  nearest: {
    key: 'nearest',
    label: 'Nearest other theme',
    kind: 'code',
    explain: 'The theme besides its own whose lead shares most results with it',
  },
  nearestShared: {
    key: 'nearestShared',
    label: 'Shared with that',
    kind: 'number',
    unit: 'pages, 0 to 10',
    explain: 'Of ten results, how many it shares with the lead of that theme',
  },
  state: {
    key: 'state',
    label: 'Stands',
    kind: 'code',
    explain: 'In a theme, alone, or without a result page, so that nothing can be said of it',
  },
  byHand: { key: 'byHand', label: 'By hand', kind: 'flag', explain: 'Whether somebody put it there by hand' },
  planned: { key: 'planned', label: 'Planned page', kind: 'code', explain: 'The page of the plan on which it stands' },
  kept: { key: 'kept', label: 'Kept', kind: 'flag', explain: 'Whether it is kept' },
  tracked: { key: 'tracked', label: 'Tracked', kind: 'flag', explain: 'Whether its positions are tracked' },
} satisfies Record<string, TableColumn>
export const groupedStates = { grouped: 'in a theme', alone: 'alone', unknown: 'no result page' } as const

export const groupedSpecs: ColumnSpec[] = [
  ...specsOf(groupedTable),
  { key: 'family', kind: 'number' },
  { key: 'lead', kind: 'code' },
  { key: 'themeId', kind: 'number' },
  { key: 'nearestId', kind: 'number' },
]
export const groupedBatch = (rows: readonly GroupedKeyword[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    state: rows.map(row => (row.themeId !== null ? 'grouped' : row.hasResults ? 'alone' : 'unknown')),
    ...columnsOf(rows, [
      'phrase',
      'theme',
      'lead',
      'themeId',
      'isLead',
      'shared',
      'searches',
      'family',
      'own',
      'ownPage',
      'nearest',
      'nearestId',
      'nearestShared',
      'byHand',
      'planned',
      'kept',
      'tracked',
    ]),
  },
})

/** Columns of own pages that compete for themes. */
export const competingTable = {
  theme: { key: 'theme', label: 'Theme', kind: 'text', explain: 'What both pages fight for' },
  keep: {
    key: 'keep',
    label: 'Should have it',
    kind: 'code',
    explain: 'The page that brings more visits over the theme',
  },
  keepPosition: {
    key: 'keepPosition',
    label: 'Best position',
    kind: 'number',
    unit: 'position',
    explain: 'Its best position among the keywords of the theme',
  },
  keepVisits: {
    key: 'keepVisits',
    label: 'Visits',
    kind: 'number',
    unit: 'visits a month',
    explain:
      'What it brings over the theme: clicks of the query log where it names the page, else searches × clicks at its position',
  },
  keepKeywords: {
    key: 'keepKeywords',
    label: 'Leads for',
    kind: 'number',
    unit: 'keywords',
    explain: 'Keywords for which it is your best placed page',
    exports: [
      { key: 'keepKeywords', label: 'It leads for' },
      { key: 'keepLeads', label: 'Which keywords' },
    ],
  },
  give: { key: 'give', label: 'In its way', kind: 'code', explain: 'The page that takes visits of the same theme' },
  givePosition: {
    key: 'givePosition',
    label: 'Its position',
    kind: 'number',
    unit: 'position',
    explain: 'The best position of the page in the way',
  },
  giveVisits: {
    key: 'giveVisits',
    label: 'Its visits',
    kind: 'number',
    unit: 'visits a month',
    explain: 'What the page in the way brings over the theme',
  },
  giveKeywords: {
    key: 'giveKeywords',
    label: 'It leads for',
    kind: 'number',
    unit: 'keywords',
    explain: 'Keywords for which the page in the way is your best placed one',
    exports: [
      { key: 'giveKeywords', label: 'The other leads for' },
      { key: 'giveLeads', label: 'Which keywords of the other' },
    ],
  },
  seen: { key: 'seen', label: 'Seen', kind: 'code', explain: 'On result pages, in your query log, or in both' },
} satisfies Record<string, TableColumn>
export const competingSpecs: ColumnSpec[] = [
  ...specsOf(competingTable),
  { key: 'themeId', kind: 'number' },
  { key: 'keepLeads', kind: 'code' },
  { key: 'giveLeads', kind: 'code' },
]
export const competingBatch = (rows: readonly CompetingRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    ...columnsOf(rows, [
      'theme',
      'themeId',
      'keep',
      'keepPosition',
      'keepVisits',
      'give',
      'givePosition',
      'giveVisits',
      'seen',
    ]),
    keepKeywords: rows.map(row => row.keepLeads.length),
    giveKeywords: rows.map(row => row.giveLeads.length),
    keepLeads: rows.map(row => row.keepLeads.join(', ')),
    giveLeads: rows.map(row => row.giveLeads.join(', ')),
  },
})
