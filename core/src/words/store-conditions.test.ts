import { describe, expect, test } from 'vitest'
import { readSeed, type StoreConditions, unmetCondition, wantsFigures } from './store-conditions.ts'

const all: StoreConditions = { must: [], leaveOut: [], searches: null, cpc: null, wordsFrom: null, wordsTo: null }
const none = { searches: null, cpc: null }

describe('conditions before storing', () => {
  test.each([
    ['cheap pottery wheel', { leaveOut: ['cheap'] }, none, 'left-out words'],
    ['cheaper pottery wheel', { leaveOut: ['cheap'] }, none, null],
    ['second hand kiln', { leaveOut: ['second hand'] }, none, 'left-out words'],
    ['hand made second kiln', { leaveOut: ['second hand'] }, none, null],
    ['pottery wheel', { must: ['kids'] }, none, 'must-have words'],
    ['kids pottery wheel', { must: ['kids'] }, none, null],
    ['kiln shelves', { must: ['shelf'] }, none, null],
    ['glazing a mug', { must: ['glazes'] }, none, null],
    ['second hands kiln', { must: ['second hand'] }, none, null],
    ['hand made second kiln', { must: ['second hand'] }, none, 'must-have words'],
    ['drinking glasses', { must: ['glass'] }, none, 'must-have words'],
    ['kiln', { wordsFrom: 2 }, none, 'number of words'],
    ['a b c d', { wordsTo: 3 }, none, 'number of words'],
    ['kiln', { searches: 50 }, { searches: 49, cpc: null }, 'searches'],
    ['kiln', { searches: 50 }, { searches: null, cpc: null }, null],
    ['kiln', { searches: 0 }, { searches: 0, cpc: null }, null],
    ['kiln', { cpc: 1 }, { searches: 9, cpc: 0.5 }, 'CPC'],
  ] as const)('%s with %j and %j → %s', (phrase, conditions, figures, expected) =>
    expect(unmetCondition(phrase, figures, { ...all, ...conditions }, 'en')).toBe(expected),
  )
  test('only thresholds above 0 want figures', () => {
    expect(wantsFigures(all)).toBe(false)
    expect(wantsFigures({ ...all, searches: 0 })).toBe(false)
    expect(wantsFigures({ ...all, cpc: 0.1 })).toBe(true)
  })
})

describe('a seed with words of its own', () => {
  test.each([
    ['Pottery  Wheel', { seed: 'pottery wheel', must: [], leaveOut: [] }],
    [
      'pottery wheel +beginner -used -"second hand"',
      { seed: 'pottery wheel', must: ['beginner'], leaveOut: ['used', 'second hand'] },
    ],
    ['air-dry clay', { seed: 'air-dry clay', must: [], leaveOut: [] }],
    ['-used', { seed: '', must: [], leaveOut: ['used'] }],
  ])('%s', (text, expected) => expect(readSeed(text)).toEqual(expected))
})
