import { expect, test } from 'vitest'
import { oddAnchor } from './odd-anchor.ts'

test.each([
  [
    { kind: 'exact', named: false, sites: 12, networkSites: 0, ofSites: 60 },
    "20 % of the linking sites use these same words, which are not the site's name",
  ],
  [{ kind: 'brand', named: true, sites: 40, networkSites: 1, ofSites: 60 }, null],
  [{ kind: 'exact', named: false, sites: 4, networkSites: 0, ofSites: 6 }, null],
  [
    { kind: 'other', named: false, sites: 6, networkSites: 4, ofSites: 300 },
    '4 of its 6 sites are of suspected networks',
  ],
  [{ kind: 'partial', named: true, sites: 20, networkSites: 0, ofSites: 60 }, null],
  [{ kind: 'generic', named: false, sites: 50, networkSites: 2, ofSites: 60 }, null],
] as const)('%j: %s', (use, says) => expect(oddAnchor({ ...use, foreign: null })).toBe(says))

test.each([
  [{ language: 'de', pages: 'en', links: 4, of: 6 }, 'in German on 4 pages in English'],
  [{ language: 'he', pages: 'en', links: 3, of: 3 }, 'in Hebrew on 3 pages in English'],
  [{ language: 'de', pages: 'en', links: 2, of: 2 }, null],
  [{ language: 'de', pages: 'en', links: 4, of: 9 }, null],
] as const)('words in another language than their pages: %j: %s', (foreign, says) => {
  const use = { kind: 'other', named: false, sites: 4, networkSites: 0, ofSites: 90, foreign } as const
  expect(oddAnchor(use)).toBe(says)
  expect(oddAnchor({ ...use, named: true })).toBeNull()
})
