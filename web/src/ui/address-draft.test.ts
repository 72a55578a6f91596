import { expect, test } from 'vitest'
import { AddressDraft } from './address-draft.ts'

const shown = (search: string, pathname = '/1/gather') => ({ pathname, search })

test('two changes before the first has arrived are both kept', () => {
  const draft = new AddressDraft()
  expect(draft.change(shown('?sort=a'), params => params.append('where', 'x'))).toBe('sort=a&where=x')
  expect(draft.change(shown('?sort=a'), params => params.set('as', 'tree'))).toBe('sort=a&where=x&as=tree')
})
test('an earlier change arriving does not drop the later one', () => {
  const draft = new AddressDraft()
  draft.change(shown(''), params => params.set('a', '1'))
  draft.change(shown(''), params => params.set('b', '2'))
  draft.arrived(shown('?a=1'), false)
  expect(draft.change(shown('?a=1'), params => params.set('c', '3'))).toBe('a=1&b=2&c=3')
})
test('after arrival, the back button or another page the address shown counts', () => {
  const draft = new AddressDraft()
  draft.change(shown(''), params => params.set('a', '1'))
  draft.arrived(shown('?a=1'), false)
  expect(draft.change(shown('?z=9'), params => params.set('b', '2'))).toBe('z=9&b=2')
  draft.arrived(shown('?old=1'), true)
  expect(draft.change(shown('?old=1'), params => params.set('c', '3'))).toBe('old=1&c=3')
  expect(draft.change(shown('?p=1', '/1/plan'), params => params.set('d', '4'))).toBe('p=1&d=4')
})
