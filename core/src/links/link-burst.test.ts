import { expect, test } from 'vitest'
import { seededDraw } from './seeded-draw.ts'
import { linkBurst } from './link-burst.ts'

test.each([
  [[2, 3, 1, 2, 4, 2, 3, 1], 14, true],
  [[2, 3, 1, 2, 4, 2, 3, 1], 7, false],
  [[20, 24, 18, 22, 19, 21, 25, 20], 30, false],
  [[20, 24, 18, 22, 19, 21, 25, 20], 48, true],
  [[0, 0, 0, 0, 0, 0, 0, 0], 5, true],
  [[0, 0, 0, 0, 0, 0, 0, 0], 4, false],
  [[1, 1, 1], 50, false],
])('%j and then %i', (before, sites, isBurst) => {
  const burst = linkBurst(before, sites)
  expect(burst !== null).toBe(isBurst)
  if (burst) expect(burst.usual).toBe(before.reduce((sum, each) => sum + each, 0) / before.length)
})

test('chance alone is hardly ever called a burst', () => {
  const draw = seededDraw(5)
  const poisson = (mean: number): number => {
    let [count, product] = [0, draw()]
    for (const limit = Math.exp(-mean); product > limit; count++) product *= draw()
    return count
  }
  let bursts = 0
  for (let i = 0; i < 4_000; i++)
    if (
      linkBurst(
        Array.from({ length: 26 }, () => poisson(4)),
        poisson(4),
      )
    )
      bursts++
  expect(bursts).toBeLessThanOrEqual(6)
})
