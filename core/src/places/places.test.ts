import { describe, expect, test } from 'vitest'
import { doubtfulListings, type Listing, type TownKnown } from './doubtful-listings.ts'
import { distanceMetres, gridPoints, gridSizes, metresOfDegree, offsetMetres, placeAt } from './grid-points.ts'
import { hexagons, rankClassOf, rankText } from './hexagons.ts'
import { directionOf, rankChanges, rankFigures, sumRanks } from './rank-figures.ts'
import { metresText, rankSentence } from './rank-sentence.ts'
import { bestRanksOf, openings, ranksOf, strongholds } from './strongholds.ts'

const centre = { latitude: 47.42, longitude: -28.61 }

describe('grids', () => {
  test('points lie row by row from the north-west, the centre in the middle', () => {
    const points = gridPoints(centre, 3, 500)
    expect(points.map(({ east, north }) => [east, north])).toEqual([
      [-500, 500],
      [0, 500],
      [500, 500],
      [-500, 0],
      [0, 0],
      [500, 0],
      [-500, -500],
      [0, -500],
      [500, -500],
    ])
    expect(points[4]).toMatchObject(centre)
    expect(distanceMetres(points[4]!, points[5]!)).toBeCloseTo(500, 0)
    expect(distanceMetres(points[0]!, points[8]!)).toBeCloseTo(Math.hypot(1000, 1000), 0)
  })
  test('a degree has the length it has on the WGS 84 ellipsoid', () => {
    // Tables of the ellipsoid: at the equator, at 45° and at 60°.
    expect(metresOfDegree(0).north).toBeCloseTo(110_574.3, 0)
    expect(metresOfDegree(0).east).toBeCloseTo(111_319.5, 0)
    expect(metresOfDegree(45).north).toBeCloseTo(111_131.8, 0)
    expect(metresOfDegree(45).east).toBeCloseTo(78_846.8, 0)
    expect(metresOfDegree(60).east).toBeCloseTo(55_800, -1)
  })
  test('offsets lead back, across the day line too', () => {
    const there = placeAt({ latitude: -17, longitude: 179.99 }, 5_000, -3_000)
    expect(there.longitude).toBeLessThan(-179)
    const { east, north } = offsetMetres({ latitude: -17, longitude: 179.99 }, there)
    expect([Math.round(east / 10) * 10, Math.round(north)]).toEqual([5_000, -3_000])
  })
  test('none reaches a pole', () => {
    expect(() => gridPoints({ latitude: 84.9, longitude: 0 }, 21, 5_000)).not.toThrow()
    expect(() => gridPoints({ latitude: 88.9, longitude: 0 }, 21, 5_000)).toThrow('reaches a pole')
    expect(gridSizes.every(size => size % 2 === 1)).toBe(true)
  })
})

describe('figures', () => {
  const points = gridPoints(centre, 3, 500)
  const ranks = [9, 4, 0, 3, 1, 2, 0, null, 5]
  test('not found counts as one below the last, not checked does not count', () => {
    expect(sumRanks(ranks, 20)).toEqual({
      checked: 8,
      mean: (9 + 4 + 21 + 3 + 1 + 2 + 21 + 5) / 8,
      first3: 3,
      found: 6,
    })
    expect(sumRanks([null, null], 20)).toEqual({ checked: 0, mean: null, first3: 0, found: 0 })
  })
  test('by distance and direction from the business; the radius of the first three ends before the first point beyond', () => {
    const figures = rankFigures(points, ranks, centre, { depth: 20, spacing: 500 })
    expect(figures.notChecked).toBe(1)
    expect(figures.rings.map(({ from, to, checked, first3 }) => [from, to, checked, first3])).toEqual([
      [0, 250, 1, 1],
      [250, 750, 7, 2],
    ])
    expect(figures.sectors.map(each => each.direction)).toEqual([
      'north',
      'north-east',
      'east',
      'south-east',
      'south-west',
      'west',
      'north-west',
    ])
    expect(figures.sectors.find(each => each.direction === 'south-west')).toMatchObject({ mean: 21, found: 0 })
    // East and west stand within three, north at the same distance does not.
    expect(Math.round(figures.firstThreeRadius!)).toBeLessThanOrEqual(500)
    expect(
      rankFigures(
        points,
        ranks.map(() => 7),
        centre,
        { depth: 20, spacing: 500 },
      ).firstThreeRadius,
    ).toBe(0)
    expect(
      rankFigures(
        points,
        ranks.map(() => null),
        centre,
        { depth: 20, spacing: 500 },
      ).firstThreeRadius,
    ).toBeNull()
    expect(
      rankFigures(
        points,
        ranks.map(() => 2),
        centre,
        { depth: 20, spacing: 500 },
      ).firstThreeRadius,
    ).toBeCloseTo(707, 0)
  })
  test('directions', () => {
    expect(directionOf(centre, placeAt(centre, 0, 900))).toBe('north')
    expect(directionOf(centre, placeAt(centre, -900, 5))).toBe('west')
    expect(directionOf(centre, placeAt(centre, 700, -700))).toBe('south-east')
  })
  test('changes are unknown where one run was not checked', () => {
    expect(rankChanges([1, 0, null, 4], [3, 2, 5, null], 20)).toEqual([2, -19, null, null])
  })
  test('the sentence reads the picture', () => {
    const say = (ranks: Array<number | null>, who: string | null = 'Quay Studio') =>
      rankSentence(rankFigures(points, ranks, centre, { depth: 20, spacing: 500 }), () => who, 500)
    expect(say(Array(9).fill(1))).toBe('Among the first three at every point.')
    expect(say(Array(9).fill(0))).toBe('It is found at no point.')
    expect(say(Array(9).fill(null))).toBe('Nothing was checked.')
    expect(say([3, 2, 3, 2, 1, 2, 9, 14, 9])).toMatch(
      /^Among the first three (within|at 6 of 9 points).*; behind Quay Studio in the south\.$/,
    )
    expect(say([8, 8, 8, 8, 1, 8, 8, 8, 8])).toBe('Among the first three at 1 of 9 points.')
    expect(say([9, 8, 9, 4, 5, 4, 4, 4, 4], null)).toBe('Nowhere among the first three; weakest in the north-east.')
    expect([metresText(20), metresText(873), metresText(2_345)]).toEqual(['50 m', '850 m', '2.3 km'])
  })
})

describe('who holds the ground', () => {
  const points = gridPoints(centre, 3, 1_000)
  const results = [[1, 2, 3], [1, 3], [3, 1, 2, 4], null, [2, 1], [1], [1], [4, 1, 2], []]
  test('ranks of a business, and the best of several', () => {
    expect(ranksOf(results, 2)).toEqual([2, 0, 3, null, 1, 0, 0, 3, 0])
    expect(bestRanksOf(results, [2, 4])).toEqual([2, 0, 3, null, 1, 0, 0, 1, 0])
  })
  test('strongholds: where each leads and how far that reaches', () => {
    const found = strongholds(points, results, () => centre, 20)
    expect(found.map(({ business, leads, first3 }) => [business, leads, first3])).toEqual(
      [
        [1, 4, 7],
        [3, 1, 3],
        [2, 1, 4],
        [4, 1, 1],
      ].sort((a, b) => b[1]! - a[1]! || b[2]! - a[2]!),
    )
    expect(found[0]!.reach).toBeCloseTo(Math.hypot(1_000, 1_000), -1)
    // Of eight checked points listed at seven; once it is not.
    expect(found[0]!.mean).toBeCloseTo((1 + 1 + 2 + 2 + 1 + 1 + 2 + 21) / 8)
  })
  test('openings: the first three are weak, far away or missing, and none is of the own', () => {
    const strong = { ...centre, reviews: 400, rating: 4.6, url: 'https://a.example/' }
    const weak = { ...centre, reviews: 3, rating: 4, url: null }
    const unknown = { ...centre, reviews: null, rating: null, url: 'https://b.example/' }
    const of = (listings: number[][], listing: (n: number) => typeof strong | typeof weak | typeof unknown) =>
      openings(points.slice(0, listings.length), listings, [9], listing, 2_000)
    expect(of([[1, 2, 3]], () => strong)).toEqual([])
    expect(of([[1, 2, 3]], () => unknown)).toEqual([])
    expect(of([[1, 2, 3]], n => (n < 3 ? weak : strong))).toEqual([{ at: 0, weak: 2, far: 0, rank: 0 }])
    expect(of([[1, 9, 3]], () => weak)).toEqual([])
    expect(of([[1]], () => strong)).toEqual([{ at: 0, weak: 2, far: 0, rank: 0 }])
  })
})

describe('hexagons', () => {
  test('one a point, six corners each, told apart in class and word', () => {
    const cells = hexagons(5)
    expect(cells).toHaveLength(25)
    expect(cells[7]).toMatchObject({ at: 7, x: 2, y: 1 })
    expect(cells[7]!.corners.split(' ')).toHaveLength(6)
    expect([1, 2, 3, 4, 10, 11, 0, null].map(rank => rankClassOf(rank))).toEqual([
      'first',
      'front',
      'front',
      'page',
      'page',
      'deep',
      'missing',
      'unchecked',
    ])
    expect(rankClassOf(1, true)).toBe('leftOut')
    expect([rankText(4, 20), rankText(0, 20), rankText(null, 20), rankText(null, 20, true)]).toEqual([
      '4',
      '20+',
      '–',
      '',
    ])
  })
})

describe('doubtful listings', () => {
  const known: TownKnown = {
    today: '2026-11-30',
    language: 'en',
    tradeWords: new Set(['potteri', 'class', 'workshop', 'kiln', 'hire', 'clay', 'shop', 'lindl', 'studio']),
    streets: new Map([
      ['Mill Row', [centre]],
      ['Far Lane', [placeAt(centre, 2_000, 0)]],
    ]),
    siteDoubt: url => (url.includes('offers') ? 'its site belongs to a network made to link' : null),
  }
  let made = 0
  const listing = (more: Partial<Listing> = {}): Listing => ({
    ...placeAt(centre, 40 * ++made, 0),
    id: `b${made}`,
    name: `Maker ${made} Pottery`,
    category: 'pottery studio',
    street: null,
    phone: `+990 302 ${1000 + made}`,
    url: `https://maker-${made}.example/`,
    reviews: 60,
    photos: 30,
    hours: 'Mon–Sat 9:00–18:00',
    openedOn: '2019-04-01',
    ...more,
  })
  const reasons = (list: Listing[]) => doubtfulListings(list, known).map(each => [each.id, each.reasons])
  test('a plain listing is none, nor is one of which little is known', () => {
    expect(
      reasons([
        listing(),
        listing({ url: null, reviews: null, photos: null, hours: null, openedOn: null, phone: null }),
      ]),
    ).toEqual([])
  })
  test('a name made of searches', () => {
    const stuffed = listing({ name: 'Best pottery class Lindle cheap pottery workshop near me', url: null })
    expect(reasons([stuffed])).toEqual([
      [stuffed.id, ['its name is made of searches: “best”, “cheap”, “near me”', 'it has no site']],
    ])
    const listed = listing({ name: 'Pottery classes Lindle kiln hire clay shop Lindle', url: null, photos: 1 })
    expect(reasons([listed])[0]![1]![0]).toBe('its name is made of searches: “pottery”, “classes”, “lindle”, “kiln”')
    expect(reasons([listing({ name: 'Lindle Pottery School' })])).toEqual([])
  })
  test('a telephone belongs to the one with most to show; branches of a chain may share theirs', () => {
    const phone = '+990 302 5555'
    const host = listing({ phone })
    const guest = listing({
      phone,
      url: null,
      photos: 1,
      hours: null,
      latitude: host.latitude,
      longitude: host.longitude,
    })
    expect(reasons([host, guest])).toEqual([
      [
        guest.id,
        [
          `it has the telephone of ${host.name}`,
          `it stands where ${host.name} does`,
          '60 reviews and 1 pictures',
          'it has no site',
        ],
      ],
    ])
    const url = 'https://glazeworks.example/'
    expect(
      reasons([listing({ name: 'Glazeworks North', phone, url }), listing({ name: 'Glazeworks Harbour', phone, url })]),
    ).toEqual([])
  })
  test('neighbours in one building are none', () => {
    const host = listing({ street: '4 Mill Row' })
    expect(
      reasons([host, listing({ street: '4 Mill Row', latitude: host.latitude, longitude: host.longitude })]),
    ).toEqual([])
  })
  test('new, with more reviews than visitors write, its pin far from its street', () => {
    const false1 = listing({ openedOn: '2026-10-01', reviews: 250, photos: 0, street: '9 Far Lane' })
    expect(reasons([false1])).toEqual([
      [
        false1.id,
        [
          'it has 250 reviews after 60 days',
          'its pin stands far from the street it names',
          '250 reviews and no pictures',
          'it is listed only since 2026-10-01',
        ],
      ],
    ])
    expect(reasons([listing({ openedOn: '2026-10-01', reviews: 12 })])).toEqual([])
  })
  test('many new listings of one telephone', () => {
    const fake = (n: number) =>
      listing({
        name: `Lindle Clay Time ${n}`,
        phone: '+990 399 1',
        url: 'https://offers.example/',
        openedOn: '2026-11-01',
        reviews: 4,
        photos: 0,
      })
    const found = reasons([fake(1), fake(2), fake(3)])
    expect(found).toHaveLength(3)
    expect(found[0]![1]![0]).toBe('3 new listings have this one telephone')
  })
})
