import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import { checkThemes } from './check-themes.ts'
import { competingPages } from './competing-pages.ts'
import { bits, type GroupMethod, groupThemes, type Themes } from './group-themes.ts'
import { commonPages, leadOrder, mostResults, packPages, sharedPages, sharedTotals } from './keyword-pages.ts'
import { nearestThemes } from './nearest-themes.ts'
import { groupByPairs, previewThemes, proposedThreshold, type ThemePreview } from './preview-themes.ts'
import { adjustedRand } from './rand-index.ts'
import { countSharedPairs } from './shared-pairs.ts'
import { groupByWords } from './theme-words.ts'

/** Themes as lists of keywords, alone ones left out, the lead first. */
const listed = ({ themeOf, leads }: Themes): number[][] =>
  [...leads].map((lead, theme) => [lead, ...[...themeOf.keys()].filter(i => themeOf[i] === theme && i !== lead)])

/** The definition, word for word: leads take what is free, or a keyword joins where it agrees with all. */
function slowGroups(results: string[][], threshold: number, method: GroupMethod): number[][] {
  const both = (a: number, b: number): number => results[a]!.filter(page => results[b]!.includes(page)).length
  const groups: number[][] = []
  if (method === 'lead') {
    const free = new Set(results.keys())
    for (const lead of results.keys()) {
      if (!free.delete(lead)) continue
      const joined = [...free].filter(each => both(lead, each) >= threshold)
      for (const each of joined) free.delete(each)
      groups.push([lead, ...joined])
    }
  } else
    for (const keyword of results.keys()) {
      const sums = groups.map(group =>
        group.every(each => both(each, keyword) >= threshold)
          ? group.reduce((sum, each) => sum + both(each, keyword), 0)
          : -1,
      )
      const best = Math.max(-1, ...sums)
      if (best > 0) groups[sums.indexOf(best)]!.push(keyword)
      else groups.push([keyword])
    }
  return groups.filter(group => group.length > 1)
}

/** Keywords of some meanings: results of one mostly from the same twelve pages, `popular` pages on a fifth of all. */
function madeResults(seed: number, count: number, popular: number): string[][] {
  const draw = seededDraw(seed)
  return Array.from({ length: count }, () => {
    const meaning = Math.floor(draw() * (count / 8))
    const list = new Set<string>()
    for (let page = 0; page < popular; page++) if (draw() < 0.2) list.add(`everywhere-${page}`)
    const wanted = 4 + Math.floor(draw() * 7)
    while (list.size < wanted)
      list.add(draw() < 0.8 ? `meaning-${meaning}-${Math.floor(draw() * 12)}` : `any-${Math.floor(draw() * 60)}`)
    return [...list].slice(0, 10)
  })
}

describe('themes by shared results', () => {
  test.each([
    [1, 60, 0],
    [2, 90, 0],
    [3, 400, 6],
    [4, 700, 40],
  ])('are those of the slow definition, seed %i of %i keywords with %i popular pages', (seed, count, popular) => {
    const results = madeResults(seed, count, popular)
    const packed = packPages(results)
    const pairs = countSharedPairs(packed, 2)
    for (const method of ['lead', 'pairs'] as const)
      for (const threshold of [1, 2, 3, 4, 6, 9]) {
        const fast = groupThemes(packed, { threshold, method })
        expect(listed(fast)).toEqual(slowGroups(results, threshold, method))
        if (threshold > 1) expect(groupByPairs(pairs, { threshold, method })).toEqual(fast)
      }
  })
  test('a keyword that two leads fit joins the more searched one; among all that agree the closest', () => {
    const packed = packPages([
      ['a', 'b', 'c'],
      ['d', 'e', 'f', 'g'],
      ['a', 'b', 'd', 'e', 'f'],
    ])
    expect(listed(groupThemes(packed, { threshold: 2, method: 'lead' }))).toEqual([[0, 2]])
    expect(listed(groupThemes(packed, { threshold: 2, method: 'pairs' }))).toEqual([[1, 2]])
  })
  test('around a lead joins what every pair keeps apart', () => {
    const packed = packPages([
      ['a', 'b', 'c', 'd'],
      ['a', 'b', 'x', 'y'],
      ['c', 'd', 'v', 'w'],
    ])
    expect(listed(groupThemes(packed, { threshold: 2, method: 'lead' }))).toEqual([[0, 1, 2]])
    expect(listed(groupThemes(packed, { threshold: 2, method: 'pairs' }))).toEqual([[0, 1]])
  })
  test('none, one, and keywords without results', () => {
    for (const results of [[], [['a']], [[], []]])
      expect(groupThemes(packPages(results), { threshold: 1, method: 'lead' })).toEqual({
        themeOf: new Int32Array(results.length).fill(-1),
        leads: new Int32Array(),
      })
    expect(mostResults(packPages([[], ['a', 'a', 'b']]))).toBe(2)
  })
  test('bits of a number, the highest one too', () => {
    expect([0, 1, 0b1011, -1, 1 << 31].map(bits)).toEqual([0, 1, 3, 32, 1])
  })
})

describe('the order in which keywords lead', () => {
  const keywords = [
    { phrase: 'kiln', searches: null },
    { phrase: 'glaze', searches: 50 },
    { phrase: 'clay', searches: 50 },
    { phrase: 'wheel', searches: 900 },
  ]
  test('is by searches, unknown last, then by name, whatever order they came in', () => {
    const names = (list: typeof keywords): string[] => leadOrder(list).map(i => list[i]!.phrase)
    expect(names(keywords)).toEqual(['wheel', 'clay', 'glaze', 'kiln'])
    expect(names(keywords.toReversed())).toEqual(['wheel', 'clay', 'glaze', 'kiln'])
  })
  test('without searches is by how much each shares with the others', () => {
    const totals = sharedTotals(packPages([['a'], ['a', 'b'], ['a', 'b', 'c'], ['z']]))
    expect([...totals]).toEqual([2, 3, 3, 0])
    expect(leadOrder(keywords, totals).map(i => keywords[i]!.phrase)).toEqual(['clay', 'glaze', 'kiln', 'wheel'])
  })
  test('pages that many have are found', () => {
    const packed = packPages([['all', 'a'], ['all', 'b'], ['all', 'b'], []])
    expect(commonPages(packed, 0.9)).toEqual([0])
    expect(commonPages(packed, 0.5)).toEqual([0, 2])
    expect(sharedPages(packed, 1, 2)).toBe(2)
  })
})

describe('the adjusted Rand index', () => {
  test('is that of the definition by pairs', () => {
    const draw = seededDraw(9)
    const random = () => Int32Array.from({ length: 40 }, () => Math.floor(draw() * 7) - 1)
    for (let round = 0; round < 20; round++) {
      const [a, b] = [random(), random()]
      let [both, inA, inB, all] = [0, 0, 0, 0]
      for (let i = 0; i < 40; i++)
        for (let j = 0; j < i; j++) {
          const [x, y] = [a[i] === a[j] && a[i]! >= 0, b[i] === b[j] && b[i]! >= 0]
          all++
          inA += Number(x)
          inB += Number(y)
          both += Number(x && y)
        }
      const expected = (inA * inB) / all
      expect(adjustedRand(a, b)).toBeCloseTo((both - expected) / ((inA + inB) / 2 - expected), 12)
    }
  })
  test('is 1 for the same groups under other numbers, and where there is no group at all', () => {
    expect(adjustedRand(Int32Array.of(0, 0, 1, -1), Int32Array.of(5, 5, 2, -1))).toBe(1)
    expect(adjustedRand(Int32Array.of(-1, -1), Int32Array.of(-1, -1))).toBe(1)
    expect(adjustedRand(new Int32Array(), new Int32Array())).toBe(1)
  })
})

describe('the preview', () => {
  test('says of every threshold and method what it would make', () => {
    const results = madeResults(5, 120, 2)
    const searches = results.map((_, i) => (i % 10 === 0 ? null : 1000 - i))
    const packed = packPages(results)
    for (const { threshold, method, themes, grouped, searches: share, largest } of previewThemes(packed, searches)) {
      const groups = slowGroups(results, threshold, method)
      const known = groups.flat().reduce((sum, i) => sum + (searches[i] ?? 0), 0)
      expect([themes, grouped, largest]).toEqual([
        groups.length,
        groups.flat().length,
        Math.max(0, ...groups.map(group => group.length)),
      ])
      expect(share).toBeCloseTo(known / searches.reduce<number>((sum, each) => sum + (each ?? 0), 0), 12)
    }
  })
  test('is steady where neither one page less nor one more changes it', () => {
    const packed = packPages(madeResults(5, 120, 2))
    const lead = previewThemes(packed, []).filter(each => each.method === 'lead')
    const at = (threshold: number) => groupThemes(packed, { threshold, method: 'lead' }).themeOf
    expect(lead[4]!.steadiness).toBe(Math.min(adjustedRand(at(4), at(5)), adjustedRand(at(5), at(6))))
    expect(lead[0]!.steadiness).toBe(adjustedRand(at(1), at(2)))
  })
  test('of twenty results, a threshold asks for twice as many pages', () => {
    const packed = packPages(madeResults(6, 80, 2))
    const [two, four] = [previewThemes(packed, [], 20), previewThemes(packed, [], 10)]
    expect(two[1]).toMatchObject({ threshold: 2, themes: four[3]!.themes, grouped: four[3]!.grouped })
    expect(two[5]!.possible).toBe(false)
  })
  test('a market of five results has no threshold of six; nothing known is no share', () => {
    const five = packPages([
      ['a', 'b', 'c', 'd', 'e'],
      ['a', 'b', 'c', 'd', 'e'],
    ])
    const lead = previewThemes(five, [null, null]).filter(each => each.method === 'lead')
    expect(lead.map(each => each.possible)).toEqual([true, true, true, true, true, false, false, false, false])
    expect(lead.map(each => each.steadiness)).toEqual([1, 1, 1, 1, 1, null, null, null, null])
    expect(lead[4]).toMatchObject({ themes: 1, grouped: 2, searches: null, largest: 2 })
  })
  test('proposes what leaves least searches alone among the steadiest from 3 to 7, the lower of equals', () => {
    const at = (threshold: number, steadiness: number | null, searches: number): ThemePreview => ({
      threshold,
      method: 'lead',
      possible: true,
      themes: 3,
      grouped: 9,
      searches,
      largest: 4,
      steadiness,
    })
    const all = [at(1, 1, 1), at(2, 1, 1), at(3, 0.7, 0.95), at(4, 0.9, 0.8), at(5, 0.91, 0.8), at(6, 0.88, 0.9)]
    expect(proposedThreshold(all, 'lead')).toBe(4)
    expect(proposedThreshold(all, 'pairs')).toBe(null)
    expect(proposedThreshold([at(1, 0.5, 1), at(2, null, 1)], 'lead')).toBe(2)
  })
})

test('the nearest theme is that whose lead shares most pages, never the own one', () => {
  const packed = packPages([['a', 'b', 'c'], ['d', 'e', 'c'], ['a', 'b'], ['d', 'c'], ['z']])
  const { theme, shared } = nearestThemes(packed, [0, 1, 0, -1, -1], [0, 1])
  expect([...theme]).toEqual([1, 0, -1, 1, -1])
  expect([...shared]).toEqual([1, 1, 0, 2, 0])
})

describe('the check of a grouping', () => {
  const wheel = ['w1', 'w2', 'w3', 'w4']
  const clay = ['c1', 'c2', 'c3', 'c4']
  test('names keywords that stand better elsewhere, and those that fit nowhere', () => {
    const packed = packPages([wheel, wheel, clay, clay, clay, ['x', 'y'], []])
    const check = checkThemes(packed, Int32Array.of(0, 0, 0, 1, 1, 1, 1), 2, 3)
    expect(check.misfits).toEqual([
      { keyword: 2, theme: 0, inside: 0, better: 1, there: 2 / 3 },
      { keyword: 5, theme: 1, inside: 0, better: -1, there: 0 },
    ])
    expect(check.cohesion).toEqual([1 / 3, 1 / 3])
  })
  test('names themes that compete, with the pages both show', () => {
    const packed = packPages([wheel, [...wheel, 'w5'], ['w1', 'w2', 'w3', 'q'], wheel, clay, clay])
    const { overlaps } = checkThemes(packed, Int32Array.of(0, 0, 1, 1, 2, 2), 3, 3)
    expect(overlaps).toEqual([{ a: 0, b: 1, pairs: 4, of: 4, pages: [0, 1, 2] }])
  })
  test('a theme of one keyword neither holds together nor falls apart', () => {
    expect(checkThemes(packPages([wheel, clay]), Int32Array.of(0, 1), 2, 3)).toEqual({
      cohesion: [null, null],
      misfits: [],
      overlaps: [],
    })
  })
})

describe('own pages that compete', () => {
  test('stand within thirty for one theme; the one with more visits should have it', () => {
    expect(
      competingPages([
        { keyword: 1, page: '/shop', position: 4, visits: 90 },
        { keyword: 1, page: '/guide', position: 8, visits: 20 },
        { keyword: 2, page: '/guide', position: 6, visits: 30 },
        { keyword: 3, page: '/guide', position: 9, visits: null },
        { keyword: 3, page: '/old', position: 31, visits: null },
      ]),
    ).toEqual([{ keep: '/shop', give: '/guide', keepLeads: [1], giveLeads: [2, 3], keepVisits: 90, giveVisits: 50 }])
  })
  test('one that always stands below leads for nothing; without visits the better placed should have it', () => {
    expect(
      competingPages([
        { keyword: 1, page: '/shop', position: 4, visits: null },
        { keyword: 1, page: '/guide', position: 8, visits: null },
      ]),
    ).toEqual([{ keep: '/shop', give: '/guide', keepLeads: [1], giveLeads: [], keepVisits: null, giveVisits: null }])
    expect(competingPages([{ keyword: 1, page: '/shop', position: 4, visits: 9 }])).toEqual([])
  })
})

test('themes by words: longer keywords join the lead whose words they have; what all are about parts nothing', () => {
  const phrases = ['pottery wheel', 'pottery glaze', 'used pottery wheels', 'best pottery glaze food safe', 'pottery']
  expect(listed(groupByWords(phrases, 'en'))).toEqual([
    [0, 2],
    [1, 3],
  ])
})
