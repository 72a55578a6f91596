import highsLoader from 'highs'
import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import { type Candidate, type Capacity, choosePages } from './choose-pages.ts'

/** Pages whose value falls with each month that they wait, with a season for some. */
function made(count: number, months: number, seed: number): Candidate[] {
  const draw = seededDraw(seed)
  return Array.from({ length: count }, (_, id) => {
    const worth = 20 + 400 * draw() ** 3
    const peak = draw() < 0.4 ? Math.floor(draw() * months) : null
    return {
      id,
      values: Array.from(
        { length: months },
        (_, m) => worth * (months + 12 - m) + (peak !== null && m <= peak ? worth * 4 : 0),
      ),
      effort: 0.5 + Math.floor(draw() * 12) / 2,
      mustBeIn: draw() < 0.04,
      earliest: draw() < 0.1 ? Math.floor(draw() * months) : 0,
    }
  })
}

/** The best total by an independent solver; the pages that must be in are constraints there. */
async function judged(candidates: readonly Candidate[], months: number, { of, aMonth }: Capacity): Promise<number> {
  const highs = await highsLoader()
  const names: string[] = []
  const goal: string[] = []
  const byMonth: string[][] = Array.from({ length: months }, () => [])
  const once: string[] = []
  for (const { id, values, effort, mustBeIn, earliest } of candidates) {
    const mine: string[] = []
    for (let m = earliest; m < months; m++) {
      const name = `x${id}_${m}`
      names.push(name)
      mine.push(name)
      goal.push(`${values[m]} ${name}`)
      byMonth[m]!.push(`${of === 'pages' ? 1 : effort} ${name}`)
    }
    once.push(` c${id}: ${mine.join(' + ')} ${mustBeIn ? '=' : '<='} 1`)
  }
  const text = [
    'Maximize',
    ` obj: ${goal.join(' + ')}`,
    'Subject To',
    ...once,
    ...byMonth.map((each, m) => ` m${m}: ${each.join(' + ')} <= ${aMonth}`),
    'Binary',
    ...names.map(name => ` ${name}`),
    'End',
  ].join('\n')
  return highs.solve(text, { mip_rel_gap: 0 }).ObjectiveValue
}

function checked(candidates: readonly Candidate[], months: number, capacity: Capacity) {
  const choice = choosePages(candidates, months, capacity)
  const byId = new Map(candidates.map(each => [each.id, each]))
  const load = new Array<number>(months).fill(0)
  for (const { id, month, value } of choice.chosen) {
    const { earliest, values, effort } = byId.get(id)!
    expect(month).toBeGreaterThanOrEqual(earliest)
    expect(value).toBe(values[month])
    load[month]! += capacity.of === 'pages' ? 1 : effort
  }
  for (const each of load) expect(each).toBeLessThanOrEqual(capacity.aMonth + 1e-9)
  expect(new Set(choice.chosen.map(each => each.id)).size).toBe(choice.chosen.length)
  return choice
}

describe('a choice of pages', () => {
  test('by pages a month is the best there is', async () => {
    for (const [count, months, aMonth, seed] of [
      [12, 3, 2, 1],
      [40, 6, 3, 2],
      [60, 12, 4, 3],
      [9, 2, 8, 4],
    ] as const) {
      const candidates = made(count, months, seed)
      const choice = checked(candidates, months, { of: 'pages', aMonth })
      expect(choice.total).toBeCloseTo(await judged(candidates, months, { of: 'pages', aMonth }), 4)
      expect(choice.bound).toBe(choice.total)
      expect(choice.unfit).toEqual([])
    }
  })

  test('by days a month is within one in a hundred of the best, and its bound holds', async () => {
    for (const [count, months, aMonth, seed] of [
      [8, 1, 7, 1],
      [15, 2, 6, 2],
      [30, 4, 9, 3],
      [50, 6, 12.5, 4],
      [120, 6, 20, 5],
    ] as const) {
      const candidates = made(count, months, seed)
      const choice = checked(candidates, months, { of: 'days', aMonth })
      const best = await judged(candidates, months, { of: 'days', aMonth })
      expect(choice.total).toBeLessThanOrEqual(best * (1 + 1e-6))
      expect(choice.total).toBeGreaterThanOrEqual(best * 0.99)
      expect(choice.bound).toBeGreaterThanOrEqual(best * (1 - 1e-6))
      expect(choice.bound).toBeLessThanOrEqual(choice.total * 1.01)
    }
  })

  test('what must be in goes first, and is named where it does not fit', () => {
    const page = (id: number, value: number, more: Partial<Candidate> = {}): Candidate => ({
      id,
      values: [value, value / 2],
      effort: 3,
      mustBeIn: false,
      earliest: 0,
      ...more,
    })
    const pages = [page(1, 900), page(2, 800), page(3, 1, { mustBeIn: true }), page(4, 700, { earliest: 1 })]
    expect(choosePages(pages, 2, { of: 'pages', aMonth: 1 }).chosen).toEqual([
      { id: 1, month: 0, value: 900 },
      { id: 3, month: 1, value: 0.5 },
    ])
    const large = [page(1, 900), page(2, 800, { effort: 9, mustBeIn: true })]
    expect(choosePages(large, 2, { of: 'days', aMonth: 5 })).toMatchObject({
      chosen: [{ id: 1, month: 0, value: 900 }],
      unfit: [2],
    })
    // What brings nothing is not made only to fill a month.
    expect(choosePages([page(1, 0)], 2, { of: 'pages', aMonth: 4 }).chosen).toEqual([])
    expect(choosePages([], 12, { of: 'days', aMonth: 4 })).toEqual({ chosen: [], total: 0, bound: 0, unfit: [] })
  })
})
