import { describe, expect, test } from 'vitest'
import { readDate, readNumber, readPosition } from './read-cells.ts'
import { suggestMapping } from './suggest-mapping.ts'

describe('numbers as people write them', () => {
  test.each([
    ['0', 0],
    ['2', 2],
    ['222', 222],
    ['2.2', 2.2],
    ['1,300', 1300],
    ['1.300,50', 1300.5],
    ['1,300.50', 1300.5],
    ['0,84', 0.84],
    ['1.250', 1.25],
    ['1.234.567', 1234567],
    ['1 300', 1300],
    ['1\u00a0300', 1300],
    ['1\u202f300', 1300],
    ["1'300", 1300],
    ['£1.84', 1.84],
    ['1,84 €', 1.84],
    ['12%', 0.12],
    ['-5', -5],
    ['.5', 0.5],
    ['0,300', 0.3],
    ['-0,125', -0.125],
    ['1e-7', 1e-7],
    ['2.5E3', 2500],
    ['\u22125', -5],
    ['\u2212 1,300', -1300],
  ])('%j is %d', (text, value) => expect(readNumber(text)).toEqual({ value }))
  test('a point before three digits parts thousands where whole numbers are counted', () => {
    expect(readNumber('1.300', true)).toEqual({ value: 1300 })
    expect(readNumber('12.5', true)).toEqual({ value: 12.5 })
  })
  test.each(['', ' ', '-', '–', 'n/a', 'NULL', 'unknown', '(not set)'])('%j is unknown, not zero', text =>
    expect(readNumber(text)).toEqual({ value: null }),
  )
  test.each([
    ['9'.repeat(46), 'is above 2,000,000,000'],
    ['99999999999999', 'is above 2,000,000,000'],
    ['-3', 'is below 0'],
    ['1e300', 'is above 2,000,000,000'],
  ])('%j is out of range', (text, wrong) => expect(readNumber(text, true, 0)).toEqual({ wrong }))
  test.each(['many', '1,2,3', '1.2.3', '--5', '5e'])('%j is not a number', text =>
    expect(readNumber(text)).toHaveProperty('wrong'),
  )
  test('every whole number to 3,000 comes back', () => {
    for (let n = 0; n <= 3_000; n++) expect(readNumber(String(n), true)).toEqual({ value: n })
  })
})

describe('dates', () => {
  test.each([
    ['2026-11-23', '2026-11-23'],
    ['2026/1/5', '2026-01-05'],
    ['5.1.2026', '2026-01-05'],
    ['2026-11-23 06:10', '2026-11-23'],
    ['2026-11-23T06:10:00Z', '2026-11-23'],
    ['2028-02-29', '2028-02-29'],
  ])('%j is %s', (text, value) => expect(readDate(text)).toEqual({ value }))
  test.each(['', '2026-13-01', '2026-02-30', '23/11/2026', 'yesterday', '1.1.26'])('%j is none', text =>
    expect(readDate(text)).toHaveProperty('wrong'),
  )
  test.each([
    ['0001-01-01', 'lies before 1990-01-01'],
    ['9999-12-31', 'lies after 2100-12-31'],
  ])('%j is out of range', (text, wrong) => expect(readDate(text)).toEqual({ wrong }))
  test('a day after the latest lies in the future', () => {
    expect(readDate('2026-11-30', '2026-11-30')).toEqual({ value: '2026-11-30' })
    expect(readDate('2026-12-01', '2026-11-30')).toEqual({ wrong: 'lies in the future' })
  })
})

describe('places', () => {
  test.each([
    ['1', 1],
    ['57', 57],
    ['>100', -100],
    ['> 50', -50],
    ['100+', -100],
    ['not found', -100],
    ['', 0],
    ['–', 0],
  ])('%j is %d', (text, value) => expect(readPosition(text)).toEqual({ value }))
  test.each(['0', '-3', '1.5', 'first', '>0', '1001'])('%j is none', text =>
    expect(readPosition(text)).toHaveProperty('wrong'),
  )
})

describe('columns', () => {
  test('are proposed by their names, each once', () => {
    expect(suggestMapping('keywords', ['Note', 'Search volume', 'Query', 'Cost per click'])).toEqual({
      phrase: 2,
      searches: 1,
      cpc: 3,
    })
    expect(suggestMapping('positions', ['Date', 'Keyword', 'Search engine', 'Rank', 'Landing page'])).toEqual({
      date: 0,
      phrase: 1,
      engine: 2,
      position: 3,
      url: 4,
    })
    expect(suggestMapping('keywords', ['a', 'b'])).toEqual({})
  })
})
