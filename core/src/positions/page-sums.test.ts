import { describe, expect, test } from 'vitest'
import { pageSums } from './page-sums.ts'

const visitsAt = (position: number) => 100 / position
const since = (page: string | null, from = -5) => ({ from, page })

describe('what an own page stands for by day', () => {
  test('sums the keywords for which it is found, each from the day on which it took over', () => {
    const sums = pageSums(
      '/kilns',
      [
        { positions: [2, 2, 4, 4], pages: [since('/kilns')], part: 1, visitsAt },
        { positions: [10, 10, 10, 5], pages: [since('/home'), since('/kilns', 2)], part: 0.5, visitsAt },
      ],
      4,
    )
    expect(sums).toEqual({ keywords: [1, 1, 2, 2], visits: [50, 50, 30, 35] })
  })
  test('a check counts until the next one, eight days at most; before the first nothing is known', () => {
    const positions = [0, 5, ...new Array<number>(12).fill(0)]
    const { keywords, visits } = pageSums('/a', [{ positions, pages: [since('/a')], part: 1, visitsAt }], 14)
    expect(keywords).toEqual([null, ...new Array(9).fill(1), null, null, null, null])
    expect(visits[9]).toBe(20)
    expect(visits[10]).toBeNull()
  })
  test('not found is nothing, unknown searches are unknown', () => {
    expect(pageSums('/a', [{ positions: [-100, 3], pages: [since('/a')], part: 1, visitsAt }], 2)).toEqual({
      keywords: [0, 1],
      visits: [0, 100 / 3],
    })
    expect(pageSums('/a', [{ positions: [3], pages: [since('/a')], part: 1, visitsAt: () => null }], 1)).toEqual({
      keywords: [1],
      visits: [null],
    })
    expect(pageSums('/a', [], 2)).toEqual({ keywords: [null, null], visits: [null, null] })
  })
})
