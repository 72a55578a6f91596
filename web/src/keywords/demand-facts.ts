import type { DemandFacts } from '@dew-trail/core/demand/explain-demand'
import type { Row } from '../rows/row-source.ts'

const n = (row: Row, key: string): number | null => row[key] as number | null
const s = (row: Row, key: string): string => (row[key] as string | null) ?? ''

/** What the core needs of a row to explain its demand. */
export const demandFacts = (row: Row): DemandFacts => ({
  months: Array.isArray(row.months) && row.months.some(month => month !== null) ? row.months : null,
  searches: n(row, 'searches'),
  hidden: row.hidden === true,
  low: n(row, 'searchesLow'),
  high: n(row, 'searchesHigh'),
  rounded: row.rounded === null ? null : row.rounded === 'yes',
  state: s(row, 'demandState'),
  source: s(row, 'demandSource'),
  date: (row.demandDate as string | null) ?? null,
  trend: (row.trend as DemandFacts['trend']) ?? null,
  yearly: n(row, 'yearly'),
  season: n(row, 'season'),
  peaks: s(row, 'peaks').split('|').filter(Boolean).map(Number),
  logSearches: n(row, 'logSearches'),
  logImpressions: n(row, 'logImpressions'),
  logPosition: n(row, 'logPosition'),
})
