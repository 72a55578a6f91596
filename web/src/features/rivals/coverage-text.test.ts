import { expect, test } from 'vitest'
import { coverageText } from './coverage-text.ts'

const nothing = { keywords: 0, fed: 0, from: null, to: null, depth: 0, sources: [], notFed: [] }

test('a site of which nothing is known yet has a coverage that says so', () => {
  expect(coverageText(nothing)).toBe('No results are known in this market yet')
})
test('fetched results are told with their days, the feed beside them', () => {
  const fetched = { ...nothing, keywords: 1_200, from: '2026-11-03', to: '2026-11-20', depth: 20 }
  expect(coverageText(fetched)).toBe(
    'Results of 1,200 keywords fetched, Nov 3 to Nov 20, 2026, up to 20 deep; rankings feed not loaded',
  )
  expect(coverageText({ ...fetched, from: '2026-11-20' })).toContain('fetched, Nov 20, 2026, up to')
})
