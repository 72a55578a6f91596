import { describe, expect, test } from 'vitest'
import { beyondStrength, knownPages, NeighbourResiduals, neighbourResidualsOf } from './neighbour-residuals.ts'

const letters = (text: string): string[] => [...text]
/** A result page of addresses a, b, c … with falling strengths, but for `raised`, which its strength puts three places lower. */
const page = (key: string, addresses: string, raised = '') => ({
  key,
  results: letters(addresses).map((url, i) => ({ url, strength: -i - (url === raised ? 3 : 0) })),
})

describe('what a result page shows beyond strengths', () => {
  test('is nothing where they stand in order, and else what brings them into it', () => {
    expect(beyondStrength([3, 2, 1])).toEqual([0, 0, 0])
    expect(beyondStrength([1, 3, 2])).toEqual([2, -1, -1])
    expect(beyondStrength([])).toEqual([])
  })
  test('adds up to nothing', () => {
    const beyond = beyondStrength([0.3, 2.5, -1, 4, 1.1])
    expect(beyond.reduce((a, b) => a + b, 0)).toBeCloseTo(0)
  })
})

describe('residuals at near keywords', () => {
  const known = knownPages([
    page('kiln cost', 'abcdefgh', 'c'),
    page('kiln price', 'abcdefgh', 'c'),
    page('wheel cost', 'stuvwxyc'),
  ])
  const siteEffects = new NeighbourResiduals(known)
  test('are above 0 for what stood higher than its strength, below 0 for those it passed', () => {
    const [a, , c, d] = siteEffects.of('price of a kiln', letters('abcdefgh'))
    expect(a).toBe(0)
    expect(c).toBeGreaterThan(1)
    expect(d).toBeLessThan(0)
  })
  test('of near keywords count more than of far ones, whose pages are others', () => {
    // c stands last at the wheels, where nothing speaks for it.
    const [kilns] = siteEffects.of('x', letters('abdefghc'), ['c'])
    const [wheels] = siteEffects.of('x', letters('stuvwxyz'), ['c'])
    expect(wheels).toBeLessThan(0.2 * kilns!)
  })
  test('the page of the keyword itself is left out', () => {
    const one = new NeighbourResiduals(knownPages([page('kiln cost', 'abcdefgh', 'c')]))
    expect(one.of('kiln cost', letters('abcdefgh'))).toEqual(new Array(8).fill(null))
    expect(one.of('kiln price', letters('abcdefgh'))[2]).toBeGreaterThan(0)
  })
  test('one page tells less than two', () => {
    const [one] = new NeighbourResiduals(knownPages([page('kiln cost', 'abcdefgh', 'c')])).of(
      'x',
      letters('abcdefgh'),
      ['c'],
    )
    const [two] = siteEffects.of('x', letters('abcdefgh'), ['c'])
    expect(one).toBeLessThan(two!)
  })
  test('are unknown, and not 0, for addresses that were seen at no near keyword', () => {
    expect(siteEffects.of('x', letters('az'))).toEqual([expect.any(Number), null])
    expect(siteEffects.of('x', letters('mno'), ['a', undefined])).toEqual([null, null])
    expect(siteEffects.of('x', [])).toEqual([])
    expect(new NeighbourResiduals(knownPages([])).of('x', letters('ab'))).toEqual([null, null])
  })
  test('results without an address are kept out, and the places of the others stay', () => {
    const { addresses, pages } = knownPages([
      { key: 'x', results: [{ strength: 1 }, { url: 'a', strength: 3 }, { url: 'b', strength: 2 }] },
    ])
    expect(addresses).toEqual(['a', 'b'])
    expect(pages).toEqual([{ key: 'x', at: [0, 1], beyond: [-1, -1] }])
  })
  test('an index is made once for the same pages', () => {
    expect(neighbourResidualsOf(known)).toBe(neighbourResidualsOf(known))
    expect(neighbourResidualsOf({ ...known })).not.toBe(neighbourResidualsOf(known))
  })
})
