import { describe, expect, test } from 'vitest'
import { explainSplit, plainOrganicShare, splitClicks } from './click-split.ts'

const nothing = { answer: false, questions: 0, images: false, shopping: 0, map: 0, ads: 0 }

describe('split of clicks', () => {
  test('sums to one for every mixture of parts', () => {
    for (let bits = 0; bits < 64; bits++) {
      const on = (bit: number): boolean => (bits & (1 << bit)) > 0
      const split = splitClicks(
        {
          answer: on(0),
          questions: on(1) ? 4 : 0,
          images: on(2),
          shopping: on(3) ? 12 : 0,
          map: on(4) ? 3 : 0,
          ads: on(5) ? 4 : 0,
        },
        bits % 2 ? 'mobile' : 'desktop',
      )
      expect(split.organic + split.paid + split.none).toBeCloseTo(1, 12)
      for (const share of Object.values(split)) expect(share).toBeGreaterThanOrEqual(0)
    }
  })
  test('a page of results alone keeps the click curve, and has no paid clicks', () => {
    const split = splitClicks(nothing, 'desktop')
    expect(split.organic).toBeCloseTo(plainOrganicShare('desktop'), 12)
    expect(split.paid).toBe(0)
  })
  test('ads draw from results, and more ads draw more up to four', () => {
    const of = (ads: number) => splitClicks({ ...nothing, ads }, 'mobile')
    expect(of(1).paid).toBeGreaterThan(0)
    expect(of(3).paid).toBeGreaterThan(of(1).paid)
    expect(of(9)).toEqual(of(4))
    expect(of(4).organic).toBeLessThan(of(0).organic)
  })
  test('an answer box leaves more searches without a click', () => {
    expect(splitClicks({ ...nothing, answer: true }, 'desktop').none).toBeGreaterThan(
      splitClicks(nothing, 'desktop').none + 0.1,
    )
  })
  test('what is not weighed is unknown, not zero', () => {
    const explained = explainSplit({ organic: null, paid: null, date: null })
    expect(explained.value).toBeNull()
    expect(explained.note).toMatch(/Weigh/)
    expect(explainSplit({ organic: 0.6, paid: 0.15, date: '2026-11-20' }).value).toBe(
      '60% results, 15% ads, 25% no click',
    )
  })
})
