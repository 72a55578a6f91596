import { describe, expect, test } from 'vitest'
import { dayOf, isoOf } from '../calendar.ts'
import { advertisersOf } from './advertisers.ts'
import { anchorOf } from './anchors.ts'
import { changeEffect } from './changes.ts'
import { linkKind, linkRegion, linkRel } from './links.ts'
import { businessesOf, townOf } from './towns.ts'
import { cities, metresBetween } from './vocabulary.ts'
import { addressOf, makeWorld } from './world.ts'

const today = dayOf('2026-11-20')
const world = makeWorld(7, 1, today)

describe('sites', () => {
  test('of every kind are there, with hosts, addresses, owners and languages', () => {
    const kinds = new Set(world.sites.map(site => site.kind))
    for (const kind of [
      'own',
      'rival',
      'magazine',
      'blog',
      'forum',
      'directory',
      'school',
      'public',
      'marketplace',
      'studio',
      'network',
      'parked',
    ])
      expect(kinds).toContain(kind)
    expect(world.sites.filter(site => site.kind === 'network')).toHaveLength(9)
    for (const site of world.sites) {
      expect(site.address).toMatch(/^198\.1[89]\.\d{1,3}\.\d{1,3}$/)
      for (const part of site.address.split('.')) expect(Number(part)).toBeLessThan(256)
      expect(site.owner).not.toBe('')
    }
    expect(new Set(world.sites.map(site => site.language))).toEqual(new Set(['en', 'de']))
  })
  test('of the network share two subnets and one owner, others share addresses only with their host', () => {
    const network = world.sites.filter(site => site.kind === 'network')
    const subnets = new Set(network.map(site => site.address.split('.').slice(0, 3).join('.')))
    expect(subnets.size).toBe(2)
    expect(new Set(network.map(site => site.owner)).size).toBe(1)
    expect(
      world.sites.some(site => site.kind !== 'network' && subnets.has(site.address.split('.').slice(0, 3).join('.'))),
    ).toBe(false)
  })
})

describe('pages', () => {
  test('have addresses of their own, on hosts of their site', () => {
    expect(world.pageByAddress.size).toBe(world.pages.length)
    for (const page of world.pages)
      expect(new URL(addressOf(world, page)).hostname.endsWith(world.sites[page.site]!.domain)).toBe(true)
    expect(world.pages.some(page => page.onSecondHost)).toBe(true)
    expect(world.pages.some(page => page.language === 'de' && page.site === world.own.id)).toBe(true)
  })
  test('of English needs have English wording with the right article', () => {
    for (const keyword of world.keywords.filter(each => each.language === 'en')) {
      expect(keyword.phrase).not.toMatch(/\ba [aeio]/)
      expect(keyword.phrase).not.toMatch(/[{}]/)
    }
  })
})

describe('links', () => {
  const { links, pages, sites } = world
  const rows = Array.from({ length: links.count }, (_, i) => i)
  test('stand between pages that stood when they were set', () => {
    for (const i of rows) {
      const [source, target] = [pages[links.source[i]!]!, pages[links.target[i]!]!]
      expect(source.site !== target.site && links.born[i]! >= source.born && links.born[i]! >= target.born).toBe(true)
      if (links.died[i]) expect(links.died[i]!).toBeGreaterThan(links.born[i]!)
    }
  })
  test('are of all kinds, and what is linked much is rare', () => {
    const count = (column: Uint8Array, code: number): number => rows.filter(i => column[i] === code).length
    for (const code of Object.values(linkKind)) expect(count(links.kind, code)).toBeGreaterThan(20)
    for (const code of Object.values(linkRel)) expect(count(links.rel, code)).toBeGreaterThan(100)
    for (const code of Object.values(linkRegion)) expect(count(links.region, code)).toBeGreaterThan(100)
    const degree = new Int32Array(pages.length)
    for (const i of rows) degree[links.target[i]!]!++
    const sorted = [...degree].sort((a, b) => b - a)
    const top = sorted.slice(0, pages.length / 100).reduce((a, b) => a + b, 0)
    expect(top / links.count).toBeGreaterThan(0.25)
    expect(sorted[pages.length >> 1]).toBeLessThan(5)
  })
  test('come in bursts for some pages: a fortnight with more than a tenth of all their links', () => {
    const bursts = pages.filter(page => {
      const { offsets, order } = world.linksByTarget
      const born = Array.from(order.subarray(offsets[page.id]!, offsets[page.id + 1]!), i => links.born[i]!).sort(
        (a, b) => a - b,
      )
      return born.some((day, i) => i + 25 < born.length && born[i + 25]! - day <= 14)
    })
    expect(bursts.length).toBeGreaterThanOrEqual(3)
    expect(bursts.length).toBeLessThan(60)
  })
  test('of the network go to itself and its three customers', () => {
    const of = rows.filter(i => sites[pages[links.source[i]!]!.site]!.kind === 'network' && links.wording[i]! <= 2)
    const inside = of.filter(i => sites[pages[links.target[i]!]!.site]!.kind === 'network')
    expect(inside.length / of.length).toBeGreaterThan(0.3)
  })
  test('have words that fit their wording', () => {
    for (const i of rows.slice(0, 300)) {
      const anchor = anchorOf(world, i)
      if (links.kind[i] !== linkKind.image) expect(anchor.length).toBeGreaterThan(0)
      if (links.wording[i] === 1 && links.kind[i] === 0) expect(anchor).toBe(pages[links.target[i]!]!.phrase)
    }
  })
})

describe('what the own site changed', () => {
  test('works from its day on, fully after a week, on its own subjects only', () => {
    const change = world.changes.find(each => each.effect > 0.1)!
    const alone = [change]
    const inside = world.heads.find(head => head.group === change.group)!
    const outside = world.heads.find(head => head.group !== change.group)!
    expect(changeEffect(alone, inside, change.day)).toBe(0)
    expect(changeEffect(alone, inside, change.day + 3)).toBeCloseTo((change.effect * 3) / 7)
    expect(changeEffect(alone, inside, change.day + 90)).toBeCloseTo(change.effect)
    expect(changeEffect(alone, outside, change.day + 90)).toBe(0)
    expect(world.changes.filter(each => isoOf(each.day).startsWith('2026')).length).toBeGreaterThan(3)
  })
})

describe('advertisers', () => {
  test('bid more on what sells, hardly on questions, and come and go by the months', () => {
    const about = (competition: (share: number) => boolean): number[] =>
      world.keywords
        .filter(keyword => competition(keyword.competition))
        .slice(0, 300)
        .map(keyword => advertisersOf(world, keyword, 24_310).length)
    const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length
    expect(mean(about(share => share > 0.7))).toBeGreaterThan(2 * mean(about(share => share < 0.15)) + 1)
    const keyword = world.keywords.find(each => each.competition > 0.8)!
    const names = (month: number): string =>
      advertisersOf(world, keyword, month)
        .map(each => each.site.domain)
        .join()
    expect(new Set(Array.from({ length: 24 }, (_, i) => names(24_290 + i))).size).toBeGreaterThan(3)
    expect(names(24_300)).toBe(names(24_300))
  })
})

describe('towns', () => {
  test.each(cities.map(city => city.code))('%s has streets on land, a coast, and businesses near its centre', code => {
    const town = townOf(world, code)!
    expect(town.streets.length).toBeGreaterThan(40)
    expect(town.sea[0]).toEqual(town.sea.at(-1))
    const businesses = businessesOf(world, code)
    expect(businesses.length).toBeGreaterThan(20)
    for (const business of businesses) expect(metresBetween(business.position, town.place.centre)).toBeLessThan(6_000)
    expect(new Set(businesses.map(each => each.id)).size).toBe(businesses.length)
    expect(businesses.filter(each => each.doubt).length).toBeGreaterThanOrEqual(3)
  })
})
