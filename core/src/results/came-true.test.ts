import { expect, test } from 'vitest'
import { cameTrue } from './came-true.ts'

const predicted = (chance: number, happened: number, of: number) =>
  Array.from({ length: of }, (_, i) => ({ chance, happened: i < happened }))

test('chances add up to what they promise, with the spread of independent events', () => {
  expect(cameTrue([])).toEqual({ count: 0, expected: 0, happened: 0, spread: 0, verdict: 'few' })
  const { expected, spread, happened } = cameTrue([...predicted(0.5, 3, 8), ...predicted(0.1, 1, 10)])
  expect(expected).toBeCloseTo(5)
  expect(happened).toBe(4)
  expect(spread).toBeCloseTo(Math.sqrt(8 * 0.25 + 10 * 0.09))
})

test('a verdict takes ten predictions and more than luck', () => {
  expect(cameTrue(predicted(0.9, 0, 9)).verdict).toBe('few')
  expect(cameTrue(predicted(0.5, 7, 10)).verdict).toBe('right')
  expect(cameTrue(predicted(0.5, 9, 10)).verdict).toBe('cautious')
  expect(cameTrue(predicted(0.5, 1, 10)).verdict).toBe('hopeful')
  expect(cameTrue(predicted(1, 10, 10)).verdict).toBe('right')
  expect(cameTrue(predicted(1, 9, 10)).verdict).toBe('hopeful')
  expect(cameTrue(predicted(0, 1, 10)).verdict).toBe('cautious')
})

test('right chances are called right about nineteen times of twenty', () => {
  let state = 7
  const draw = (): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
  let right = 0
  for (let round = 0; round < 400; round++) {
    const list = Array.from({ length: 40 }, () => {
      const chance = draw()
      return { chance, happened: draw() < chance }
    })
    if (cameTrue(list).verdict === 'right') right++
  }
  expect(right / 400).toBeGreaterThan(0.91)
  expect(right / 400).toBeLessThan(0.99)
})
