import type { TrackedRow } from '@dew-trail/contract/track'

/** A tracked keyword for tests, of which nothing is known yet. */
export const madeRow = (id: number, phrase: string, more: Partial<TrackedRow> = {}): TrackedRow => ({
  id,
  phrase,
  family: id,
  searches: null,
  hidden: false,
  now: 0,
  nowDay: null,
  before: 0,
  beforeDay: null,
  best: null,
  recent: [],
  visits: null,
  page: null,
  pageBefore: null,
  theme: null,
  shown: null,
  held: null,
  trackedSince: '2026-01-01',
  labels: null,
  planned: null,
  ...more,
})
