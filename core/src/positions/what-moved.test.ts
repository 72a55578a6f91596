import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import { type CheckedDay, engineShifts, movementByDay } from './engine-shifts.ts'
import { effectOfChange, type KeywordDays } from './effect-of-change.ts'
import { effectSentence } from './effect-sentence.ts'
import { gainedAround } from './gained-around.ts'
import { likelyReasons } from './likely-reason.ts'
import { featureBits, featuresOf, seenFeatures } from './page-features.ts'
import { pageSwaps } from './page-swaps.ts'
import { evidenceWords } from './reason-words.ts'
import { usualChange } from './usual-change.ts'

const dayOf = (index: number): string => new Date(Date.UTC(2026, 0, 1 + index)).toISOString().slice(0, 10)

describe('the usual change', () => {
  test('is 2.5 robust deviations of the daily changes, at least one place', () => {
    // Changes +2 and −2 by turns: median 0 or ±2, median absolute deviation 2.
    expect(usualChange([10, 12, 10, 12, 10, 12, 10, 12, 10])).toBeCloseTo(2.5 * 1.4826 * 2, 6)
    expect(usualChange([4, 4, 4, 4, 4, 4, 4, 4, 9])).toBe(1)
  })
  test('is not known from few days; days without a check are passed over', () => {
    expect(usualChange([4, 5, 4, 5, 4, 5, 4])).toBeNull()
    expect(usualChange([4, 0, 4, 4, 0, 0, 4, 4, 4, 4, 4])).toBe(1)
  })
})

describe('places gained around a day', () => {
  test('are the means of four checked days on either side', () => {
    expect(gainedAround([10, 10, 10, 10, 6, 6, 6, 6], 4)).toBe(4)
    expect(gainedAround([10, 0, 10, 10, 10, 6, 0, 6, 6, 6], 5)).toBe(4)
  })
  test('with a change that comes in over some days', () => {
    expect(gainedAround([8, 8, 8, 8, 7, 6, 5, 5, 5, 5], 4, 2)).toBe(3)
  })
  test('are unknown where one side is', () => {
    expect(gainedAround([0, 0, 0, 5, 5], 3)).toBeNull()
    expect(gainedAround([5, 5], 2)).toBeNull()
  })
  test('not found is one beyond the depth', () => {
    expect(gainedAround([-100, -100, 51, 51], 2)).toBe(50)
  })
})

describe('engine shifts', () => {
  /** Forty keywords that move by a place now and then; on the day of a shift by three each. */
  const world = (shiftOn: number | null, thrown: number): CheckedDay[] => {
    const draw = seededDraw(5)
    const positions = Array.from({ length: 40 }, (_, i) => 5 + i)
    return Array.from({ length: 60 }, (_, day) => {
      for (let slot = 0; slot < 40; slot++) {
        if (draw() < 0.3) positions[slot]! += draw() < 0.5 ? 1 : -1
        if (day === shiftOn) positions[slot]! += slot % 2 ? 3 : -3
        positions[slot] = Math.max(1, positions[slot]!)
        // A page taken away throws a few far down.
        if (day === 45 && slot < thrown) positions[slot] = 90
      }
      return { day: dayOf(day), vector: [...positions] }
    })
  }
  test('are found on their day and nowhere else', () => {
    const shifts = engineShifts(movementByDay([world(40, 0)]))
    expect(shifts.map(each => each.day)).toEqual([dayOf(40)])
    expect(shifts[0]!.moved).toBeGreaterThan(2.5)
    expect(shifts[0]!.usual).toBeLessThan(0.5)
  })
  test('keywords thrown far down are not one', () => {
    expect(engineShifts(movementByDay([world(null, 2)]))).toEqual([])
  })
  test('days that do not follow each other are not compared, nor are few keywords', () => {
    const days = world(40, 0).filter((_, i) => i !== 39)
    expect(movementByDay([days]).some(each => each.day === dayOf(40))).toBe(false)
    expect(
      movementByDay([
        [
          { day: dayOf(0), vector: [1] },
          { day: dayOf(1), vector: [4] },
        ],
      ]),
    ).toEqual([])
  })
  test('several markets are taken together', () => {
    const one = world(40, 0)
    const [alone, both] = [movementByDay([one]), movementByDay([one, one])]
    expect(both.map(each => each.moved)).toEqual(alone.map(each => each.moved))
    expect(both[0]!.keywords).toBe(2 * alone[0]!.keywords)
  })
})

describe('the effect of a change', () => {
  const at = 28
  const keywords = (count: number, from: number, gain: number, seed: number): KeywordDays[] => {
    const draw = seededDraw(seed)
    return Array.from({ length: count }, (_, i) => ({
      id: from + i,
      days: Array.from({ length: 64 }, (_, day) =>
        Math.max(1, Math.round(12 + (i % 8) + 2 * (draw() - 0.5) - (day >= at + 7 ? gain : 0))),
      ),
    }))
  }
  test('is what the touched ones gained beyond comparable ones', () => {
    const effect = effectOfChange(keywords(12, 0, 5, 1), keywords(40, 100, 2, 2), at)
    expect(effect).toMatchObject({ kind: 'known', clear: true, touched: 12 })
    if (effect.kind !== 'known') throw new Error('unreachable')
    expect(effect.positions).toBeCloseTo(3, 0)
    expect(effect.low).toBeLessThan(effect.positions)
    expect(effect.high).toBeGreaterThan(effect.positions)
    expect(effect.without).toBeCloseTo(effect.after + effect.positions, 9)
  })
  test('a movement that all share is none', () => {
    expect(effectOfChange(keywords(12, 0, 4, 1), keywords(40, 100, 4, 2), at)).toMatchObject({ clear: false })
  })
  test('is too early before fourteen days, and not said of a few', () => {
    const cut = (list: KeywordDays[]) => list.map(each => ({ ...each, days: Array.from(each.days).slice(0, at + 10) }))
    expect(effectOfChange(cut(keywords(12, 0, 5, 1)), cut(keywords(40, 100, 0, 2)), at)).toEqual({
      kind: 'tooEarly',
      daysLeft: 4,
    })
    expect(effectOfChange(keywords(1, 0, 5, 1), keywords(40, 100, 0, 2), at).kind).toBe('tooFew')
    expect(effectOfChange(keywords(12, 0, 5, 1), keywords(7, 100, 0, 2), at).kind).toBe('tooFew')
  })
  test('is the same each time for a seed', () => {
    const once = () => effectOfChange(keywords(12, 0, 1, 1), keywords(40, 100, 0, 2), at, 9)
    expect(once()).toEqual(once())
  })
  test('is said in a sentence', () => {
    expect(effectSentence({ kind: 'tooEarly', daysLeft: 1 })).toContain('1 more day of checks is needed')
    const known = { kind: 'known', positions: 2.04, low: 1, high: 3.1, clear: true, touched: 9, controls: 31 } as const
    expect(effectSentence({ ...known, visits: { value: 120.4, low: 60, high: 180 } })).toBe(
      'It helped: 9 keywords against 31 comparable ones gained 2.0 places (likely between +1.0 and +3.1), some 120 visits a month more (60 to 180).',
    )
    expect(effectSentence({ ...known, positions: 0.3, low: -0.5, clear: false, visits: null })).toContain(
      'No clear effect',
    )
  })
})

describe('page swaps', () => {
  const from = (...pages: Array<[day: number, page: string | null]>) =>
    pages.map(([day, page]) => ({ day: dayOf(day), page }))
  test('last three days or more', () => {
    expect(pageSwaps(from([0, 'a'], [10, 'b']), dayOf(20))).toEqual([
      { day: dayOf(10), from: 'a', to: 'b', backOn: null },
    ])
    expect(pageSwaps(from([0, 'a'], [10, 'b'], [12, 'a']), dayOf(20))).toEqual([])
    expect(pageSwaps(from([0, 'a'], [19, 'b']), dayOf(20))).toEqual([])
    expect(pageSwaps(from([0, 'a'], [18, 'b']), dayOf(20))).toHaveLength(1)
  })
  test('tell when the first page stood again', () => {
    expect(pageSwaps(from([0, 'a'], [10, 'b'], [15, 'a']), dayOf(30))).toEqual([
      { day: dayOf(10), from: 'a', to: 'b', backOn: dayOf(15) },
      { day: dayOf(15), from: 'b', to: 'a', backOn: null },
    ])
  })
  test('days without a page are passed over', () => {
    expect(pageSwaps(from([0, 'a'], [5, null], [9, 'a'], [12, null], [14, 'b']), dayOf(20))).toEqual([
      { day: dayOf(14), from: 'a', to: 'b', backOn: null },
    ])
  })
})

describe('likely reasons', () => {
  test('are weighed by the part of the movement that fits their time', () => {
    const [first, ...rest] = likelyReasons(-6, [
      { kind: 'shift', day: dayOf(3), around: -5.5, extent: 0.4 },
      { kind: 'swap', day: dayOf(9), around: 1, from: 'a', to: 'b' },
    ])
    expect(first).toMatchObject({ kind: 'shift' })
    expect(rest.map(each => each.kind)).toEqual(['unknown'])
    expect(first!.share + rest[0]!.share).toBeCloseTo(1, 12)
  })
  test('are unknown where nothing fits', () => {
    expect(likelyReasons(4, [])).toEqual([{ kind: 'unknown', share: 1, evidence: null }])
    expect(likelyReasons(4, [{ kind: 'shift', day: dayOf(1), around: null, extent: 1 }])[0]!.kind).toBe('unknown')
  })
  test('pages of others that came explain a fall, those that went a rise', () => {
    const pages = [1, 2, 3].map(position => ({ domain: 'a.example', url: 'https://a.example/', position }))
    expect(likelyReasons(-3, [{ kind: 'rivalPage', pages, came: true }])[0]!.kind).toBe('rivalPage')
    expect(likelyReasons(3, [{ kind: 'rivalPage', pages, came: true }])[0]!.kind).toBe('unknown')
    expect(likelyReasons(3, [{ kind: 'rivalPage', pages, came: false }])[0]!.kind).toBe('rivalPage')
  })
  test('an own change needs an effect beyond what all others did', () => {
    const change = { kind: 'ownChange', day: dayOf(1), around: 4, text: 'Titles' } as const
    expect(likelyReasons(4, [{ ...change, touched: 3.8, others: 0.1 }])[0]!.kind).toBe('ownChange')
    expect(likelyReasons(4, [{ ...change, touched: 3.8, others: 3.7 }])[0]!.kind).toBe('unknown')
  })
  test('are said in words', () => {
    expect(evidenceWords({ kind: 'shift', day: '2026-10-10', around: -2.5, extent: 0.314 })).toBe(
      'The engine shifted on 10 Oct, when it lost 2.5; 31% of your keywords moved',
    )
    expect(evidenceWords({ kind: 'links', gained: 1, lost: 2, ofPage: true })).toBe(
      'The page gained 1 linking site and lost 2',
    )
    expect(evidenceWords(null)).toBe('Nothing that is known fits')
  })
})

describe('features of a result page', () => {
  test('are what it shows, and where the site stands in it', () => {
    const reply = {
      ads: [{ url: 'https://other.example/' }],
      answer: { url: 'https://www.own.example/a', text: 'x' },
      questions: [],
      images: [],
      shopping: [{ offer: { link: 'https://own.example/b' } }],
      map: null,
    }
    const { shown, held } = seenFeatures(reply, url => url.includes('own.example'))
    expect(featuresOf(shown)).toEqual(['ads', 'answer', 'shopping'])
    expect(featuresOf(held)).toEqual(['answer', 'shopping'])
    expect(featureBits(['questions', 'map'])).toBe(0b100100)
  })
})
