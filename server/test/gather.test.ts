import {
  findPhrases,
  keepKeywords,
  listGatherings,
  pruneGathering,
  startGathering,
  suggestSeeds,
} from '@dew-trail/contract/gather'
import { actOnJob, listJobs } from '@dew-trail/contract/jobs'
import { getTrail, type Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())

const gather = async (seed: string, more: object = {}) => {
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds: [seed],
    mostIdeas: 120,
    ...more,
  })
  const job = await server.finish(jobs[0]!.jobId)
  return { gatheringId: jobs[0]!.gatheringId, job }
}

describe('gathering', () => {
  test('finds keywords by completions, related searches and ads data, each once, with every way noted', async () => {
    const { gatheringId, job } = await gather('Pottery  Wheel')
    expect(job.state).toBe('done')
    const { rows } = await server.rows(site.id, marketId)
    const found = rows.filter(row => row.gatherings.split('|').includes(String(gatheringId)))
    expect(found.length).toBeGreaterThan(60)
    expect(new Set(found.map(row => row.phrase)).size).toBe(found.length)
    const ways = new Set(found.flatMap(row => row.cameFrom.split('|')))
    expect([...ways].sort()).toEqual(['ads', 'completions', 'related'])
    expect(found.some(row => row.cameFrom.includes('|'))).toBe(true)
    expect(
      (await server.call(listGatherings, { siteId: site.id })).find(each => each.id === gatheringId),
    ).toMatchObject({ seed: 'pottery wheel', found: found.length, state: 'done' })
  })

  test('a page gives its words, a site what it advertises on and is found for, and both ideas; each with its way', async () => {
    const page = (await (await fetch(`${inject('truth')}/pages?every=1`)).json()) as Array<{
      url: string
      kind: string
      language: string
      broken: string | null
      gone: string | null
    }>
    const article = page.find(
      each =>
        each.language === 'en' &&
        !each.broken &&
        !each.gone &&
        each.url.includes('clayharbour.example/') &&
        each.kind !== 'home',
    )!
    const one = await gather(article.url, { ways: ['page'] })
    expect(one.job).toMatchObject({ state: 'done', warnings: [] })
    const of = async (gatheringId: number) =>
      (await server.rows(site.id, marketId)).rows.filter(row => row.gatherings.split('|').includes(String(gatheringId)))
    const words = await of(one.gatheringId)
    const record = (await (await fetch(`${inject('truth')}/page?url=${encodeURIComponent(article.url)}`)).json()) as {
      title: string
      headings: string[]
    }
    const pageText = [record.title, ...record.headings].join(' ').toLowerCase()
    expect(words.length).toBeGreaterThan(5)
    expect(words.some(row => pageText.includes(row.phrase))).toBe(true)
    expect(words.every(row => row.cameFrom.split('|').includes('page'))).toBe(true)

    const whole = await gather('https://www.clayharbour.example', { ways: ['page', 'rival', 'ads', 'completions'] })
    expect(whole.job.state).toBe('done')
    const listed = (await server.call(listGatherings, { siteId: site.id })).find(each => each.id === whole.gatheringId)!
    expect(listed).toMatchObject({ seed: 'clayharbour.example', ways: ['page', 'rival', 'ads'] })
    const found = await of(whole.gatheringId)
    expect([...new Set(found.flatMap(row => row.cameFrom.split('|')))]).toEqual(
      expect.arrayContaining(['page', 'rival', 'ads']),
    )
  })
  test('an address with ways of phrases only is refused; a page that is not there says why', async () => {
    await expect(gather('clayharbour.example', { ways: ['completions'] })).rejects.toMatchObject({
      message: expect.stringContaining('is a site or page'),
    })
    await expect(gather('x'.repeat(201))).rejects.toMatchObject({ message: expect.stringContaining('over 200') })
    await expect(gather('pottery wheel', { ways: ['page'] })).rejects.toMatchObject({
      message: expect.stringContaining('is a phrase'),
    })
    const { job } = await gather('https://kilnandtide.example/no/such/page', { ways: ['page'] })
    expect(job.warnings[0]!.what).toContain('could not be read: it answered with status 404')
  })

  test('figures are known with twelve months, or unknown with a reason, never zero for want of an answer', async () => {
    await gather('home kiln')
    const { rows } = await server.rows(site.id, marketId)
    const known = rows.filter(row => row.demandState === 'known')
    const nothing = rows.filter(row => row.demandState === 'nothing')
    expect(known.length).toBeGreaterThan(50)
    expect(nothing.length).toBeGreaterThan(0)
    for (const row of known) {
      expect(row.months).toHaveLength(12)
      expect(row.searches).toBeCloseTo(row.months.reduce((a: number, b: number) => a + b, 0) / 12, 0)
      expect(row).toMatchObject({ monthsEnd: '2026-10', demandSource: 'ads' })
    }
    for (const row of nothing) expect(row).toMatchObject({ searches: null, cpc: null, months: null })
    // Before anything is weighed: searches times the default share of clicks at the first position.
    const paid = known.find(row => row.searches > 100 && row.cpc !== null && row.organicShare === null)!
    expect(paid.visitsFirst).toBeCloseTo(paid.searches * 0.28, 0)
    expect(paid.worthFirst).toBeCloseTo(paid.visitsFirst * paid.cpc, 0)
    for (const row of nothing) expect(row).toMatchObject({ visitsFirst: null, worthFirst: null })
  })

  test('the same seed again adds no keyword twice', async () => {
    await gather('raku kiln')
    const before = (await server.rows(site.id, marketId)).rows.length
    await gather('raku kiln')
    expect((await server.rows(site.id, marketId)).rows.length).toBe(before)
  })

  test('ways can be left out', async () => {
    const { gatheringId } = await gather('banding wheel', { ways: ['completions'] })
    const { rows } = await server.rows(site.id, marketId)
    const found = rows.filter(row => row.gatherings.split('|').includes(String(gatheringId)))
    expect(found.length).toBeGreaterThan(0)
    expect(found.every(row => row.cameFrom.split('|').includes('completions'))).toBe(true)
  })

  test('rows since a revision are only those that changed', async () => {
    const { rows, revision } = await server.rows(site.id, marketId)
    expect((await server.rows(site.id, marketId, revision)).rows).toEqual([])
    const chosen = rows.slice(0, 3).map(row => row.id)
    await server.call(keepKeywords, { siteId: site.id, keywordIds: chosen, kept: true })
    const changed = await server.rows(site.id, marketId, revision)
    expect(changed.rows.map(row => row.id).sort()).toEqual(chosen.sort())
    expect(changed.rows.every(row => row.kept)).toBe(true)
    expect(changed.revision).toBeGreaterThan(revision)
  })

  test('keeping twice changes nothing the second time, and the trail counts it', async () => {
    const { rows } = await server.rows(site.id, marketId)
    const ids = rows.slice(10, 14).map(row => row.id)
    const keep = async (keywordIds: number[]) =>
      (await server.call(keepKeywords, { siteId: site.id, keywordIds, kept: true })).changed
    expect(await keep(ids.slice(0, 1))).toEqual(ids.slice(0, 1))
    expect((await keep(ids)).sort()).toEqual(ids.slice(1).sort())
    expect(await keep(ids)).toEqual([])
    const trail = await server.call(getTrail, { siteId: site.id })
    expect(trail.found).toBe(rows.length)
    expect(trail.kept).toBe((await server.rows(site.id, marketId)).rows.filter(row => row.kept).length)
  })

  test('phrases are found by a part of them, most searched first', async () => {
    const phrases = await server.call(findPhrases, { siteId: site.id, marketId, text: 'KILN' })
    expect(phrases.length).toBeGreaterThan(3)
    expect(phrases.every(phrase => phrase.includes('kiln'))).toBe(true)
  })

  test('a seed without a word, an unknown market and an unknown site are refused by name', async () => {
    await expect(server.call(startGathering, { siteId: site.id, marketId, seeds: ['???'] })).rejects.toMatchObject({
      code: 'badInput',
      message: expect.stringContaining('"???"'),
    })
    await expect(
      server.call(startGathering, { siteId: site.id, marketId: 9_999, seeds: ['kiln'] }),
    ).rejects.toMatchObject({ code: 'notFound' })
    await expect(server.call(getTrail, { siteId: 9_999 })).rejects.toMatchObject({ code: 'notFound', status: 404 })
  })

  test('a finished job cannot be paused or done again without a reason', async () => {
    const { job } = await gather('loop tool')
    await expect(server.call(actOnJob, { jobId: job.id, action: 'pause' })).rejects.toMatchObject({ code: 'conflict' })
    await expect(server.call(actOnJob, { jobId: job.id, action: 'retry' })).rejects.toMatchObject({ code: 'conflict' })
    expect((await server.call(listJobs, { siteId: site.id })).some(each => each.id === job.id)).toBe(true)
  })
})

describe('conditions, pruning, names', () => {
  const listed = async (gatheringId: number) =>
    (await server.call(listGatherings, { siteId: site.id })).find(each => each.id === gatheringId)!
  const foundBy = async (gatheringId: number) =>
    (await server.rows(site.id, marketId)).rows.filter(row => row.gatherings.split('|').includes(String(gatheringId)))

  test('words and thresholds hold before anything is stored, what is dropped is counted by reason', async () => {
    const { gatheringId, job } = await gather('raku kiln -used +raku', {
      ways: ['ads', 'completions'],
      completions: ['plain', 'letters'],
      conditions: { searches: 60, wordsTo: 4 },
      mostIdeas: 400,
    })
    expect(job.state).toBe('done')
    const rows = await foundBy(gatheringId)
    expect(rows.length).toBeGreaterThan(2)
    for (const row of rows) {
      expect(row.phrase).toMatch(/\braku\b/)
      expect(row.phrase).not.toMatch(/\bused\b/)
      expect(row.words).toBeLessThanOrEqual(4)
      expect(row.searches === null || row.searches >= 60).toBe(true)
    }
    const gathering = await listed(gatheringId)
    expect(gathering.seed).toBe('raku kiln')
    expect(gathering.conditions).toMatchObject({ must: ['raku'], leaveOut: ['used'], searches: 60, wordsTo: 4 })
    expect(gathering.dropped['must-have words']).toBeGreaterThan(0)
    expect(gathering.dropped.searches).toBeGreaterThan(0)
  })

  test('only the wanted groups are typed into completions', async () => {
    const { gatheringId } = await gather('kiln shelf', { ways: ['completions'], completions: ['questions'] })
    for (const row of await foundBy(gatheringId)) expect(row.phrase).toContain('kiln')
    await expect(gather('kiln shelf', { completions: [] })).rejects.toMatchObject({ status: 400 })
  })

  test('a pruned branch takes its keywords out of sight, kept ones stay, and it can be put back', async () => {
    const parent = await gather('butter dish', { ways: ['ads'], mostIdeas: 60 })
    const child = await gather('tea bowl', { ways: ['ads'], mostIdeas: 60, parentId: parent.gatheringId })
    const only = (await foundBy(child.gatheringId)).filter(row => row.gatherings === String(child.gatheringId))
    expect(only.length).toBeGreaterThan(1)
    await server.call(keepKeywords, { siteId: site.id, keywordIds: [only[0]!.id], kept: true })
    const prune = (pruned: boolean) =>
      server.call(pruneGathering, { siteId: site.id, gatheringId: parent.gatheringId, pruned })
    expect(await prune(true)).toMatchObject({ gatherings: 2 })
    const after = (await server.rows(site.id, marketId)).rows
    expect(after.find(row => row.id === only[1]!.id)).toMatchObject({ pruned: true, gatherings: '' })
    expect(after.find(row => row.id === only[0]!.id)).toMatchObject({ pruned: false })
    expect((await listed(child.gatheringId)).pruned).toBe(true)
    await prune(false)
    expect((await server.rows(site.id, marketId)).rows.find(row => row.id === only[1]!.id)).toMatchObject({
      pruned: false,
      gatherings: String(child.gatheringId),
    })
    await expect(
      server.call(pruneGathering, { siteId: site.id, gatheringId: 999_999, pruned: true }),
    ).rejects.toMatchObject({ status: 404 })
  })

  test('what searchers type after some words comes with searches; a source that is down is named', async () => {
    const ask = (from: TestServer, typed: string) => from.call(suggestSeeds, { siteId: site.id, marketId, typed })
    const { phrases, problem } = await ask(server, 'pottery w')
    expect(problem).toBeNull()
    expect(phrases.length).toBeGreaterThan(2)
    expect(phrases.length).toBeLessThanOrEqual(8)
    for (const { phrase } of phrases) expect(phrase).toContain('pottery')
    expect(phrases.some(each => each.searches !== null && each.searches > 0)).toBe(true)
    // What the site knows is what its rows say.
    const rows = new Map((await server.rows(site.id, marketId)).rows.map(row => [row.phrase, row.searches]))
    for (const each of phrases)
      if (rows.get(each.phrase) != null) expect(each.searches!).toBeCloseTo(rows.get(each.phrase), 0)
    expect(await ask(server, 'zzqx nothing')).toEqual({ phrases: [], problem: null })
    const down = await testServer({ SOURCE_URL: 'http://127.0.0.1:9', SOURCE_TRIES: '1' }, server.databaseUrl)
    expect(await ask(down, 'kick w')).toMatchObject({ phrases: [], problem: expect.stringContaining('Completions') })
    await down.close()
    await expect(ask(server, 'k')).rejects.toMatchObject({ status: 400 })
  })
})
