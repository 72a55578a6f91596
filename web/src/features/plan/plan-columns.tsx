import { type PageState, pageStates, type PlannedPage } from '@dew-trail/contract/plan'
import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { formatDay, formatMoney, formatWhole } from '../../ui/format.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import type { Row } from '../../rows/row-source.ts'

export const stateLabels: Record<PageState | 'late', string> = {
  idea: 'Idea',
  writing: 'Writing',
  published: 'Published',
  late: 'Late',
}
export const planSpecs: ColumnSpec[] = [
  { key: 'title', kind: 'text' },
  { key: 'address', kind: 'code' },
  { key: 'lead', kind: 'code' },
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

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const gap = (row: Row, key: string) =>
  Number(row[key]) > 0 ? (
    <span
      className="unknown"
      title={`${formatWhole(Number(row[key]))} of its keywords have no such figure and are not in the sum`}
    >
      +?
    </span>
  ) : null
const n = (row: Row, key: string): number | null => row[key] as number | null

export const planColumns: SheetColumn[] = [
  {
    key: 'title',
    label: 'Page',
    width: 232,
    kind: 'text',
    explain: 'The page as it is called in the plan',
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.title)}>
        {String(row.title)}
      </span>
    ),
  },
  {
    key: 'state',
    label: 'State',
    width: 104,
    kind: 'code',
    explain: 'Idea, writing or published; late is worked out from the deadline',
    values: pageStates.map(value => ({ value, label: stateLabels[value] })),
    render: row =>
      row.late ? (
        <span className="fall">{stateLabels[row.state as PageState]}, late</span>
      ) : (
        stateLabels[row.state as PageState]
      ),
  },
  {
    key: 'deadline',
    label: 'Deadline',
    width: 110,
    kind: 'code',
    explain: 'When it should be published',
    render: row =>
      row.deadline ? (
        <span className={row.late ? 'fall' : ''}>{formatDay(String(row.deadline))}</span>
      ) : (
        <span className="unknown">none</span>
      ),
  },
  {
    key: 'lead',
    label: 'Lead keyword',
    width: 180,
    kind: 'code',
    explain: 'The most searched keyword on the page',
    render: row => (
      <span title={String(row.lead ?? '')}>
        {row.lead === null ? <i className="unknown">no keyword yet</i> : String(row.lead)}
      </span>
    ),
  },
  {
    key: 'keywords',
    label: 'Keywords',
    width: 86,
    align: 'right',
    kind: 'number',
    explain: 'How many keywords stand on the page',
    exports: [
      { key: 'keywords', label: 'Keywords' },
      { key: 'keywordList', label: 'Which keywords' },
    ],
    render: row => n(row, 'keywords'),
  },
  {
    key: 'searches',
    label: 'Searches',
    width: 100,
    align: 'right',
    kind: 'number',
    explain: 'Summed searches a month of its keywords',
    render: row => {
      const value = n(row, 'searches')
      return value === null ? (
        unknown('No keyword of this page has known searches')
      ) : (
        <>
          {formatWhole(value)}
          {gap(row, 'searchesUnknown')}
        </>
      )
    },
  },
  {
    key: 'difficultyFrom',
    label: 'Difficulty',
    width: 100,
    align: 'right',
    kind: 'number',
    explain: 'Range of difficulty of its keywords',
    exports: [
      { key: 'difficultyFrom', label: 'Difficulty from' },
      { key: 'difficultyTo', label: 'Difficulty to' },
    ],
    render: row => {
      const from = n(row, 'difficultyFrom')
      const to = n(row, 'difficultyTo')
      return from === null || to === null
        ? unknown('None of its keywords is weighed in this market')
        : Math.round(from) === Math.round(to)
          ? Math.round(from)
          : `${Math.round(from)}–${Math.round(to)}`
    },
  },
  {
    key: 'cpc',
    label: 'CPC',
    width: 74,
    align: 'right',
    kind: 'number',
    explain: 'Mean CPC weighted by searches',
    render: row => {
      const value = n(row, 'cpc')
      return value === null ? unknown('No CPC is known') : formatMoney(value)
    },
  },
  {
    key: 'visits',
    label: 'Visits/mo',
    width: 100,
    align: 'right',
    kind: 'number',
    explain: 'Expected visits a month, from chances and the default click curve',
    render: row => {
      const value = n(row, 'visits')
      return value === null ? (
        unknown('None of its keywords is weighed in this market')
      ) : (
        <span>
          about {formatWhole(value)}
          {gap(row, 'visitsUnknown')}
        </span>
      )
    },
  },
  {
    key: 'address',
    label: 'Address',
    width: 176,
    kind: 'code',
    explain: 'Where the page is or will be',
    render: row => (
      <span className="quiet" title={String(row.address ?? '')}>
        {row.address === null ? '' : String(row.address)}
      </span>
    ),
  },
]
