import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { PlannedPage } from './plan.ts'

/** Columns of the table of planned pages, by key. */
export const planTable = {
  title: {
    key: 'title',
    label: 'Page',
    kind: 'text',
    explain: 'The page as it is called in the plan',
  },
  state: {
    key: 'state',
    label: 'State',
    kind: 'code',
    explain: 'Idea, writing or published; late is worked out from the deadline',
  },
  deadline: {
    key: 'deadline',
    label: 'Deadline',
    kind: 'code',
    unit: 'day',
    explain: 'When it should be published',
  },
  lead: {
    key: 'lead',
    label: 'Lead keyword',
    kind: 'code',
    explain: 'The most searched keyword on the page',
  },
  themes: {
    key: 'themes',
    label: 'Themes',
    kind: 'code',
    explain: 'Themes of its keywords by the current grouping of the market; a page is best for one',
  },
  keywords: {
    key: 'keywords',
    label: 'Keywords',
    kind: 'number',
    unit: 'keywords',
    explain: 'How many keywords stand on the page',
    exports: [
      { key: 'keywords', label: 'Keywords' },
      { key: 'keywordList', label: 'Which keywords' },
    ],
  },
  searches: {
    key: 'searches',
    label: 'Searches',
    kind: 'number',
    unit: 'searches a month',
    explain: 'Summed searches a month of its keywords',
  },
  difficultyFrom: {
    key: 'difficultyFrom',
    label: 'Difficulty',
    kind: 'number',
    unit: '0 to 100',
    explain: 'Range of difficulty of its keywords',
    exports: [
      { key: 'difficultyFrom', label: 'Difficulty from' },
      { key: 'difficultyTo', label: 'Difficulty to' },
    ],
  },
  cpc: {
    key: 'cpc',
    label: 'CPC',
    kind: 'number',
    unit: 'currency of the ads data, a click',
    explain: 'Mean CPC weighted by searches',
  },
  visits: {
    key: 'visits',
    label: 'Visits/mo',
    kind: 'number',
    unit: 'visits a month',
    explain: 'Expected visits a month, from chances and the default click curve',
  },
  address: {
    key: 'address',
    label: 'Address',
    kind: 'code',
    explain: 'Where the page is or will be',
  },
} satisfies Record<string, TableColumn>

export const planSpecs: ColumnSpec[] = [
  { key: 'title', kind: 'text' },
  { key: 'address', kind: 'code' },
  { key: 'lead', kind: 'code' },
  { key: 'themes', kind: 'code' },
  { key: 'keywords', kind: 'number' },
  { key: 'keywordList', kind: 'code' },
  { key: 'searches', kind: 'number' },
  { key: 'searchesUnknown', kind: 'number' },
  { key: 'visits', kind: 'number' },
  { key: 'visitsUnknown', kind: 'number' },
  { key: 'difficultyFrom', kind: 'number' },
  { key: 'difficultyTo', kind: 'number' },
  { key: 'cpc', kind: 'number' },
  { key: 'deadline', kind: 'code' },
  { key: 'state', kind: 'code' },
  { key: 'late', kind: 'flag' },
  { key: 'remarks', kind: 'code' },
]

/** Rows of the plan for the sheet. */
export function planBatch(pages: PlannedPage[]): Batch {
  const column = (pick: (page: PlannedPage) => string | number | boolean | null) => pages.map(pick)
  return {
    ids: pages.map(page => page.id),
    columns: {
      title: column(page => page.title),
      address: column(page => page.address),
      lead: column(page => page.keywords[0]?.phrase ?? null),
      themes: column(page => page.themes.join(', ') || null),
      keywords: column(page => page.keywords.length),
      keywordList: column(page => page.keywords.map(each => each.phrase).join(', ')),
      searches: column(page => page.searches),
      searchesUnknown: column(page => page.searchesUnknown),
      visits: column(page => page.visits),
      visitsUnknown: column(page => page.visitsUnknown),
      difficultyFrom: column(page => page.difficultyFrom),
      difficultyTo: column(page => page.difficultyTo),
      cpc: column(page => page.cpc),
      deadline: column(page => page.deadline),
      state: column(page => page.state),
      late: column(page => page.late),
      remarks: column(page => page.remarks),
    },
  }
}
