import { expect, test } from 'vitest'
import { siteKind } from './site-kind.ts'

const look = (domain: string, more: Partial<Parameters<typeof siteKind>[0]> = {}) =>
  siteKind({ domain, title: '', text: '', paths: [], ...more })

test.each([
  ['north-college.example', 'school'],
  ['stadt.gov', 'public'],
  ['hilltown-council.example', 'public'],
  ['hilltownherald.example', 'news'],
  ['wheelforum.example', 'forum'],
  ['potfinder.example', 'directory'],
  ['claybazaar.example', 'marketplace'],
  ['slipweekly.example', 'magazine'],
  ['myclayblog.example', 'blog'],
  ['plainname.example', 'other'],
])('%s looks like: %s', (domain, kind) => {
  expect(look(domain).kind).toBe(kind)
})
test('pages and texts speak where the name does not, and say so', () => {
  expect(look('kilns.example', { paths: ['/shop/a', '/shop/b', '/about'] })).toEqual({
    kind: 'shop',
    reasons: ['pages are products'],
  })
  expect(look('kilns.example', { text: 'This address may be for sale.' }).kind).toBe('parked')
  expect(look('kilns.example', { paths: ['/a', '/b', '/c', '/shop/d'] }).kind).toBe('other')
})
test('several signs add up', () => {
  const guess = look('clayschool.example', { title: 'Clay School', paths: ['/shop/a'] })
  expect(guess.kind).toBe('school')
  expect(guess.reasons).toEqual(['domain names a school', 'title names a school'])
})
test('who writes and sells nothing has a blog, unless the name says more', () => {
  const paths = ['/', '/guides/cone-chart', '/guides/pinch-pots', '/all/1']
  expect(look('dustandwater.example', { paths })).toEqual({ kind: 'blog', reasons: ['pages are articles'] })
  expect(look('slipweekly.example', { paths }).kind).toBe('magazine')
  expect(look('kilns.example', { paths: [...paths, '/shop/a', '/shop/b', '/shop/c'] }).kind).toBe('shop')
})
