import { expect, test } from 'vitest'
import { familyKey } from './family-key.ts'
import { factsOf, isNumber } from './word-facts.ts'

test('facts depend on the language', () => {
  expect(factsOf('für', 'de')).toMatchObject({ idle: true, preposition: true, question: false })
  expect(factsOf('für', 'en')).toMatchObject({ idle: false, preposition: false })
  expect(factsOf('wheels', 'en').stem).toBe('wheel')
  expect(factsOf('wheels', 'xx').stem).toBe('wheels')
})

test('a word is looked up once, a number is not kept', () => {
  expect(factsOf('glazing', 'en')).toBe(factsOf('glazing', 'en'))
  expect(factsOf('glazing', 'en')).toMatchObject({ activity: true, comparison: false })
  expect(factsOf('2026', 'en')).toEqual({ ...factsOf('7', 'en'), stem: '2026', plain: '2026' })
})

test.each([
  ['0', true],
  ['2026', true],
  ['v60', false],
  ['6v', false],
])('%s is a number: %s', (word, is) => expect(isNumber(word)).toBe(is))

test('a family has each stem once, in order, whatever the order of the words', () => {
  expect(familyKey('wheels clay wheel b a kiln', 'xx')).toBe('a b clay kiln wheel wheels')
  expect(familyKey('wheels clay wheel kilns the kiln', 'en')).toBe('clay kiln wheel')
  expect(familyKey('', 'en')).toBe('')
})
