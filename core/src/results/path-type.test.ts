import { describe, expect, test } from 'vitest'
import { pathTypeShares } from './path-type.ts'

const shares = (...paths: string[]) =>
  pathTypeShares(paths.map((path, i) => ({ url: `https://site-${i}.example${path}` })))

describe('kind of page', () => {
  test('who stands where most others stand is most alike; the first ten are 50 on average', () => {
    const typeShares = shares(
      '/shop/a',
      '/shop/b',
      '/shop/c',
      '/',
      '/guides/x',
      '/shop/d',
      '/about',
      '/shop/e',
      '/blog/f',
      '/',
      '/shop/z',
      '/wiki/y',
    )
    expect(typeShares.slice(0, 10).reduce((a, b) => a + b) / 10).toBeCloseTo(50)
    expect(typeShares[0]).toBeGreaterThan(typeShares[3]!)
    expect(typeShares[3]).toBeGreaterThan(typeShares[4]!)
    expect(typeShares[4]).toBe(0)
    expect(typeShares[10]).toBeGreaterThan(50)
    expect(typeShares[11]).toBe(0)
  })
  test('a language in front, queries and letter case do not matter', () => {
    const [a, b, c, d] = shares('/en/shop/a', '/SHOP/b?x=/', '/de-at/Shop/c#y', '/guides/d')
    expect(a).toBe(b)
    expect(b).toBe(c)
    expect(d).toBe(0)
    expect(shares('/en/', '/', '')).toEqual([50, 50, 50])
  })
  test('where no two stand alike it tells nothing, nor does a page alone', () => {
    expect(shares('/a/x', '/b/x', '/c/x')).toEqual([50, 50, 50])
    expect(shares('/a/x')).toEqual([50])
    expect(shares()).toEqual([])
  })
})
