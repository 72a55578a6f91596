import { expect, test } from 'vitest'
import { textChange } from './text-change.ts'

test('what part of a text is another than before', () => {
  expect(textChange('', '')).toBe(0)
  expect(textChange('A kiln, small.', 'small a KILN')).toBe(0)
  expect(textChange('one two three four', 'one two three five')).toBe(0.25)
  expect(textChange('one two', 'one two one two one two')).toBe(0.5)
  expect(textChange('', 'anything')).toBe(1)
  expect(textChange('Ton brennen', 'Glasur mischen')).toBe(1)
})
