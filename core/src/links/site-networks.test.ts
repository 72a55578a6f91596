import { describe, expect, test } from 'vitest'
import { findNetworks, type NetworkSite } from './site-networks.ts'

const site = (address: string, linksTo: number[], doubt: number | null = 0.9): NetworkSite => ({
  addresses: address ? [address] : [],
  doubt,
  linksTo: new Map(linksTo.map(to => [to, 1])),
})

describe('networks of sites', () => {
  test('sites of one block that link each other and nobody vouches for', () => {
    const [network, ...more] = findNetworks([
      site('10.0.0.1', [1, 2, 9]),
      site('10.0.0.2', [0, 3]),
      site('10.0.0.3', [1, 3]),
      site('10.0.0.3', [0]),
      site('10.0.9.1', [0, 1]),
    ])
    expect(more).toEqual([])
    expect(network!.members).toEqual([0, 1, 2, 3])
    expect(network!.reasons).toEqual([
      '4 sites share the address block 10.0.0.0/24',
      '100 % of their pairs link each other or give their links to the same sites',
      '78 % of the sites that link to them are among them',
      '90 % of their rank comes from no vetted site',
    ])
  })
  test('nothing is said of their rank when nobody is known to link to any of them', () => {
    const ring = [0, 1, 2, 3].map(i => site(`10.0.0.${i}`, [(i + 1) % 4, (i + 2) % 4], null))
    expect(findNetworks(ring)[0]!.reasons.at(-1)).toBe('nobody is known to link to them')
    // One that is known to be trusted speaks for the others.
    expect(findNetworks([{ ...ring[0]!, doubt: 0.3 }, ...ring.slice(1)])).toEqual([])
  })
  test('sites nobody is known to link to are told by what they give only when nearly all of them are tied', () => {
    const crowd = Array.from({ length: 16 }, (_, i) => site(`10.0.${i + 1}.1`, [50 + i]))
    const givers = [0, 1, 2, 3, 4].map(i => site(`10.0.0.${i}`, [20, 21], null))
    expect(findNetworks([...givers, ...crowd])).toHaveLength(1)
    // Each is like its two neighbours only, and one like two more.
    const loose = [
      [20, 21],
      [21, 22],
      [22, 23],
      [23, 24],
      [24, 20],
    ].map((to, i) => site(`10.0.0.${i}`, i ? to : [...to, 22], null))
    expect(findNetworks([...loose, ...crowd], { leastSimilarity: 0.4 })).toEqual([])
    expect(findNetworks([...loose, ...crowd], { leastSimilarity: 0.4, leastTiedUnknown: 0.5 })).toHaveLength(1)
  })
  test('strangers at one host are none, nor are friends that are trusted', () => {
    const strangers = Array.from({ length: 12 }, (_, i) => site(`10.0.0.${i}`, [(i + 1) % 12]))
    expect(findNetworks(strangers)).toEqual([])
    expect(findNetworks([0, 1, 2, 3].map(i => site(`10.0.0.${i}`, [0, 1, 2, 3], 0.1)))).toEqual([])
  })
  test('sites that others link to as well are none, whatever they link to among themselves', () => {
    const ring = [0, 1, 2, 3].map(i => site(`10.0.0.${i}`, [(i + 1) % 4, (i + 2) % 4]))
    const readers = (count: number) =>
      Array.from({ length: count }, (_, i) =>
        site(
          `10.0.${i + 1}.1`,
          [0, 1, 2, 3].filter(to => (to + i) % 4),
        ),
      )
    expect(findNetworks([...ring, ...readers(4)])).toHaveLength(1)
    expect(findNetworks([...ring, ...readers(8)])).toEqual([])
  })
  test('a stranger in the block is left out', () => {
    const sites = [
      site('10.0.0.1', [1, 2, 3]),
      site('10.0.0.2', [2, 3]),
      site('10.0.0.3', [3]),
      site('10.0.0.5', [0]),
      site('10.0.0.4', [7]),
    ]
    expect(findNetworks(sites)[0]!.members).toEqual([0, 1, 2, 3])
  })
  test('sites that never link each other but give all their links to the same few are one', () => {
    const buyers = [0, 1, 2, 3].map(i => site(`10.0.0.${i}`, [20, 21]))
    const crowd = Array.from({ length: 16 }, (_, i) => site(`10.0.${i + 1}.1`, [30 + i]))
    expect(findNetworks([...buyers, ...crowd])[0]!.members).toEqual([0, 1, 2, 3])
    // What everybody links to says nothing.
    expect(findNetworks(Array.from({ length: 8 }, (_, i) => site(`10.0.0.${i}`, [50])))).toEqual([])
  })
  test('groups of two blocks that link each other are one', () => {
    const sites = [0, 1, 2, 3, 4, 5, 6, 7].map(i =>
      site(i < 4 ? `10.0.0.${i}` : `10.0.7.${i}`, [(i + 1) % 8, (i + 2) % 8, (i + 3) % 8]),
    )
    const networks = findNetworks(sites)
    expect(networks).toHaveLength(1)
    expect(networks[0]!.members).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
    expect(networks[0]!.reasons[0]).toContain('10.0.0.0/24 and 10.0.7.0/24')
  })
  test('without addresses or with few sites nothing is told', () => {
    expect(findNetworks([])).toEqual([])
    expect(findNetworks([site('', [1]), site('', [0]), site('', [0, 1])])).toEqual([])
    expect(findNetworks([site('10.0.0.1', [1]), site('10.0.0.2', [0])])).toEqual([])
  })
})
