import { expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import { type KeptDay, KeptVoices } from './kept-voices.ts'

const visits = [null, 30, 12, 6]

test('a page counts from its day to the next, or as long as it is carried', () => {
  const voices = new KeptVoices(10, 3)
  voices.add(
    [
      { at: 1, sites: [7, 8, 0] },
      { at: 3, sites: [8, 7, 9] },
    ],
    visits,
  )
  voices.add([{ at: 8, sites: [9] }], visits)
  expect(voices.days(0)).toEqual([
    {
      at: 1,
      all: 48,
      sites: [
        { site: 7, visits: 30 },
        { site: 8, visits: 12 },
      ],
    },
    {
      at: 3,
      all: 48,
      sites: [
        { site: 8, visits: 30 },
        { site: 7, visits: 12 },
        { site: 9, visits: 6 },
      ],
    },
    { at: 8, all: 30, sites: [{ site: 9, visits: 30 }] },
  ])
})

test('what was fetched before the first day is carried into it; days of few keywords and of unknown visits are none', () => {
  const voices = new KeptVoices(5, 4)
  voices.add(
    [
      { at: -2, sites: [1] },
      { at: 4, sites: [2] },
    ],
    visits,
  )
  voices.add([{ at: 1, sites: [3, 1] }], visits)
  voices.add([{ at: 2, sites: [5] }], [null, null])
  expect(voices.days(0.7).map(({ at, all }) => [at, all])).toEqual([
    [2, 72],
    [4, 72],
  ])
  expect(voices.days(0).map(({ at, sites }) => [at, sites.map(each => each.site)])).toEqual([
    [1, [1, 3]],
    [2, [1, 3]],
    [4, [2, 3, 1]],
  ])
})

test('is what adding up page by page gives', () => {
  const draw = seededDraw(4)
  const [days, carry] = [40, 6]
  const voices = new KeptVoices(days, carry)
  const plain = Array.from({ length: days }, () => new Map<number, number>())
  for (let keyword = 0; keyword < 60; keyword++) {
    const kept: KeptDay[] = []
    for (let at = -5; at < days; at += 1 + Math.floor(draw() * 9))
      kept.push({ at, sites: Array.from({ length: 3 }, () => 1 + Math.floor(draw() * 5)) })
    voices.add(kept, visits)
    for (let day = 0; day < days; day++) {
      const last = kept.findLast(each => each.at <= day)
      if (last && day - last.at <= carry)
        for (const [i, site] of last.sites.entries())
          plain[day]!.set(site, (plain[day]!.get(site) ?? 0) + visits[i + 1]!)
    }
  }
  for (const { at, sites, all } of voices.days(0)) {
    for (const { site, visits: got } of sites) expect(got).toBeCloseTo(plain[at]!.get(site)!, 6)
    expect(all).toBeCloseTo(
      [...plain[at]!.values()].reduce((sum, each) => sum + each, 0),
      6,
    )
  }
})
