import { describe, expect, test } from 'vitest'
import { pageVisits } from './page-visits.ts'
import { subjectChances } from './subject-chance.ts'

const unknown = Number.NaN
const all = (list: readonly unknown[]) => list.map((_, i) => i)

describe('chances around keywords', () => {
  const phrases = [
    'raku kiln price',
    'raku kiln cost',
    'raku kiln',
    'small raku kiln',
    'clay mug',
    'blue clay mug',
    'lathe',
  ]
  test('a single chance moves towards those of similar keywords, and others leave it alone', () => {
    const chances = [0.1, 0.9, 0.9, 0.9, 0.2, 0.2, 0.7]
    const around = subjectChances(phrases, chances, 'en', all(phrases))
    expect(around[0]!).toBeGreaterThan(0.4)
    expect(around[0]!).toBeLessThan(0.9)
    expect(around[1]!).toBeLessThan(0.9)
    expect(around[4]!).toBeCloseTo(0.2, 12)
    expect(around[6]!).toBeCloseTo(0.7, 12)
    // Any order, any choice: the same figures.
    expect([...subjectChances(phrases, chances, 'en', [4, 0])]).toEqual([around[4], around[0]])
  })
  test('one whose own chance is unknown has that of what is around it; where nothing is, it stays unknown', () => {
    const around = subjectChances(phrases, [unknown, 0.8, 0.8, 0.8, unknown, unknown, unknown], 'en', all(phrases))
    expect(around[0]!).toBeCloseTo(0.8, 12)
    expect(around[4]).toBeNaN()
  })
  test('forms of a word are one word', () => {
    expect(subjectChances(['kilns', 'kiln'], [unknown, 0.6], 'en', [0])[0]!).toBeCloseTo(0.6, 12)
  })
  test('a word that thousands have is looked at in steps, and the average is near that of all', () => {
    const many = Array.from({ length: 5_000 }, (_, i) => `kiln part${i % 20}`)
    const chances = many.map((_, i) => (i % 100) / 100)
    const started = subjectChances([...many, 'kiln part7'], [...chances, unknown], 'en', [5_000])
    expect(Math.abs(started[0]! - 0.47)).toBeLessThan(0.06)
  })
})

describe('visits of a page', () => {
  test('half from its own estimate, half from the mean, and what pages bring besides; the mean stays', () => {
    expect([...pageVisits([300, 100], [0.5, 0.5], 50)]).toEqual([300, 200])
    const visits = pageVisits([300, 100, 20], [0.9, 0.4, 0.1], 50)
    expect(visits[0]! / visits[2]!).toBeGreaterThan(27)
    expect(pageVisits([140, 140], [0.9, 0.1], 60).reduce((sum, each) => sum + each, 0) / 2).toBeCloseTo(200, 9)
  })
  test('unknown stays unknown; unknown chances around count as the mean', () => {
    const visits = pageVisits([unknown, 100, 100], [0.5, unknown, 0.5], 0)
    expect([...visits]).toEqual([unknown, 100, 100])
    expect([...pageVisits([unknown], [unknown], 9)]).toEqual([unknown])
    expect([...pageVisits([80], [0], 20)]).toEqual([100])
  })
})
