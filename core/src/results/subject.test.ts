import { describe, expect, test } from 'vitest'
import { subjectShares, subjectWords } from './subject.ts'

const result = (title: string, snippet = '', i = 0) => ({ title, snippet, url: `https://site-${i}.example/` })
const page = [
  ...Array.from({ length: 5 }, (_, i) => result(`Kiln furniture, part ${i}`)),
  result('Best posts for kilns'),
  result('Furniture of oak', 'Not for a kiln.'),
  result('Plates'),
]

describe('the subject of a keyword', () => {
  test('is those of its words that a quarter of the titles have, in any form', () => {
    expect([...subjectWords('best furniture for a kiln', page, 'en')].sort()).toEqual(['furnitur', 'kiln'])
    expect(subjectWords('best furniture for a kiln', page, 'en').has('best')).toBe(false)
  })
  test('only the first twenty tell it', () => {
    const late = [...Array.from({ length: 20 }, () => result('Plates')), ...page]
    expect(subjectWords('kiln furniture', late, 'en').size).toBe(0)
  })
  test('a result has the share of it that its title or snippet names', () =>
    expect(subjectShares('best kiln furniture', page, 'en').slice(4)).toEqual([100, 50, 100, 0]))
  test('is unknown where no word is in enough titles, and without results', () => {
    expect(subjectShares('glaze', page, 'en')).toEqual(page.map(() => null))
    expect(subjectShares('glaze', [], 'en')).toEqual([])
    expect(subjectWords('glaze', [], 'en').size).toBe(0)
  })
})
