import { expect, test } from 'vitest'
import { anchorLanguage, usualLanguages } from './anchor-language.ts'

test('words tell their language where linking pages are written in it, other letters in any case', () => {
  const among = new Set(['en', 'de'])
  expect(anchorLanguage('beste Töpferscheibe für Anfänger', among)).toBe('de')
  expect(anchorLanguage('buy a pottery wheel', among)).toBe('en')
  expect(anchorLanguage('buy a pottery wheel', new Set(['de']))).toBeNull()
  expect(anchorLanguage('דפים על קדרות', among)).toBe('he')
  expect(anchorLanguage('مقال عن الفخار', among)).toBe('ar')
  expect(anchorLanguage('12 – 14', among)).toBeNull()
  expect(anchorLanguage('', among)).toBeNull()
})
test('a language of fewer than a hundredth of the links is not a usual one', () => {
  expect(
    usualLanguages(
      new Map([
        ['en', 950],
        ['de', 45],
        ['hr', 5],
      ]),
    ),
  ).toEqual(new Set(['en', 'de']))
  expect(usualLanguages(new Map())).toEqual(new Set())
})
