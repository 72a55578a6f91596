import { afterEach, describe, expect, test } from 'vitest'
import { listening } from '../test/listening.ts'
import { dayOf, isoOf } from './calendar.ts'
import { Faults } from './faults.ts'
import { createStandin } from './server.ts'
import { createTruth } from './truth.ts'
import { makeWorld } from './world/world.ts'

const today = dayOf('2026-11-20')
const world = makeWorld(7, 0.5, today)
const faults = new Faults(7, [])
const outside = listening(createStandin(world, { faults, throttled: false, key: 'k' }))
const truth = listening(createTruth(world, faults))
afterEach(async () => {
  await truth.ask('/unpublish')
  faults.list = []
})
const results = async (query: string, date = '2026-11-20') =>
  (await outside.ask(`/engines/lantern/search?q=${encodeURIComponent(query)}&language=en&num=100&date=${date}`)).body
    .organic as Array<{ url: string; position: number; title: string }>
const page = (more: object = {}) => ({
  site: 'clayharbour.example',
  title: 'Glaze pencil for beginners, tried and noted',
  text: `# Glaze pencil for beginners\n${'A glaze pencil for beginners draws thin lines on bisque ware before it is fired. '.repeat(40)}\n## Best glaze pencil\nWhich glaze pencil is best depends on the clay.`,
  date: isoOf(today - 90),
  ...more,
})

describe('visits', () => {
  test('of all sites are the sum of those of their pages, and what two share is no more than either gets', async () => {
    const { sites, pages, shared } = (await truth.ask('/visits', ['kilnandtide.example'])).body as {
      sites: Array<{ domain: string; visits: number }>
      pages: Array<{ url: string; visits: number }>
      shared: Array<{ domain: string; with: Array<{ domain: string; visits: number }> }>
    }
    const total = (list: ReadonlyArray<{ visits: number }>): number => list.reduce((sum, each) => sum + each.visits, 0)
    expect(total(pages)).toBeCloseTo(total(sites), 3)
    const visitsOf = new Map(sites.map(each => [each.domain, each.visits]))
    const [own] = shared
    expect(own!.domain).toBe('kilnandtide.example')
    expect(own!.with.length).toBeGreaterThan(10)
    for (const { domain, visits } of own!.with) {
      expect(visits).toBeLessThanOrEqual(visitsOf.get(domain)! + 1e-6)
      expect(visits).toBeLessThanOrEqual(visitsOf.get('kilnandtide.example')! + 1e-6)
    }
  }, 120_000)
})

describe('publishing', () => {
  test('a page ranks from its day on, is on the web, and links count for it', async () => {
    const before = await results('glaze pencil for beginners')
    const [url] = (await truth.ask('/publish', [page()])).body
    const plain = await results('glaze pencil for beginners')
    expect(before.some(each => each.url === url)).toBe(false)
    const position = plain.find(each => each.url === url)!.position
    expect(position).toBeLessThan(before.length)
    expect((await results('glaze pencil for beginners', isoOf(today - 91))).some(each => each.url === url)).toBe(false)
    await truth.ask('/unpublish')
    expect(await results('glaze pencil for beginners')).toEqual(before)
    const links = plain
      .filter(each => !each.url.includes('clayharbour'))
      .slice(0, 40)
      .map(each => each.url)
    const [linked] = (
      await truth.ask('/publish', [
        page({ site: 'tonblog.example', title: 'Engobe', text: 'Engobe.' }),
        page({ links }),
      ])
    ).body.slice(1)
    const after = (await results('glaze pencil for beginners')).find(each => each.url === linked)!.position
    expect(after).toBeLessThanOrEqual(position)
    const record = (await truth.ask(`/page?url=${linked}`)).body
    expect(record.headings).toEqual(['Glaze pencil for beginners', 'Best glaze pencil'])
  })
  test('a text on something else does not rank, and mistakes are named', async () => {
    const [url] = (await truth.ask('/publish', [page({ title: 'Ceramic vase ideas', text: 'Ceramic vase ideas.' })]))
      .body
    expect((await results('glaze pencil for beginners')).slice(0, 20).some(each => each.url === url)).toBe(false)
    expect((await truth.ask('/publish', [page({ site: 'nobody.example' })])).body.error).toContain('nobody.example')
    expect((await truth.ask('/publish', [page({ title: 'zzzz' })])).body.error).toContain('zzzz')
    expect((await truth.ask('/publish', [page({ links: ['https://x.example/'] })])).body.error).toContain('x.example')
  })
})

describe('hidden truth', () => {
  test('the rule alone orders pages nearly as shown', async () => {
    const phrases = world.keywords.filter((each, i) => each.language === 'en' && i % 150 === 0).map(each => each.phrase)
    const { body } = await truth.ask('/orders', phrases)
    let right = 0
    let pairs = 0
    for (const { pages } of body)
      for (let i = 0; i < pages.length; i++)
        for (let j = i + 1; j < pages.length; j++, pairs++) if (pages[i].score > pages[j].score) right++
    expect(right / pairs).toBeGreaterThan(0.85)
    expect(right / pairs).toBeLessThan(0.999)
  })
  test('meanings tell brands, need and demand; unknown phrases say so', async () => {
    const { body } = await truth.ask('/meanings', [
      'clay harbour reviews',
      'beginner pottery wheel',
      'pottery wheel for beginners',
      'no such thing',
    ])
    expect(body[0].brand_of).toBe('clayharbour.example')
    expect(body[1].need).toBe(body[2].need)
    expect(body[1].monthly).toHaveLength(48)
    expect(body[3]).toEqual({ phrase: 'no such thing', known: false })
  })
  test('four shifts a year and engine, on the days where positions truly move', async () => {
    const shifts = (await truth.ask('/shifts?from=2025-11-20')).body as Array<{ engine: string; date: string }>
    for (const engine of ['lantern', 'plover']) expect(shifts.filter(each => each.engine === engine).length).toBe(4)
    const shift = shifts.find(each => each.engine === 'lantern')!
    const move = async (date: string): Promise<number> => {
      let sum = 0
      let count = 0
      for (const keyword of world.keywords.filter((each, i) => each.language === 'en' && i % 60 === 0)) {
        const [a, b] = await Promise.all([isoOf(dayOf(date) - 1), date].map(each => results(keyword.phrase, each)))
        a!.slice(0, 20).forEach((result, i) => {
          const later = b!.findIndex(each => each.url === result.url)
          sum += Math.min(20, Math.abs((later < 0 ? 99 : later) - i))
          count++
        })
      }
      return sum / count
    }
    expect(await move(shift.date)).toBeGreaterThan(1.8 * (await move(isoOf(dayOf(shift.date) - 6))))
  })
  test('a change of the own site moves its pages as it says', async () => {
    const changes = (await truth.ask('/changes')).body as Array<{ date: string; group: string; effect: number }>
    const big = changes.filter(each => Math.abs(each.effect) > 0.25 && each.date > '2025-01-01')
    expect(big.length).toBeGreaterThan(0)
    const change = big[0]!
    const phrases = world.keywords
      .filter(
        each =>
          each.language === 'en' &&
          world.heads[each.head]!.group === change.group &&
          world.heads[each.head]!.weight > 8,
      )
      .slice(0, 60)
      .map(each => each.phrase)
    const positions = async (date: string): Promise<number> => {
      const found = await Promise.all(
        phrases.map(async phrase =>
          (await results(phrase, date)).findIndex(each => each.url.startsWith('https://kilnandtide.example/')),
        ),
      )
      return found.map(each => (each < 0 ? 100 : each)).reduce((a, b) => a + b, 0) / found.length
    }
    const before = await positions(isoOf(dayOf(change.date) - 1))
    const after = await positions(isoOf(dayOf(change.date) + 10))
    expect(Math.sign(before - after)).toBe(Math.sign(change.effect))
  })
  test('sites, pages, links and businesses are all there with what they hide', async () => {
    const sites = (await truth.ask('/sites')).body
    expect(sites.filter((site: { network: boolean }) => site.network)).toHaveLength(9)
    expect((await truth.ask('/pages?every=10')).body.length).toBeGreaterThan(200)
    const links = (await truth.ask('/links?every=50')).body
    expect(links).toHaveLength(Math.ceil(world.links.count / 50))
    expect((await truth.ask('/businesses?town=lindle')).body.some((each: { doubt?: string }) => each.doubt)).toBe(true)
    expect((await truth.ask('/nothing')).status).toBe(404)
  })
  test('faults are set by a text, and every question is counted', async () => {
    expect((await truth.ask('/faults', 'registry:serverError:1')).status).toBe(200)
    expect((await outside.ask('/registry/domain/kilnandtide.example')).status).toBe(503)
    expect((await truth.ask('/faults', 'x')).status).toBe(400)
    const { requests } = (await truth.ask('/requests')).body
    await truth.ask('/changes')
    expect((await truth.ask('/requests')).body.requests).toBe(requests + 1)
  })
})
