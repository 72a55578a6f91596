import { describe, expect, test } from 'vitest'
import { kindGroups } from './kind-groups.ts'

const of = (...list: Array<[phrase: string, weight: number | null]>) =>
  list.map(([phrase, weight], id) => ({ id, phrase, weight }))
const shown = (groups: ReturnType<typeof kindGroups<ReturnType<typeof of>[number]>>) =>
  groups.map(({ word, phrases, weight }) => [word, weight, phrases.map(each => each.phrase)])

describe('phrases under the words that make them of a kind', () => {
  test('questions, most searched words first, unknown searches neither zero nor lost', () => {
    const phrases = of(
      ['how hot is a kiln', 20],
      ['what is a kiln', 50],
      ['how to load a kiln', null],
      ['why a kiln', null],
    )
    expect(shown(kindGroups(phrases, 'question', 'en', 'kiln'))).toEqual([
      ['what', 50, ['what is a kiln']],
      ['how', 20, ['how hot is a kiln', 'how to load a kiln']],
      ['why', null, ['why a kiln']],
    ])
  })
  test('comparisons by what compares, wherever it stands', () => {
    const phrases = of(['kiln vs oven', 5], ['difference between kiln and oven', 3], ['gas or electric kiln', 9])
    expect(shown(kindGroups(phrases, 'comparison', 'en', null)).map(([word]) => word)).toEqual([
      'or',
      'vs',
      'difference',
    ])
  })
  test('prepositions, in German too', () => {
    expect(shown(kindGroups(of(['ofen für ton', 5], ['ton ohne ofen', 7]), 'preposition', 'de', null))).toEqual([
      ['ohne', 7, ['ton ohne ofen']],
      ['für', 5, ['ofen für ton']],
    ])
  })
  test('all others by the first letter of what they have beside the seed', () => {
    const phrases = of(['kiln shelf', 5], ['small kiln', 1], ['kiln', 2], ['raku kiln', 3])
    expect(shown(kindGroups(phrases, 'completion', 'en', 'kiln'))).toEqual([
      ['S', 6, ['kiln shelf', 'small kiln']],
      ['R', 3, ['raku kiln']],
      ['K', 2, ['kiln']],
    ])
    expect(shown(kindGroups(of(['kiln shelf', 5]), 'related', 'en', null))[0]![0]).toBe('K')
  })
})
