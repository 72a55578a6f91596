import type { PlannedPage } from '@dew-trail/contract/plan'

/** A planned page for tests: an idea of which nothing is known yet. */
export const madePage = (more: Partial<PlannedPage> = {}): PlannedPage => ({
  id: 4,
  title: 'Choosing a kiln',
  address: '/guides/kilns',
  existing: false,
  deadline: null,
  state: 'idea',
  remarks: '',
  version: 1,
  late: false,
  searches: null,
  searchesUnknown: 0,
  visits: null,
  visitsUnknown: 0,
  difficultyFrom: null,
  difficultyTo: null,
  cpc: null,
  themes: [],
  keywords: [],
  ...more,
})
