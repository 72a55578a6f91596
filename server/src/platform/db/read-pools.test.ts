import { expect, test } from 'vitest'
import { walPosition } from './read-pools.ts'

test('a place in the log is read as a number; what is none is the beginning', () => {
  expect(walPosition('16/B374D848')).toBe(0x16_b374_d848n)
  expect(walPosition('nowhere')).toBe(0n)
})
