import { expect, test } from 'vitest'
import { readTarget } from './target.ts'

test.each([
  ['clay.example', 'site', 'clay.example', 'clay.example'],
  [' https://www.Clay.example ', 'site', 'clay.example', 'clay.example'],
  ['shop.clay.example', 'host', 'clay.example', 'shop.clay.example'],
  ['clay.example/guides/*', 'folder', 'clay.example', 'clay.example/guides/'],
  ['http://clay.example/guides/', 'folder', 'clay.example', 'clay.example/guides/'],
  ['https://clay.example/guides/kiln?utm_source=x#top', 'page', 'clay.example', 'clay.example/guides/kiln'],
  ['clay.example/', 'page', 'clay.example', 'clay.example/'],
])('%j is a %s', (text, kind, domain, match) => expect(readTarget(text)).toEqual({ kind, domain, match }))

test.each(['', 'kiln', 'two words.example', 'http://', '-a.example', 'a..example'])('%j is nothing to look at', text =>
  expect(readTarget(text)).toBeNull(),
)
