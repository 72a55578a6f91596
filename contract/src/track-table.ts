import { featuresOf } from '@dew-trail/core/positions/page-features'
import { keywordVisibility } from '@dew-trail/core/positions/keyword-visibility'
import { positionChange, positionsGained } from '@dew-trail/core/positions/position-change'
import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { Market } from './sites.ts'
import type { z } from 'zod'
import type { listPositions, TrackedRow } from './track.ts'

/** Columns of the table of tracked keywords, by key; other markets' positions have columns of their own (`columnOf`). */
export const trackTable = {
  phrase: {
    key: 'phrase',
    label: 'Keyword',
    kind: 'text',
    explain: 'The keyword that is watched',
  },
  theme: {
    key: 'theme',
    label: 'Theme',
    kind: 'code',
    explain: 'The theme it is in by the current grouping of the market',
  },
  now: {
    key: 'now',
    label: 'Now',
    kind: 'number',
    unit: 'position',
    explain:
      'Place of your best page at the last check of this keyword; how many days before the last day that was, where it was not on it',
    exports: [
      { key: 'now', label: 'Now' },
      { key: 'age', label: 'Days before the last day' },
    ],
  },
  before: {
    key: 'before',
    label: 'Before',
    kind: 'number',
    unit: 'position',
    explain: 'Position so long before that check as is compared with',
  },
  anywhere: {
    key: 'anywhere',
    label: 'Best market',
    kind: 'number',
    unit: 'position',
    explain: 'The best of its last known positions in all markets of the language: within 10 in any market',
  },
  visible: {
    key: 'visible',
    label: 'Visibility',
    kind: 'number',
    unit: '0 to 100, over all markets',
    explain:
      'Visibility of this keyword over all markets of the language in which it was checked: the share of clicks at its place, first place being 100, on average',
  },
  visibleGained: {
    key: 'visibleGained',
    label: 'Its change',
    kind: 'number',
    unit: 'points',
    explain: 'Points of visibility gained or lost over all markets since the day compared with',
  },
  gained: {
    key: 'gained',
    label: 'Change',
    kind: 'number',
    unit: 'positions',
    explain: 'Places gained (up) or lost (down) since the day compared with',
  },
  change: {
    key: 'change',
    label: 'Movement',
    kind: 'code',
    explain: 'What happened since the day compared with',
  },
  nowValue: {
    key: 'nowValue',
    label: '1 · 3 · 10 · 30 · 100',
    kind: 'series',
    unit: 'position; below 0: not found within so many',
    explain: 'From the hollow dot (before) to the filled one (now); left is better',
  },
  recent: {
    key: 'recent',
    label: '30 days',
    kind: 'series',
    unit: 'position by day',
    explain: 'Places over the last 30 days, up is better',
  },
  best: {
    key: 'best',
    label: 'Best',
    kind: 'number',
    unit: 'position',
    explain: 'Best place of the last 30 days',
  },
  searches: {
    key: 'searches',
    label: 'Searches',
    kind: 'number',
    unit: 'searches a month',
    explain: 'Searches a month, from the ads data',
  },
  visits: {
    key: 'visits',
    label: 'Visits by place',
    kind: 'number',
    unit: 'visits a month',
    explain:
      'Visits a month that this place brings: searches × share of clicks there, by the same click curve as everywhere',
  },
  page: {
    key: 'page',
    label: 'Page found',
    kind: 'code',
    explain: 'The page of yours that was found',
  },
  shown: {
    key: 'shown',
    label: 'On the page',
    kind: 'code',
    explain: 'What the result page held besides results at the last check that told it',
  },
  held: {
    key: 'held',
    label: 'Holds',
    kind: 'code',
    explain: 'Where in those your site stood',
  },
  labels: { key: 'labels', label: 'Labels', kind: 'code', explain: 'Labels of the keyword' },
  trackedSince: {
    key: 'trackedSince',
    label: 'Tracked since',
    kind: 'code',
    explain: 'The day from which it is tracked',
  },
  planned: {
    key: 'planned',
    label: 'Planned page',
    kind: 'code',
    explain: 'The published page that the plan has for it, where another one is found',
  },
  note: {
    key: 'note',
    label: 'Note',
    kind: 'code',
    explain: 'What stands out',
  },
} satisfies Record<string, TableColumn>

/** Key of the column with the positions in a market. */
export const columnOf = (market: Pick<Market, 'id'>): string => `market${market.id}`
/** Key of the column with a rival's positions: widths of columns go by names of CSS, in which a point has no place. */
export const rivalColumnOf = (domain: string): string => `rival_${domain.replaceAll('.', '__')}`

type Positions = z.output<(typeof listPositions)['output']>

export function trackSpecs(markets: readonly Market[], rivals: readonly string[]): ColumnSpec[] {
  const beside = [...markets.map(columnOf), ...rivals.map(rivalColumnOf)]
  return [
    { key: 'phrase', kind: 'text' },
    { key: 'theme', kind: 'code' },
    { key: 'now', kind: 'number' },
    { key: 'nowValue', kind: 'number' },
    { key: 'age', kind: 'number' },
    { key: 'since', kind: 'code' },
    { key: 'before', kind: 'number' },
    { key: 'beforeValue', kind: 'number' },
    { key: 'anywhere', kind: 'number' },
    { key: 'shown', kind: 'code' },
    { key: 'held', kind: 'code' },
    { key: 'labels', kind: 'code' },
    { key: 'trackedSince', kind: 'code' },
    { key: 'planned', kind: 'code' },
    { key: 'change', kind: 'code' },
    { key: 'gained', kind: 'number' },
    { key: 'best', kind: 'number' },
    { key: 'recent', kind: 'series', length: 30 },
    { key: 'searches', kind: 'number' },
    { key: 'hidden', kind: 'flag' },
    { key: 'family', kind: 'number' },
    { key: 'visits', kind: 'number' },
    ...beside.flatMap(key => [key, `${key}Value`, `${key}Gained`]).map(key => ({ key, kind: 'number' as const })),
    { key: 'visible', kind: 'number' },
    { key: 'visibleGained', kind: 'number' },
    { key: 'page', kind: 'code' },
    { key: 'note', kind: 'code' },
  ]
}

/**
 * Rows `from` up to `to` of an answer. Places as numbers for sorting and conditions, not found as unknown; the raw day-vector values beside
 * them for drawing.
 */
export function trackBatch(
  { rows: all, others, rivals, lastDay }: Pick<Positions, 'rows' | 'others' | 'rivals' | 'lastDay'>,
  markets: readonly Market[],
  market: Pick<Market, 'id' | 'device'>,
  [from, to]: [from: number, to: number] = [0, all.length],
): Batch {
  const rows = all.slice(from, to)
  const position = (value: number): number | null => (value > 0 ? value : null)
  const changes = rows.map(row => positionChange(row.before, row.now))
  const answered = new Map(others.map(each => [each.marketId, each]))
  const deviceOf = new Map(markets.map(each => [each.id, each.device]))
  const visible = rows.map((row, i) =>
    keywordVisibility([
      { now: row.now, before: row.before, device: market.device },
      ...others.map(({ marketId, now, before }) => ({
        now: now[from + i]!,
        before: before[from + i]!,
        device: deviceOf.get(marketId) ?? market.device,
      })),
    ]),
  )
  const columnsBeside = (key: string, values: { now: number[]; before: number[] } | undefined) => {
    const [now, before] = [values?.now.slice(from, to), values?.before.slice(from, to)]
    return {
      [key]: rows.map((_, i) => position(now?.[i] ?? 0)),
      [`${key}Value`]: rows.map((_, i) => now?.[i] ?? 0),
      [`${key}Gained`]: rows.map((_, i) => positionsGained(positionChange(before?.[i] ?? 0, now?.[i] ?? 0))),
    }
  }
  return {
    ids: rows.map(row => row.id),
    columns: {
      phrase: rows.map(row => row.phrase),
      theme: rows.map(row => row.theme),
      now: rows.map(row => position(row.now)),
      nowValue: rows.map(row => row.now),
      age: rows.map(row => (row.nowDay && lastDay ? daysBetween(row.nowDay, lastDay) : null)),
      since: rows.map(row => row.beforeDay),
      before: rows.map(row => position(row.before)),
      beforeValue: rows.map(row => row.before),
      anywhere: rows.map((row, i) => {
        const found = [row.now, ...others.map(each => each.now[from + i]!)].filter(value => value > 0)
        return found.length ? Math.min(...found) : null
      }),
      visible: visible.map(each => each.now),
      visibleGained: visible.map(each => each.change),
      shown: rows.map(row => (row.shown === null ? null : featuresOf(row.shown).join('|') || 'nothing')),
      held: rows.map(row => (row.held === null ? null : featuresOf(row.held).join('|') || 'nothing')),
      labels: rows.map(row => row.labels),
      trackedSince: rows.map(row => row.trackedSince),
      planned: rows.map(row => row.planned),
      change: changes.map(change => change.kind),
      gained: changes.map(positionsGained),
      best: rows.map(row => row.best),
      recent: rows.map(row => row.recent),
      searches: rows.map(row => row.searches),
      hidden: rows.map(row => row.hidden),
      family: rows.map(row => row.family),
      visits: rows.map(row => row.visits),
      ...Object.assign({}, ...markets.map(each => columnsBeside(columnOf(each), answered.get(each.id)))),
      ...Object.assign({}, ...rivals.map(each => columnsBeside(rivalColumnOf(each.domain), each))),
      page: rows.map(row => row.page),
      note: rows.map(noteOf),
    },
  }
}

const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)

/** Whether two addresses are of two pages: not so when only the scheme or a tracking parameter differs. */
const isOther = (a: string, b: string): boolean => a !== b && (pageIdentity(a) ?? a) !== (pageIdentity(b) ?? b)

/** What stands out about a row, in a few words. */
function noteOf(row: TrackedRow): string | null {
  const { now, before } = row
  if (row.planned !== null) return 'wrong page'
  if (now > 0 && before > 0 && row.pageBefore && row.page && isOther(row.pageBefore, row.page)) return 'page changed'
  if (now > 0 && now <= 10 && (before < 0 || before > 10)) return 'entered top 10'
  if (before > 0 && before <= 10 && (now < 0 || now > 10)) return 'left top 10'
  if (before > 0 && before <= 30 && (now < 0 || now > 30)) return 'left top 30'
  return null
}
