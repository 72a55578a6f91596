import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { Find } from './finds.ts'
import { columnsOf, specsOf } from './table-batch.ts'

/** Columns of what a list of sites, pages or links holds. */
export const findTable = {
  what: { key: 'what', label: 'Find', kind: 'text', explain: 'The site, the page, or the page that the link is on' },
  target: { key: 'target', label: 'Leads to', kind: 'code', explain: 'Where the link leads' },
  domain: { key: 'domain', label: 'Site', kind: 'code', explain: 'The site it is of' },
  standing: {
    key: 'standing',
    label: 'Standing',
    kind: 'number',
    unit: '0 to 100',
    explain: 'Standing of the site by the latest ranking of the graph',
  },
  linkingSites: {
    key: 'linkingSites',
    label: 'Linking sites',
    kind: 'number',
    unit: 'sites',
    explain: 'How many sites link to that site, as far as our graph knows',
  },
  linksToOwn: {
    key: 'linksToOwn',
    label: 'Links to you',
    kind: 'flag',
    explain: 'Whether our graph knows a link of the site to yours',
  },
  remark: { key: 'remark', label: 'Remark', kind: 'code', explain: 'What you wrote down' },
  addedOn: { key: 'addedOn', label: 'Put on', kind: 'code', unit: 'day', explain: 'When it was put on the list' },
} satisfies Record<string, TableColumn>
export const findSpecs: ColumnSpec[] = specsOf(findTable)
export const findBatch = (rows: readonly Find[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(findTable) as Array<keyof typeof findTable>),
})
