import { describe, expect, test } from 'vitest'
import { chosenLinks, type LinkColumns } from './link-columns.ts'
import { countByCode, countByWeek, mondayOf, sumByAnchor, sumBySite } from './link-sums.ts'
import { seededDraw } from './seeded-draw.ts'

type Link = { [Key in Exclude<keyof LinkColumns, 'count'>]: number }
/** Links in the order in which columns hold them. */
function columns(list: readonly Link[]): LinkColumns {
  const links = list.toSorted(
    (a, b) => a.site - b.site || a.page - b.page || a.target - b.target || a.anchor - b.anchor || a.rel - b.rel,
  )
  const of = (key: keyof Link): number[] => links.map(each => each[key])
  return {
    count: links.length,
    site: Int32Array.from(of('site')),
    page: Int32Array.from(of('page')),
    target: Int32Array.from(of('target')),
    anchor: Int32Array.from(of('anchor')),
    rel: Int16Array.from(of('rel')),
    kind: Uint8Array.from(of('kind')),
    region: Int8Array.from(of('region')),
    first: Int32Array.from(of('first')),
    last: Int32Array.from(of('last')),
    gone: Int32Array.from(of('gone')),
    dated: Uint8Array.from(of('dated')),
    secure: Uint8Array.from(of('secure')),
    seenBy: Int16Array.from(of('seenBy')),
    around: Uint8Array.from(of('around')),
    language: Uint16Array.from(of('language')),
  }
}
function made(seed: number, count: number): Link[] {
  const draw = seededDraw(seed)
  const below = (most: number): number => Math.floor(draw() * most)
  return Array.from({ length: count }, () => {
    const site = 1 + below(12)
    const first = draw() < 0.1 ? 0 : 20_000 + below(60)
    return {
      site,
      page: site * 100 + below(5),
      target: 1 + below(6),
      anchor: 1 + below(8),
      rel: draw() < 0.7 ? 0 : 1,
      kind: below(3),
      region: below(7) - 1,
      first,
      last: first === 0 ? 0 : first + below(30),
      gone: draw() < 0.3 ? 20_080 + below(10) : 0,
      dated: Number(draw() < 0.8),
      secure: Number(draw() < 0.5),
      seenBy: 1 + below(3),
      around: 255,
      language: 0,
    }
  })
}
const distinct = (values: readonly number[]): number => new Set(values).size
const least = (values: readonly number[]): number => (values.length ? Math.min(...values) : 0)

describe.each([1, 2, 3])('sums are those of the slow way, seed %i', seed => {
  const list = made(seed, 400)
  const links = columns(list)
  const there = list.filter(each => each.gone === 0)
  const chosen = chosenLinks(links, { age: 'there', goneSince: 0, targets: null, sources: null })
  test('by site', () => {
    for (const sum of sumBySite(links, chosen, new Set([0, 5]))) {
      const own = there.filter(each => each.site === sum.site)
      const pairs = [...new Set(own.map(each => `${each.target} ${each.anchor}`))]
        .map(key => {
          const of = own.filter(each => `${each.target} ${each.anchor}` === key)
          return { target: of[0]!.target, anchor: of[0]!.anchor, pages: distinct(of.map(each => each.page)) }
        })
        .sort((a, b) => b.pages - a.pages || a.target - b.target || a.anchor - b.anchor)
      expect(sum).toEqual({
        site: sum.site,
        links: own.length,
        follow: own.filter(each => each.rel === 0).length,
        pages: distinct(own.map(each => each.page)),
        framed: own.filter(each => each.region === 0 || each.region === 5).length,
        placed: own.filter(each => each.region >= 0).length,
        first: least(own.map(each => each.first).filter(Boolean)),
        last: Math.max(...own.map(each => each.last)),
        target: pairs[0]!.target,
        anchor: pairs[0]!.anchor,
        same: pairs[0]!.pages,
      })
    }
  })
  test('by code', () => {
    expect(countByCode(links, chosen, i => links.region[i]!)).toEqual(
      [-1, 0, 1, 2, 3, 4, 5].map(code => {
        const own = there.filter(each => each.region === code)
        return { code, links: own.length, sites: distinct(own.map(each => each.site)) }
      }),
    )
  })
  test('by anchor', () => {
    const { rows, total } = sumByAnchor(links, chosen, new Set([3, 4]), 5)
    expect(total).toBe(distinct(there.map(each => each.anchor)))
    for (const row of rows) {
      const own = there.filter(each => each.anchor === row.anchor)
      const times = (target: number): number => own.filter(each => each.target === target).length
      const [target] = [1, 2, 3, 4, 5, 6].sort((a, b) => times(b) - times(a) || a - b)
      expect(row).toEqual({
        anchor: row.anchor,
        kind: Math.min(...own.map(each => each.kind)),
        links: own.length,
        follow: own.filter(each => each.rel === 0).length,
        sites: distinct(own.map(each => each.site)),
        networked: distinct(own.map(each => each.site).filter(site => site === 3 || site === 4)),
        target,
      })
    }
    expect(rows.map(row => row.sites)).toEqual(rows.map(row => row.sites).toSorted((a, b) => b - a))
  })
  test('by week', () => {
    const ever = chosenLinks(links, { age: 'ever', goneSince: 0, targets: null, sources: null })
    const sites = [...new Set(list.map(each => each.site))].map(site => list.filter(each => each.site === site))
    const datedOf = (own: readonly Link[]) => own.filter(each => each.dated && each.first).map(each => each.first)
    for (const { week, gained, lost, fresh } of countByWeek(links, ever)) {
      const monday = (day: number): number => (day ? mondayOf(day) : 0)
      expect(gained).toBe(sites.filter(own => monday(least(datedOf(own))) === week).length)
      expect(fresh).toBe(week ? sites.filter(own => datedOf(own).some(day => mondayOf(day) === week)).length : 0)
      const ended = sites.filter(own => own.every(each => each.gone))
      expect(lost).toBe(ended.filter(own => mondayOf(Math.max(...own.map(each => each.gone))) === week).length)
    }
  })
})

test('links are chosen by age, page and source; weeks begin on Mondays', () => {
  const link = made(1, 1)[0]!
  const links = columns([
    { ...link, site: 1, target: 1, gone: 0, seenBy: 1 },
    { ...link, site: 2, target: 2, gone: 100, seenBy: 9 },
    { ...link, site: 3, target: 2, gone: 90, seenBy: 2 },
  ])
  const choose = (
    age: 'there' | 'lost' | 'ever',
    targets: ReadonlySet<number> | null,
    sources: number | null = null,
  ) => [...chosenLinks(links, { age, goneSince: 95, targets, sources })]
  expect(choose('there', null)).toEqual([1, 0, 0])
  expect(choose('lost', null)).toEqual([0, 1, 0])
  expect(choose('ever', new Set([2]))).toEqual([0, 1, 1])
  expect(choose('ever', null, 1)).toEqual([1, 1, 0])
  expect(choose('ever', null, 10)).toEqual([0, 1, 1])
  // 1970-01-01 was a Thursday, 2026-11-30 a Monday.
  expect([mondayOf(0), mondayOf(4), mondayOf(10), mondayOf(20_787)]).toEqual([-3, 4, 4, 20_787])
})
