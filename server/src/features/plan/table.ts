import { planBatch, planSpecs, planTable } from '@dew-trail/contract/plan-table'
import type { Table } from '../../platform/tables/table.ts'
import { listPlannedPages } from './list-pages.ts'

export const planPagesTable: Table = async ({ pool }, siteId, marketId) => ({
  title: 'Plan',
  columns: Object.values(planTable),
  specs: planSpecs,
  async *batches() {
    yield planBatch(await listPlannedPages(pool, siteId, marketId, new Date().toISOString().slice(0, 10)))
  },
})
