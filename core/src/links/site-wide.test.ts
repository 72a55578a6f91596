import { expect, test } from 'vitest'
import { isSiteWide } from './site-wide.ts'

const links = { pages: 40, knownPages: 400, samePages: 38, links: 40, framed: 0, placed: 0 }
test.each([
  ['one link in the footer of many pages', { framed: 38, placed: 40 }, true],
  ['one link on most known pages', { knownPages: 60 }, true],
  ['one link on some pages, nobody saw where', {}, false],
  ['many links, each another', { samePages: 4, framed: 40, placed: 40 }, false],
  ['one link among many others', { samePages: 10, framed: 40, placed: 40 }, false],
  ['in the text of the pages', { framed: 2, placed: 40 }, false],
  ['a site of four pages', { pages: 4, knownPages: 4, samePages: 4, framed: 4, placed: 4 }, false],
])('%s: %j is site-wide: %s', (_, more, is) => expect(isSiteWide({ ...links, ...more })).toBe(is))
