import { evidenceWords } from '@dew-trail/core/positions/reason-words'
import type { Evidence } from '@dew-trail/core/positions/likely-reason'
import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { MovedKeyword } from './track-changes.ts'

/** Columns of the table of keywords that moved, by key. */
export const changeTable = {
  phrase: { key: 'phrase', label: 'Keyword', kind: 'text', explain: 'A keyword that moved beyond its usual' },
  before: {
    key: 'before',
    label: 'Before',
    kind: 'number',
    unit: 'position',
    explain: 'Last known position on the day compared with',
  },
  now: { key: 'now', label: 'Now', kind: 'number', unit: 'position', explain: 'Last known position' },
  gained: {
    key: 'gained',
    label: 'Change',
    kind: 'number',
    unit: 'positions',
    explain: 'Places gained, or lost (below 0); not found counts as one beyond the depth that was looked at',
  },
  usual: {
    key: 'usual',
    label: 'Usual',
    kind: 'number',
    unit: 'positions',
    explain:
      'How much it moves anyway: 2.5 robust deviations of its daily changes in the 28 days before, at least one place',
  },
  visits: {
    key: 'visits',
    label: 'Visits won',
    kind: 'number',
    unit: 'visits a month',
    explain: 'Visits a month won, or lost (below 0), by the same click curve as everywhere',
  },
  searches: {
    key: 'searches',
    label: 'Searches',
    kind: 'number',
    unit: 'searches a month',
    explain: 'Searches a month, from the ads data',
  },
  reason: {
    key: 'reason',
    label: 'Likely reason',
    kind: 'code',
    explain: 'What fits the movement best in time and extent',
  },
  share: {
    key: 'share',
    label: 'Likely',
    kind: 'number',
    unit: '%',
    explain: 'Its weight among all that fits and "unknown": how well time and extent match, not a probability',
  },
  evidence: {
    key: 'evidence',
    label: 'What speaks for it',
    kind: 'code',
    explain: 'The evidence for the likely reason',
  },
  page: { key: 'page', label: 'Page found', kind: 'code', explain: 'The page of yours that is found now' },
} satisfies Record<string, TableColumn>

export const changeSpecs: ColumnSpec[] = [
  { key: 'phrase', kind: 'text' },
  { key: 'before', kind: 'number' },
  { key: 'beforeValue', kind: 'number' },
  { key: 'now', kind: 'number' },
  { key: 'nowValue', kind: 'number' },
  { key: 'gained', kind: 'number' },
  { key: 'usual', kind: 'number' },
  { key: 'visits', kind: 'number' },
  { key: 'searches', kind: 'number' },
  { key: 'reason', kind: 'code' },
  { key: 'share', kind: 'number' },
  { key: 'evidence', kind: 'code' },
  { key: 'page', kind: 'code' },
]

/** Positions as numbers, not found as unknown; the raw day-vector values beside them for drawing. */
export function changeBatch(rows: readonly MovedKeyword[]): Batch {
  const position = (value: number): number | null => (value > 0 ? value : null)
  return {
    ids: rows.map(row => row.keywordId),
    columns: {
      phrase: rows.map(row => row.phrase),
      before: rows.map(row => position(row.before)),
      beforeValue: rows.map(row => row.before),
      now: rows.map(row => position(row.now)),
      nowValue: rows.map(row => row.now),
      gained: rows.map(row => row.gained),
      usual: rows.map(row => row.usual),
      visits: rows.map(row => row.visits),
      searches: rows.map(row => row.searches),
      reason: rows.map(row => row.reasons[0]!.kind),
      // What is left of all that fits says nothing about a reason that nobody knows.
      share: rows.map(({ reasons: [first] }) => (first!.kind === 'unknown' ? null : 100 * first!.share)),
      evidence: rows.map(({ reasons: [first, second] }) =>
        first!.kind === 'unknown' && second
          ? `Nothing fits well; at best: ${evidenceWords(second.evidence as Evidence | null)}`
          : evidenceWords(first!.evidence as Evidence | null),
      ),
      page: rows.map(row => row.page),
    },
  }
}
