import { describe, expect, test } from 'vitest'
import { dayOf, isoOf, monthIso, monthOf } from './calendar.ts'
import { Faults, parseFaults } from './faults.ts'
import { Limits, serviceLimits } from './limits.ts'
import { planRanking } from './rank/candidates.ts'
import { trueHurdle } from './rank/hurdle.ts'
import { rankOn, scoresOn } from './rank/rank.ts'
import { understand } from './rank/understand.ts'
import { createStandin } from './server.ts'
import { listening } from '../test/listening.ts'
import { trueSearches } from './world/demand.ts'
import { makeWorld } from './world/world.ts'

const today = dayOf('2026-11-20')
const world = makeWorld(7, 1, today)
const setting = { engine: 'lantern' as const, device: 'desktop' as const, place: 'tarrow' }
const faults = new Faults(7, [])
const standin = listening(createStandin(world, { faults, throttled: false, key: 'k' }))
const { ask } = standin

describe('the world', () => {
  test('is the same for the same seed, size and day, and another for another seed', () => {
    const again = makeWorld(7, 1, today)
    const other = makeWorld(8, 1, today)
    const print = (each: typeof world) =>
      JSON.stringify([each.keywords.slice(0, 50), each.pages.slice(0, 50), [...each.links.target.slice(0, 500)]])
    expect(print(again)).toBe(print(world))
    expect(print(other)).not.toBe(print(world))
  })
  test('has the sizes that were asked for, all links between different sites', () => {
    expect(world.keywords.length).toBe(9_000)
    expect(world.links.count).toBe(60_000)
    expect(new Set(world.keywords.map(keyword => keyword.phrase)).size).toBe(world.keywords.length)
    for (let i = 0; i < world.links.count; i++)
      expect(world.pages[world.links.source[i]!]!.site).not.toBe(world.pages[world.links.target[i]!]!.site)
    expect(world.sites.every(site => site.domain.endsWith('.example'))).toBe(true)
  })
  test('a past day is the same whatever today is', () => {
    const later = makeWorld(7, 1, today + 40)
    for (const keyword of world.keywords.slice(0, 12)) {
      const [a, b] = [world, later].map(each => {
        const query = understand(each, keyword.phrase, keyword.language)!
        return rankOn(each, planRanking(each, query, setting), today - 100, 10).map(page => page.path)
      })
      expect(b).toEqual(a)
    }
  })
  test('demand moves with the months and is never negative', () => {
    const keyword = world.keywords[0]!
    const months = Array.from({ length: 48 }, (_, i) => trueSearches(world, keyword, monthOf(today) - i))
    expect(Math.min(...months)).toBeGreaterThan(0)
    expect(new Set(months).size).toBe(48)
  })
})

describe('ranking', () => {
  const query = understand(world, 'pottery wheel', 'en')!
  const plan = planRanking(world, query, setting)
  test('is by falling score, at most two pages a site, none before it was born', () => {
    const scores = scoresOn(world, plan, today)
    const ranked = rankOn(world, plan, today, 50)
    const counts = new Map<number, number>()
    ranked.forEach((page, i) => {
      counts.set(page.site, (counts.get(page.site) ?? 0) + 1)
      expect(page.born).toBeLessThanOrEqual(today)
      if (i)
        expect(scores[plan.pages.indexOf(ranked[i - 1]!)]!).toBeGreaterThanOrEqual(scores[plan.pages.indexOf(page)]!)
    })
    expect(Math.max(...counts.values())).toBeLessThanOrEqual(2)
  })
  test('a day changes little, engines differ, keywords of one meaning share results', () => {
    const paths = (day: number, text = 'pottery wheel', engine: 'lantern' | 'plover' = 'lantern') =>
      rankOn(world, planRanking(world, understand(world, text, 'en')!, { ...setting, engine }), day, 10).map(
        page => page.id,
      )
    const shared = (a: number[], b: number[]) => a.filter(id => b.includes(id)).length
    expect(shared(paths(today), paths(today - 1))).toBeGreaterThanOrEqual(8)
    expect(paths(today, 'pottery wheel', 'plover')).not.toEqual(paths(today))
    expect(
      shared(paths(today, 'beginner pottery wheel'), paths(today, 'pottery wheel for beginners')),
    ).toBeGreaterThanOrEqual(5)
    expect(shared(paths(today, 'beginner pottery wheel'), paths(today, 'ceramic vase ideas'))).toBe(0)
  })
  test('the true hurdle lies between 0 and 1 and is not the same for all', () => {
    const hurdles = world.keywords
      .filter((keyword, i) => keyword.language === 'en' && i % 300 === 0)
      .map(keyword => trueHurdle(world, planRanking(world, understand(world, keyword.phrase, 'en')!, setting), today))
    for (const hurdle of hurdles) {
      expect(hurdle).toBeGreaterThanOrEqual(0)
      expect(hurdle).toBeLessThanOrEqual(1)
    }
    expect(new Set(hurdles.map(hurdle => hurdle.toFixed(3))).size).toBeGreaterThan(2)
  })
})

describe('services', () => {
  test('want their key', async () => {
    expect((await ask('/completions?q=kiln&language=en', undefined, 'wrong')).status).toBe(401)
    expect((await ask('/nothing')).status).toBe(404)
  })
  test('an engine gives numbered results with marked words, six to ten on the first page', async () => {
    const { body } = await ask('/engines/lantern/search?q=beginner%20kiln&language=en&num=30')
    expect(body.organic.map((result: { position: number }) => result.position)).toEqual(
      body.organic.map((_: unknown, i: number) => i + 1),
    )
    expect(body.first_page).toBeGreaterThanOrEqual(6)
    expect(body.first_page).toBeLessThanOrEqual(10)
    expect(body.organic[0].snippet).toContain('<b>')
    expect((await ask('/engines/lantern/search?q=&language=en')).status).toBe(400)
    expect((await ask('/engines/other/search?q=kiln&language=en')).status).toBe(400)
    expect((await ask('/engines/lantern/search?q=kiln&language=en&date=2030-01-01')).body.error.message).toContain(
      'future',
    )
    expect((await ask('/engines/lantern/search?q=zzzz&language=en')).body.organic).toEqual([])
  })
  test('completions continue what is typed', async () => {
    const { body } = await ask('/completions?q=how%20to%20use%20a%20ki&language=en')
    expect(body[0]).toBe('how to use a ki')
    expect(body[1].length).toBeGreaterThan(0)
    for (const phrase of body[1]) expect(phrase).toMatch(/how/)
  })
  test('each engine completes by what its own searchers ask', async () => {
    const of = async (more: string): Promise<string[]> => (await ask(`/completions?q=kiln&language=en${more}`)).body[1]
    const [all, lantern, plover] = [await of(''), await of('&engine=lantern'), await of('&engine=plover')]
    for (const list of [all, lantern, plover]) expect(list).toHaveLength(10)
    expect(lantern).not.toEqual(plover)
    expect(lantern.filter(phrase => plover.includes(phrase)).length).toBeGreaterThan(3)
    expect((await ask('/completions?q=kiln&language=en&engine=other')).status).toBe(400)
  })
  test('ads data gives 48 banded months, null where it has nothing, and one figure for a family', async () => {
    const pairs = world.keywords
      .filter(keyword => keyword.language === 'en' && world.byPhrase.has(`${keyword.phrase}s`))
      .map(keyword => keyword.phrase)
    const keywords = [...pairs.flatMap(phrase => [phrase, `${phrase}s`]), 'no such thing']
    const { body } = await ask('/ads/figures', { keywords, place: 'tarrow', language: 'en' })
    const none = body.figures.at(-1)
    const at = body.figures.findIndex(
      (figure: { average: number | null }, i: number) => i % 2 === 0 && figure.average !== null,
    )
    const [one, many] = [body.figures[at], body.figures[at + 1]]
    expect(one.monthly).toHaveLength(48)
    expect(one.monthly.at(-1).month).toBe(monthIso(monthOf(today) - 1))
    expect(many.monthly).toEqual(one.monthly)
    expect(none).toMatchObject({ average: null, monthly: [] })
    expect((await ask('/ads/figures', { keywords: 'x', place: 'tarrow', language: 'en' })).status).toBe(400)
  })
  test('ideas come in pages that do not overlap', async () => {
    const first = (await ask('/ads/ideas', { seeds: ['kiln'], place: 'tarrow', language: 'en', page_size: 50 })).body
    const second = (
      await ask('/ads/ideas', {
        seeds: ['kiln'],
        place: 'tarrow',
        language: 'en',
        page_size: 50,
        page_token: first.next_page_token,
      })
    ).body
    const texts = [...first.ideas, ...second.ideas].map(idea => idea.text)
    expect(new Set(texts).size).toBe(100)
  })
  test('the link feed counts for sites and pages, and does not know strangers', async () => {
    const { body } = await ask('/feeds/north/totals', {
      targets: ['bazaarbay.example', 'https://bazaarbay.example/', 'stranger.example'],
    })
    const [site, home, stranger] = body.totals
    expect(site.linking_sites).toBeGreaterThan(0)
    expect(home.links).toBeLessThanOrEqual(site.links)
    expect(stranger).toMatchObject({ known: false, links: null, linking_sites: null })
    const rows = (await ask('/feeds/north/links?target=bazaarbay.example')).body.links
    expect(rows.filter((row: { lost: boolean }) => !row.lost).length).toBe(
      Math.min(site.links, rows.filter((row: { lost: boolean }) => !row.lost).length),
    )
    for (const row of rows.slice(0, 20)) expect(row.target).toContain('bazaarbay.example')
  })
  test('the registry answers in RDAP, 404 for free names', async () => {
    const { body, headers } = await ask('/registry/domain/kilnandtide.example')
    expect(headers.get('content-type')).toContain('rdap+json')
    expect(body.events[0]).toMatchObject({ eventAction: 'registration' })
    expect((await ask('/registry/domain/free-name.example')).status).toBe(404)
  })
  test('a history file agrees with the engine of that day', async () => {
    const { body } = await ask(
      '/history/positions.csv?site=kilnandtide.example&keywords=3&from=2026-11-10&to=2026-11-12',
    )
    const lines = String(body).trim().split('\n')
    expect(lines[0]).toBe('Date,Keyword,Search engine,Country,Language,Device,Rank,Landing page')
    expect(lines).toHaveLength(1 + 3 * 4 * 3)
    for (const line of lines.slice(1, 8)) {
      const [date, keyword, engine, , language, device, rank, page] = line.split(',')
      const shown = (
        await ask(
          `/engines/${engine}/search?q=${encodeURIComponent(keyword!)}&language=${language}&device=${device}&date=${date}&num=100`,
        )
      ).body
      const hit = shown.organic.find((result: { url: string }) => result.url.startsWith('https://kilnandtide.example'))
      expect(rank).toBe(hit ? String(hit.position) : '>100')
      expect(page).toBe(hit?.url ?? '')
    }
  })
})

describe('faults and limits', () => {
  test('faults are read, wrong ones refused', () => {
    expect(parseFaults('ads:tooMany:0.1,engines:timeout:0.02')).toEqual([
      { service: 'ads', kind: 'tooMany', share: 0.1 },
      { service: 'engines', kind: 'timeout', share: 0.02 },
    ])
    expect(() => parseFaults('ads:boom:0.1')).toThrow(/STANDIN_FAULTS/)
    expect(() => parseFaults('ads:tooMany:2')).toThrow(/STANDIN_FAULTS/)
  })
  test('they repeat by seed and request, hit their share, and let a later try pass', () => {
    const draw = () => {
      const drawn = new Faults(3, parseFaults('ads:serverError:0.3'))
      return Array.from({ length: 1_000 }, (_, i) => drawn.pick('ads', `/x${i}`))
    }
    const hits = draw().filter(Boolean).length
    expect(draw()).toEqual(draw())
    expect(hits).toBeGreaterThan(240)
    expect(hits).toBeLessThan(360)
    const one = new Faults(3, parseFaults('ads:serverError:0.5'))
    expect(Array.from({ length: 20 }, () => one.pick('ads', '/same')).some(kind => kind === undefined)).toBe(true)
    expect(one.pick('feeds', '/same')).toBeUndefined()
  })
  test.each([
    ['serverError', 503],
    ['tooMany', 429],
    ['quota', 403],
  ])('%s answers %d', async (kind, status) => {
    faults.list = parseFaults(`registry:${kind}:1`)
    const answer = await ask('/registry/domain/kilnandtide.example')
    faults.list = []
    expect(answer.status).toBe(status)
    if (status === 429) expect(answer.headers.get('retry-after')).toBe('1')
  })
  test('a bucket empties, fills with time, and the day has a quota', () => {
    const limits = new Limits(true)
    const { perSecond, perDay } = serviceLimits.history!
    for (let i = 0; i < perSecond * 2; i++) expect(limits.take('history', 0)).toBe(0)
    expect(limits.take('history', 0)).toBeGreaterThan(0)
    expect(limits.take('history', 1_000)).toBe(0)
    let taken = 0
    for (let second = 2; taken < perDay && second < 10_000; second++)
      if (limits.take('history', second * 1_000) === 0) taken++
    expect(limits.take('history', 20_000_000)).toBe(-1)
    expect(limits.take('history', 86_400_000)).toBe(0)
    expect(new Limits(false).take('history', 0)).toBe(0)
  })
  test('days and months are told apart', () => {
    expect(isoOf(dayOf('2026-02-28') + 1)).toBe('2026-03-01')
    expect(monthIso(monthOf(dayOf('2026-12-31')) + 1)).toBe('2027-01')
  })
})
