import { describe, expect, test } from 'vitest'
import { similarityShares } from './similarity.ts'

const result = (title: string, snippet: string, i = 0) => ({ title, snippet, url: `https://site-${i}.example/` })
const pages = [
  ...Array.from({ length: 10 }, (_, i) => result('Throwing wheel for beginners', 'A quiet motor and a splash pan.', i)),
  result('Throwing wheel', 'A quiet motor.'),
  result('Spinning bike wheel', 'Carbon rims for racing.'),
  result('Weather today', 'Rain at noon.'),
]

describe('likeness to the other results', () => {
  test('the first ten are 50 on average; what speaks of other things is less alike, of nothing shared 0', () => {
    const shares = similarityShares(pages, 'en')
    expect(shares.slice(0, 10).reduce((a, b) => a + b) / 10).toBeCloseTo(50)
    expect(shares[11]).toBeLessThan(shares[10]!)
    expect(shares[12]).toBe(0)
    for (const share of shares) {
      expect(share).toBeGreaterThanOrEqual(0)
      expect(share).toBeLessThanOrEqual(100)
    }
  })
  test('a result does not count as its own company', () => {
    const lonely = [...pages.slice(0, 4), result('Rare', 'Unique words stand here alone.')]
    expect(similarityShares(lonely, 'en')[4]).toBe(0)
    expect(similarityShares([pages[0]!], 'en')).toEqual([50])
  })
  test('forms of a word are one word, and saying it often gains nothing', () => {
    const [plain, often] = similarityShares([result('Wheel', ''), result('Wheels wheel WHEELS', ''), ...pages], 'en')
    expect(often).toBeCloseTo(plain!)
  })
  test('no results, and results without words, are no error', () => {
    expect(similarityShares([], 'en')).toEqual([])
    expect(similarityShares([result('', ''), result('', '')], 'en')).toEqual([50, 50])
  })
})
