import { describe, expect, test } from 'vitest'
import { listening } from '../../test/listening.ts'
import { dayOf, isoOf } from '../calendar.ts'
import { Faults } from '../faults.ts'
import { clickShare, seenShare } from '../rank/clicks.ts'
import { understand } from '../rank/understand.ts'
import { createStandin } from '../server.ts'
import { trueSearches } from '../world/demand.ts'
import { businessesOf } from '../world/towns.ts'
import { metresBetween, places } from '../world/vocabulary.ts'
import { makeWorld } from '../world/world.ts'

const today = dayOf('2026-11-20')
const world = makeWorld(7, 0.5, today)
const { ask } = listening(createStandin(world, { faults: new Faults(7, []), throttled: false, key: 'k' }))
const own = 'domain:kilnandtide.example'
const sum = (rows: Array<{ clicks: number; impressions: number }>, of: 'clicks' | 'impressions'): number =>
  rows.reduce((total, row) => total + row[of], 0)

describe('the query log', () => {
  const query = (body: object) =>
    ask('/querylog/query', { property: own, from: '2026-10-01', to: '2026-10-28', limit: 25_000, ...body })
  test('sums agree whatever they are summed over; withheld queries are in totals only', async () => {
    const total = (await query({ dimensions: [] })).body.rows
    expect(total).toHaveLength(1)
    for (const dimensions of [['day'], ['device'], ['country', 'day']]) {
      const { rows } = (await query({ dimensions })).body
      expect(sum(rows, 'clicks')).toBe(total[0].clicks)
      expect(sum(rows, 'impressions')).toBe(total[0].impressions)
      for (const row of rows) expect(row.clicks).toBeLessThanOrEqual(row.impressions)
    }
    const byPage = (await query({ dimensions: ['page'] })).body.rows
    expect(sum(byPage, 'clicks')).toBe(total[0].clicks)
    expect(sum(byPage, 'impressions')).toBeGreaterThan(total[0].impressions)
    const named = (await query({ dimensions: ['query'] })).body.rows
    expect(named.length).toBeGreaterThan(40)
    expect(sum(named, 'impressions')).toBeLessThan(total[0].impressions)
    expect(sum(named, 'impressions')).toBeGreaterThan(0.4 * total[0].impressions)
    expect(named.some((row: { query: string }) => world.byPhrase.get(row.query)!.base < 2)).toBe(false)
  })
  test('impressions of a well-placed query are its true searches of those days', async () => {
    const { rows } = (await query({ dimensions: ['query', 'device'] })).body
    const high = rows.filter(
      (row: { position: number; impressions: number }) => row.position < 3 && row.impressions > 150,
    )
    expect(high.length).toBeGreaterThan(0)
    for (const row of high) {
      const searches = trueSearches(world, world.byPhrase.get(row.query)!, 2026 * 12 + 9)
      const expected = (searches / 30.4) * 28 * (row.device === 'mobile' ? 0.58 : 0.42)
      // The 28 days reach into another month, so a query with a season is off by what it changes from one to the next.
      expect(row.impressions / expected).toBeGreaterThan(0.7)
      expect(row.impressions / expected).toBeLessThan(1.4)
    }
  })
  test('positions are those the engine shows', async () => {
    const { rows } = (await query({ from: '2026-10-05', to: '2026-10-05', dimensions: ['query', 'page', 'device'] }))
      .body
    for (const row of rows.slice(0, 12)) {
      const language = world.byPhrase.get(row.query)!.language
      const shown = await ask(
        `/engines/lantern/search?q=${encodeURIComponent(row.query)}&language=${language}&device=${row.device}&date=2026-10-05&num=100&place=${language === 'de' ? 'verlau' : 'tarrow'}`,
      )
      expect(shown.body.organic.find((result: { url: string }) => result.url === row.page).position).toBe(row.position)
    }
  })
  test('parts of the site are properties of their own; strangers are refused; the last two days are missing', async () => {
    const { properties } = (await ask('/querylog/properties')).body
    expect(properties.map((each: { id: string }) => each.id)).toContain(own)
    const guides = (await query({ property: 'https://kilnandtide.example/guides/', dimensions: ['page'] })).body.rows
    expect(guides.length).toBeGreaterThan(0)
    for (const row of guides) expect(row.page).toMatch(/^https:\/\/kilnandtide\.example\/guides\//)
    expect((await query({ property: 'domain:clayharbour.example' })).status).toBe(404)
    expect((await query({ dimensions: ['weather'] })).body.error.message).toContain('weather')
    expect((await query({ from: isoOf(today - 1), to: isoOf(today), dimensions: ['day'] })).body.rows).toEqual([])
  })
  test('the CSV export has the same rows as the API', async () => {
    const { body } = await ask(`/querylog/export.csv?property=${own}&from=2026-10-01&to=2026-10-02`)
    const lines = String(body).trim().split('\n')
    const { rows } = (
      await query({ from: '2026-10-01', to: '2026-10-02', dimensions: ['day', 'query', 'page', 'country', 'device'] })
    ).body
    expect(lines[0]).toBe('Day,Query,Page,Country,Device,Clicks,Impressions,Position')
    expect(lines.slice(1).sort()).toEqual(
      rows
        .map((row: Record<string, unknown>) =>
          [row.day, row.query, row.page, row.country, row.device, row.clicks, row.impressions, row.position].join(),
        )
        .sort(),
    )
  })
})

describe('true click behaviour', () => {
  const plain = { ads: 0, answer: false, shopping: false, map: false, images: false }
  const query = understand(world, 'pottery wheel', 'en')!
  test('falls with the place, and with all else that the page shows', () => {
    for (const device of ['desktop', 'mobile'] as const)
      for (let position = 2; position <= 60; position++) {
        expect(clickShare(position, device, query, plain)).toBeLessThanOrEqual(
          clickShare(position - 1, device, query, plain),
        )
        expect(seenShare(position, device)).toBeLessThanOrEqual(seenShare(position - 1, device))
        expect(clickShare(position, device, query, plain)).toBeLessThanOrEqual(seenShare(position, device))
      }
    for (const feature of [{ ads: 3 }, { answer: true }, { shopping: true }, { map: true }, { images: true }])
      expect(clickShare(2, 'desktop', query, { ...plain, ...feature })).toBeLessThan(
        clickShare(2, 'desktop', query, plain),
      )
  })
  test('who wants a site clicks it where it stands first', () => {
    const brand = understand(world, 'clay harbour', 'en')!
    expect(clickShare(1, 'desktop', brand, plain)).toBeGreaterThan(0.55)
    expect(clickShare(2, 'desktop', brand, plain)).toBeLessThan(0.1)
  })
})

describe('engines', () => {
  test('give deep results in parts that fit together', async () => {
    const path = '/engines/plover/search?q=pottery%20wheel&language=en'
    const all = (await ask(`${path}&num=40`)).body.organic
    const later = (await ask(`${path}&start=21&num=20`)).body.organic
    expect(later).toEqual(all.slice(20))
  })
  test('find a site for its own name', async () => {
    const { organic } = (await ask('/engines/lantern/search?q=clay%20harbour&language=en')).body
    expect(organic[0].url).toBe('https://clayharbour.example/')
  })
  test("put studios of the searcher's city first, and show nearer businesses to who is nearer", async () => {
    const [hallow, wexmere] = ['port-hallow', 'wexmere'].map(code => places.find(place => place.code === code)!)
    const at = async (point: readonly number[]) =>
      (await ask(`/engines/lantern/local?q=pottery%20class&language=en&near=${point.join()}&num=20`)).body.results
    const near = await at(hallow!.centre)
    expect(near.length).toBeGreaterThan(8)
    expect(near.every((each: { distance_metres: number }) => each.distance_metres < 6_000)).toBe(true)
    expect((await at(wexmere!.centre)).map((each: { id: string }) => each.id)).not.toEqual(
      near.map((each: { id: string }) => each.id),
    )
    const business = businessesOf(world, 'port-hallow').find(
      each => each.category === 'pottery studio' && metresBetween(each.position, hallow!.centre) > 900,
    )!
    const rank = async (point: readonly number[]): Promise<number> => {
      const results = await at(point)
      const found = results.findIndex((each: { id: string }) => each.id === `b${business.id}`)
      return found < 0 ? 99 : found
    }
    expect(await rank(business.position)).toBeLessThan(await rank([business.position[0] + 0.03, business.position[1]]))
    expect((await ask('/engines/lantern/local?q=pottery%20class&language=en')).status).toBe(400)
    expect((await ask('/engines/lantern/local?q=pottery%20class&language=en&near=200,1')).body.error.message).toContain(
      'latitude',
    )
    expect(await at([0, 0])).toEqual([])
  })
  test('a query for something near shows map results of the city', async () => {
    const { body } = await ask('/engines/lantern/search?q=pottery%20class%20near%20me&language=en&place=wexmere')
    expect(body.map).toHaveLength(3)
    const centre = places.find(place => place.code === 'wexmere')!.centre
    for (const each of body.map) expect(metresBetween([each.latitude, each.longitude], centre)).toBeLessThan(6_000)
  })
})

describe('other services', () => {
  test('totals by match: of the wording, of phrases that hold it in its order, of phrases with its words', async () => {
    const { body } = await ask('/ads/figures', {
      keywords: ['pottery wheel', 'wheel pottery', 'no such phrase'],
      place: 'tarrow',
      language: 'en',
    })
    const [straight, turned, unknown] = body.figures.map((figure: { match: object | null }) => figure.match)
    expect(unknown).toBeNull()
    for (const match of [straight, turned].filter(Boolean)) {
      expect(match.exact).toBeLessThanOrEqual(match.phrase)
      expect(match.phrase).toBeLessThanOrEqual(match.broad)
    }
    expect(straight.exact).toBeGreaterThan(0)
    expect(straight.phrase).toBeGreaterThan(straight.exact)
  })

  test('advertisers by keyword and by site tell the same story', async () => {
    const keywords = world.keywords
      .filter(each => each.language === 'en' && each.competition > 0.7)
      .slice(0, 40)
      .map(each => each.phrase)
    const { body } = await ask('/ads/advertisers', { keywords, language: 'en', month: '2026-08' })
    const shown = body.keywords.find((each: { advertisers: unknown[] }) => each.advertisers.length)
    const [first] = shown.advertisers
    const pages: Array<{ text: string; position: number }> = []
    for (let cursor = '0'; cursor !== null; ) {
      const part: { keywords: typeof pages; next_cursor: string | null } = (
        await ask(`/ads/advertised?site=${first.domain}&language=en&month=2026-08&cursor=${cursor}`)
      ).body
      pages.push(...part.keywords)
      if (part.next_cursor === null) break
      cursor = part.next_cursor
    }
    expect(pages.find(each => each.text === shown.text)?.position).toBe(first.position)
    expect((await ask('/ads/advertisers', { keywords, language: 'en', month: '2026-13' })).status).toBe(400)
  })
  test('the rankings feed tells where a site stands as the engine shows it, page by page, by edition', async () => {
    const path = '/rankings/lantern?target=clayharbour.example&place=tarrow&language=en'
    const full = (await ask(`${path}&num=5000`)).body
    expect([full.month, full.as_of, full.next_cursor]).toEqual(['2026-11', '2026-11-01', null])
    expect(full.rows).toHaveLength(full.total)
    expect(full.keywords).toBeGreaterThanOrEqual(full.total)
    const row = full.rows[0]
    const query = `q=${encodeURIComponent(row.text)}&language=en&place=tarrow&date=2026-11-01&num=100`
    const shown = (await ask(`/engines/lantern/search?${query}`)).body.organic
    expect(shown.find((each: { url: string }) => each.url.includes('clayharbour.example'))).toMatchObject({
      position: row.position,
      url: row.url,
    })
    const parts = [(await ask(`${path}&num=7`)).body, (await ask(`${path}&num=7&cursor=7`)).body]
    expect(parts.flatMap(part => part.rows)).toEqual(full.rows.slice(0, 14))
    const weekly = (await ask(`${path}&edition=weekly&num=5000`)).body
    expect(new Date(weekly.as_of).getUTCDay()).toBe(1)
    expect(weekly.keywords).toBeLessThan(full.keywords / 3)
    expect(Math.max(...weekly.rows.map((each: { position: number }) => each.position))).toBeLessThanOrEqual(20)
    const page = (await ask(`${path.replace('clayharbour.example', encodeURIComponent(row.url))}&num=5000`)).body
    expect(new Set(page.rows.map((each: { url: string }) => each.url))).toEqual(new Set([row.url]))
    expect((await ask(`${path}&month=2025-02`)).body.as_of).toBe('2025-02-01')
    expect((await ask(`${path}&month=2020-02`)).status).toBe(400)
    expect((await ask(`${path}&edition=daily`)).status).toBe(400)
  })
  test('feeds narrow down to host, folder and page, page by page', async () => {
    const total = async (target: string): Promise<number> =>
      (await ask('/feeds/north/totals', { targets: [target] })).body.totals[0].links
    const site = await total('bazaarbay.example')
    const folder = await total(
      `${new URL((await ask('/feeds/north/links?target=bazaarbay.example&num=1')).body.links[0].target).origin}/item/*`,
    )
    expect(folder).toBeLessThan(site)
    const rows: Array<{ source: string; target: string; anchor: string; rel: string; lost: boolean }> = []
    for (let cursor = '0'; ; ) {
      const { links, next_cursor } = (await ask(`/feeds/north/links?target=bazaarbay.example&num=700&cursor=${cursor}`))
        .body
      rows.push(...links)
      if (next_cursor === null) break
      cursor = next_cursor
    }
    expect(rows.filter(row => !row.lost)).toHaveLength(site)
  })
  test('registry and resolver agree on who holds an address', async () => {
    const network = world.sites.filter(site => site.kind === 'network')
    const { Answer } = (await ask(`/dns/resolve?name=${network[0]!.domain}&type=A`)).body
    const holder = (await ask(`/registry/ip/${Answer[0].data}`)).body
    expect(holder.startAddress.split('.').slice(0, 3)).toEqual(Answer[0].data.split('.').slice(0, 3))
    const owner = (await ask(`/registry/domain/${network[1]!.domain}`)).body.entities[0].vcardArray[1]
    expect(owner).toContainEqual(['fn', {}, 'text', 'Offer Group Nine'])
    expect((await ask('/dns/resolve?name=free-name.example')).body).toMatchObject({ Status: 3, Answer: [] })
  })
  test('town maps are GeoJSON with longitude first', async () => {
    const { body, headers } = await ask('/maps/towns/port-hallow.geojson')
    expect(headers.get('content-type')).toContain('geo+json')
    const centre = body.features.find((each: { properties: { class: string } }) => each.properties.class === 'centre')
    expect(centre.geometry.coordinates[0]).toBeLessThan(0)
    expect((await ask('/maps/businesses/port-hallow.geojson')).body.features.length).toBeGreaterThan(20)
    expect((await ask('/maps/towns/atlantis.geojson')).status).toBe(404)
  })
})
