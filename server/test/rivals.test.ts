import { undoAct } from '@dew-trail/contract/acts'
import { startCrawl } from '@dew-trail/contract/crawl'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { createPage } from '@dew-trail/contract/plan'
import {
  judgeRival,
  listLandingPages,
  listOverlap,
  listPaidKeywords,
  listRankedKeywords,
  listRivalMonths,
  listRivals,
  readMonthChanges,
  loadRankings,
  readOverlap,
  readRivalProfiles,
  takeOverKeywords,
} from '@dew-trail/contract/rivals'
import { changeSite, createSite, type Site } from '@dew-trail/contract/sites'
import { listSweeps, setSweep, startSweep } from '@dew-trail/contract/sweeps'
import { listPositions, trackKeywords } from '@dew-trail/contract/track'
import { startWeighing } from '@dew-trail/contract/weigh'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
/** What engines showed: by keyword the results with their places. */
let shown: Array<{ keywordId: number; results: Array<{ url: string; position: number }> }>
/** The three sites that stand for most keywords besides the own one, in order. */
let rivals: string[]
beforeAll(async () => {
  server = await testServer()
  site = await server.call(createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const input = { ...at, seeds: ['kiln', 'pottery wheel'], mostIdeas: 40, ways: ['ads' as const] }
  for (const { jobId } of (await server.call(startGathering, input)).jobs) await server.finish(jobId)
  const keywordIds = (await server.rows(at.siteId, at.marketId)).rows.map(row => row.id).slice(0, 24)
  await server.call(keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
  await server.finish((await server.call(startWeighing, { ...at, keywordIds })).jobId!)
  // Strengths are learnt from deeper results meanwhile, which are results like all others.
  for (const job of await server.call(listJobs, { siteId: at.siteId })) await server.finish(job.id)
  const db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  const { rows } = await db.query<{ keywordId: number; url: string; position: number }>(
    `select r.keyword_id "keywordId", a.url, r.now as position from result_row r
     join result_address a on a.site_id = r.site_id and a.id = r.page_id
     where r.site_id = $1 and r.market_id = $2 and r.now is not null`,
    [at.siteId, at.marketId],
  )
  await db.end()
  shown = [...new Set(rows.map(row => row.keywordId))].map(id => ({
    keywordId: id,
    results: rows.filter(row => row.keywordId === id),
  }))
  expect(shown.length).toBe(24)
  const counts = new Map<string, number>()
  for (const { results } of shown)
    for (const domain of new Set(results.map(({ url }) => registrableDomain(url))))
      if (domain !== site.domain) counts.set(domain, (counts.get(domain) ?? 0) + 1)
  rivals = [...counts]
    .sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))
    .slice(0, 3)
    .map(([domain]) => domain)
}, 120_000)
afterAll(() => server.close())

/** Best place of a site by keyword, from what was shown. */
const positionsOf = (domain: string) =>
  new Map(
    shown.flatMap(({ keywordId, results }) => {
      const own = results.filter(({ url }) => registrableDomain(url) === domain).map(({ position }) => position)
      return own.length ? [[keywordId, Math.min(...own)] as const] : []
    }),
  )

test('a profile counts the keywords of a site by its best position, and says of how many results are known', async () => {
  const { profiles, coverage } = await server.call(readRivalProfiles, {
    ...at,
    targets: [rivals[0]!, 'nobody.example'],
  })
  const positions = [...positionsOf(rivals[0]!).values()]
  expect(coverage).toMatchObject({ keywords: shown.length, sources: [{ source: 'engines', keywords: shown.length }] })
  expect(profiles[0]).toMatchObject({
    kind: 'site',
    own: false,
    within: {
      1: positions.filter(position => position <= 1).length,
      3: positions.filter(position => position <= 3).length,
      10: positions.filter(position => position <= 10).length,
      100: positions.length,
    },
    entered: null,
    left: null,
  })
  expect(profiles[0]!.visits).toBeGreaterThan(0)
  expect(profiles[1]).toMatchObject({ within: { 100: 0 }, visits: 0, visitsUnknown: 0, standing: null, pages: 0 })
})

describe('keywords of a target', () => {
  test('are those it stands for, by visits; shares times the sums give the rows back', async () => {
    const { rows, visits } = await server.call(listRankedKeywords, { ...at, target: rivals[0]! })
    expect(new Map(rows.map(row => [row.id, row.now]))).toEqual(positionsOf(rivals[0]!))
    const known = rows.filter(row => row.visits !== null)
    expect(known.map(row => row.visits)).toEqual(known.map(row => row.visits).toSorted((a, b) => b! - a!))
    expect(known.reduce((sum, row) => sum + row.visits!, 0)).toBeCloseTo(visits!, 6)
    for (const row of known) expect(row.visitsShare! * visits!).toBeCloseTo(row.visits!, 6)
    const own = positionsOf(site.domain)
    for (const row of rows) expect(row.own).toBe(own.get(row.id) ?? null)
  })
  test('are sifted and ordered on the server like on the screen, the first of those that meet the conditions', async () => {
    const target = rivals[0]!
    const { rows: all } = await server.call(listRankedKeywords, { ...at, target })
    const limit = all.map(row => row.searches ?? 0).toSorted((a, b) => b - a)[Math.floor(all.length / 2)]!
    const meet = all.filter(row => (row.searches ?? -1) >= limit && row.now! <= 15 && row.phrase.includes('kiln'))
    const where = [`searches:from:${limit}`, 'now:to:15', 'phrase:has:kiln']
    const requests = await server.call(listRankedKeywords, { ...at, target, where, sort: 'now', most: 2 })
    expect(requests).toMatchObject({ total: all.length, met: meet.length })
    const ids = meet.toSorted((a, b) => a.now! - b.now! || a.id - b.id).map(row => row.id)
    expect(requests.rows.map(row => row.id)).toEqual(ids.slice(0, 2))
    // What is looked up row by row, and more than one column in the order, go another way to the same end.
    const kept = await server.call(listRankedKeywords, {
      ...at,
      target,
      where: ['kept:yes', ...where],
      sort: 'now,phrase',
    })
    expect(new Set(kept.rows.map(row => row.id))).toEqual(new Set(meet.filter(row => row.kept).map(row => row.id)))
    const unknown = server.call(listRankedKeywords, { ...at, target, where: ['nonsense:from:1'] })
    await expect(unknown).rejects.toThrow('no column "nonsense"')
    await expect(server.call(listRankedKeywords, { ...at, target, where: ['?'] })).rejects.toThrow('no condition')
  })
  test('a page and a folder are parts of their site', async () => {
    const { rows } = await server.call(listRankedKeywords, { ...at, target: rivals[0]! })
    const url = rows[0]!.page
    const page = await server.call(listRankedKeywords, { ...at, target: url })
    expect(page.rows.map(row => row.id)).toContain(rows[0]!.id)
    expect(new Set(page.rows.map(row => row.page))).toEqual(new Set([url]))
    const folder = await server.call(listRankedKeywords, { ...at, target: `${new URL(url).hostname}/*` })
    expect(folder.rows.length).toBeGreaterThanOrEqual(page.rows.length)
    await expect(server.call(listRankedKeywords, { ...at, target: 'no address' })).rejects.toThrow('Give a site, host')
  })
})

test('landing pages carry their keywords; own ones say what to do next and why', async () => {
  const theirs = await server.call(listLandingPages, { ...at, target: rivals[0]! })
  const { rows } = await server.call(listRankedKeywords, { ...at, target: rivals[0]! })
  expect(theirs.rows.reduce((sum, page) => sum + page.keywords, 0)).toBe(rows.length)
  expect(theirs.rows.every(page => page.next === null)).toBe(true)
  const own = await server.call(listRankedKeywords, { ...at, target: site.domain })
  const row = own.rows[0]!
  await server.call(createPage, { siteId: at.siteId, title: 'Planned', address: '/planned', keywordIds: [row.id] })
  const mine = (await server.call(listLandingPages, { ...at, target: site.domain })).rows
  const page = mine.find(each => each.url === row.page)!
  expect(page.next).toBe('let the planned page stand')
  expect(page.why).toContain(`stands for "${row.phrase}", for which "Planned" is planned`)
  expect(mine.findIndex(each => each.next === null)).not.toBe(0)
  // What the crawler read says how long a page is and whether it names what it stands for.
  await server.finish((await server.call(startCrawl, { siteId: at.siteId, domains: [site.domain] })).crawls[0]!.jobId)
  const read = (await server.call(listLandingPages, { ...at, target: site.domain })).rows
  const known = read.filter(each => each.words !== null)
  expect(known.length).toBeGreaterThan(0)
  expect(known.every(each => each.words! > 0 && each.readOn! >= '2026-01-01')).toBe(true)
  const nexts = new Set(known.map(each => each.next))
  expect(nexts.has('read it with the crawler')).toBe(false)
})

test('rivals are the sites that take most visits above the own one; one is accepted, set aside and proposed again', async () => {
  const found = await server.call(listRivals, at)
  expect(found).toMatchObject({ kept: true, keywords: shown.length })
  expect(found.rivals.map(each => each.domain)).not.toContain(site.domain)
  const own = positionsOf(site.domain)
  for (const each of found.rivals.slice(0, 5)) {
    const positions = new Map([...positionsOf(each.domain)].filter(([, position]) => position <= 20))
    expect(each.keywords).toBe(positions.size)
    expect(each.above).toBe([...positions].filter(([id, position]) => position < (own.get(id) ?? 999)).length)
  }
  expect(found.rivals.map(each => each.score)).toEqual(found.rivals.map(each => each.score).toSorted((a, b) => b - a))
  const [first] = found.rivals
  const stateOf = async () =>
    (await server.call(listRivals, at)).rivals.find(each => each.domain === first!.domain)!.state
  const { actId } = await server.call(judgeRival, { siteId: at.siteId, domain: first!.domain, state: 'aside' })
  expect(await stateOf()).toBe('aside')
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
  expect(await stateOf()).toBe('proposed')
  const others = await server.call(listRivals, { ...at, of: rivals[0]! })
  expect(others.kept).toBe(false)
  expect(others.rivals.map(each => each.shared)).toEqual(
    others.rivals.map(each => each.shared).toSorted((a, b) => b - a),
  )
  expect(others.rivals.every(each => each.shared >= 0 && each.shared <= 1)).toBe(true)
  expect(others.rivals.map(each => each.domain)).toContain(site.domain)
})

describe('the overlap of several sites', () => {
  const targets = () => [site.domain, ...rivals]
  const maskOf = (id: number): number =>
    targets().reduce((mask, domain, i) => (positionsOf(domain).has(id) ? mask | (1 << i) : mask), 0)
  test('has a region for each set of sites, with its keywords and searches', async () => {
    const { regions, belowFirst } = await server.call(readOverlap, { ...at, targets: targets() })
    const expected = new Map<number, number>()
    for (const { keywordId } of shown) {
      const mask = maskOf(keywordId)
      if (mask) expected.set(mask, (expected.get(mask) ?? 0) + 1)
    }
    expect(new Map(regions.map(region => [region.mask, region.keywords]))).toEqual(expected)
    expect(regions.map(region => region.keywords)).toEqual(regions.map(r => r.keywords).toSorted((a, b) => b - a))
    const own = positionsOf(site.domain)
    const others = rivals.map(positionsOf)
    expect(belowFirst.keywords).toBe(
      shown.filter(
        ({ keywordId: id }) => (own.get(id) ?? 99) > 10 && others.some(positions => (positions.get(id) ?? 99) <= 10),
      ).length,
    )
  })
  test('gives the keywords of regions with the place of each site, what can be won first', async () => {
    const masks = [0b1110, 0b0110, 0b1010, 0b1100]
    const { rows } = await server.call(listOverlap, { ...at, targets: targets(), masks })
    const wanted = shown.filter(({ keywordId }) => masks.includes(maskOf(keywordId))).map(({ keywordId }) => keywordId)
    expect(rows.map(row => row.id).toSorted((a, b) => a - b)).toEqual(wanted.toSorted((a, b) => a - b))
    for (const row of rows)
      expect(row.positions).toEqual(targets().map(domain => positionsOf(domain).get(row.id) ?? null))
    const worths = rows.map(row => row.pageWorth ?? -1)
    expect(worths).toEqual(worths.toSorted((a, b) => b - a))
    const none = await server.call(listOverlap, {
      ...at,
      targets: ['nobody.example', 'noone.example'],
      masks: [1, 2, 3],
    })
    expect(none.rows).toEqual([])
  })
})

describe('the rankings feed', () => {
  const rival = () => rivals[0]!
  beforeAll(async () => {
    const { jobId } = await server.call(loadRankings, { ...at, targets: [rival(), site.domain], months: 2 })
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', warnings: [] })
  }, 120_000)

  test('adds keywords that nobody gathered, with searches and the editions they are of; what was fetched counts before it', async () => {
    const { rows, coverage } = await server.call(listRankedKeywords, { ...at, target: rival() })
    const fed = rows.filter(row => row.fed)
    expect(coverage.fed).toBeGreaterThan(500)
    expect(coverage.notFed).toEqual([])
    const beside = await server.call(readRivalProfiles, { ...at, targets: [rival(), rivals[1]!] })
    expect(beside.coverage.notFed).toEqual([rivals[1]])
    expect(coverage.sources.map(each => each.source)).toEqual(['engines', 'weekly', 'full'])
    expect(fed.length).toBeGreaterThan(100)
    // What first pages show is known of those that were weighed.
    const weighed = rows.filter(row => row.features !== null)
    expect(weighed.length).toBe(rows.filter(row => !row.fed).length)
    expect(weighed.every(row => row.results! > 0 && row.held!.every(name => row.features!.includes(name)))).toBe(true)
    const { rows: firsts } = await server.call(listRankedKeywords, { ...at, target: rivals[0]! })
    for (const row of firsts) if (row.held?.includes('answer')) expect(row.now).toBe(1)
    expect(fed.some(row => row.id < 0 && row.searches !== null && row.visits !== null)).toBe(true)
    expect(fed.filter(row => row.own !== null).length).toBeGreaterThan(0)
    expect(new Map(rows.filter(row => !row.fed).map(row => [row.id, row.now]))).toEqual(positionsOf(rival()))
    expect(new Set(rows.map(row => row.phrase)).size).toBe(rows.length)
    // Known keywords are in no sheet of keywords.
    const phrases = new Set((await server.rows(at.siteId, at.marketId)).rows.map(row => row.phrase))
    expect(fed.filter(row => row.id < 0 && phrases.has(row.phrase))).toEqual([])
  })
  test('makes regions larger, and keywords of it are listed like all others', async () => {
    const { regions } = await server.call(readOverlap, { ...at, targets: [site.domain, rival()], within: 10 })
    const alone = regions.find(region => region.mask === 2)!
    const { rows } = await server.call(listOverlap, { ...at, targets: [site.domain, rival()], within: 10, masks: [2] })
    expect(rows.length).toBe(alone.keywords)
    expect(rows.some(row => row.id < 0)).toBe(true)
    expect(rows.every(row => row.positions[0] === null && row.positions[1]! <= 10)).toBe(true)
  })
  test('keywords of it are taken over, once, and then are keywords of the site', async () => {
    const { rows } = await server.call(listRankedKeywords, { ...at, target: rival() })
    const [one, two] = rows.filter(row => row.id < 0)
    const { keywordIds } = await server.call(takeOverKeywords, { ...at, known: [-two!.id, -one!.id] })
    const own = (await server.rows(at.siteId, at.marketId)).rows
    expect(keywordIds.map(id => own.find(row => row.id === id)!.phrase)).toEqual([two!.phrase, one!.phrase])
    const after = (await server.call(listRankedKeywords, { ...at, target: rival() })).rows
    expect(after.find(row => row.phrase === one!.phrase)).toMatchObject({ id: keywordIds[1], now: one!.now, fed: true })
    expect(after.length).toBe(rows.length)
    await expect(server.call(takeOverKeywords, { ...at, known: [2_000_000_000] })).rejects.toMatchObject({
      status: 404,
    })
  })
  test('a folder is asked about itself; its rows stand beside those of its site, which stay as they were', async () => {
    const pages = await server.call(listLandingPages, { ...at, target: rival() })
    const folder = `${rival()}${new URL(pages.rows.find(page => new URL(page.url).pathname.split('/').length > 2)!.url).pathname.replace(/[^/]*$/, '')}*`
    const before = await server.call(listRankedKeywords, { ...at, target: folder })
    const ofSite = await server.call(listRankedKeywords, { ...at, target: rival() })
    const { jobId } = await server.call(loadRankings, { ...at, targets: [folder] })
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', warnings: [] })
    const after = await server.call(listRankedKeywords, { ...at, target: folder })
    expect(after.total).toBeGreaterThanOrEqual(before.total)
    expect(after.coverage.notFed).toEqual([])
    expect(after.rows.every(row => row.page.includes(folder.slice(0, -1)))).toBe(true)
    // The site itself stands where it stood.
    const again = await server.call(listRankedKeywords, { ...at, target: rival() })
    const positions = (rows: typeof again.rows) => new Map(rows.map(row => [row.phrase, row.now]))
    expect(positions(again.rows)).toEqual(positions(ofSite.rows))
  })
  test('with it the ads data tells what sites pay for: most spent first, named in the profile, summed by month', async () => {
    // Some sites never advertise.
    const first = await server.call(listPaidKeywords, { ...at, target: rival() })
    const payer = first.total ? rival() : site.domain
    const paid = await server.call(listPaidKeywords, { ...at, target: `${payer}/some/*` })
    expect(paid.domain).toBe(payer)
    expect(paid.total).toBe(paid.rows.length)
    expect(paid.total).toBeGreaterThan(10)
    const spends = paid.rows.map(row => row.spend)
    expect(spends).toEqual(spends.toSorted((a, b) => b - a))
    expect(spends.reduce((sum, spend) => sum + spend, 0)).toBeCloseTo(paid.spend, 0)
    expect(paid.rows.reduce((sum, row) => sum + row.spendShare!, 0)).toBeCloseTo(1, 3)
    expect(paid.rows.every(row => row.position >= 1)).toBe(true)
    expect(paid.rows.some(row => row.searches !== null && row.cpc !== null)).toBe(true)
    // Where it stands itself is told alike by the list of what it stands for.
    const stands = new Map(
      (await server.call(listRankedKeywords, { ...at, target: payer })).rows.map(row => [row.phrase, row.now]),
    )
    const both = paid.rows.filter(row => stands.has(row.phrase))
    expect(both.length).toBeGreaterThan(0)
    for (const row of both) expect(row.stands).toBe(stands.get(row.phrase))

    const { profiles } = await server.call(readRivalProfiles, { ...at, targets: [payer, rivals[2]!] })
    expect(profiles[0]!.paid).toMatchObject({
      month: paid.month,
      keywords: paid.total,
      most: paid.rows.slice(0, 3).map(({ phrase, spend }) => ({ phrase, spend })),
    })
    // Nobody asked about this one.
    expect(profiles[1]!.paid).toBeNull()
    expect(await server.call(listPaidKeywords, { ...at, target: rivals[2]! })).toMatchObject({ rows: [], month: null })
    const { months } = await server.call(listRivalMonths, { ...at, targets: [payer] })
    expect(months.find(each => each.month === paid.month)).toMatchObject({ paid: paid.total })
  })
  test('what sites pay for is laid over each other like what they stand for', async () => {
    const targets = [site.domain, rival()]
    const [own, theirs] = await Promise.all(
      targets.map(async target => (await server.call(listPaidKeywords, { ...at, target })).rows),
    )
    const ownPhrases = new Set(own!.map(row => row.phrase))
    const shared = theirs!.filter(row => ownPhrases.has(row.phrase))
    const { regions } = await server.call(readOverlap, { ...at, targets, of: 'paid' })
    const count = (mask: number): number => regions.find(region => region.mask === mask)?.keywords ?? 0
    expect([count(1), count(2), count(3)]).toEqual([
      own!.length - shared.length,
      theirs!.length - shared.length,
      shared.length,
    ])
    const { rows } = await server.call(listOverlap, { ...at, targets, of: 'paid', masks: [2] })
    expect(new Set(rows.map(row => row.phrase))).toEqual(
      new Set(theirs!.filter(row => !ownPhrases.has(row.phrase)).map(row => row.phrase)),
    )
    for (const row of rows) {
      const known = theirs!.find(each => each.phrase === row.phrase)!
      expect([row.spend, row.positions]).toEqual([known.spend, [null, known.position]])
    }
  })
  test('tells keywords and visits by month', async () => {
    const { months } = await server.call(listRivalMonths, { ...at, targets: [rival(), site.domain] })
    expect(months).toHaveLength(4)
    expect(new Set(months.map(each => each.domain))).toEqual(new Set([rival(), site.domain]))
    for (const each of months) {
      expect(each.within3!).toBeLessThanOrEqual(each.within10!)
      expect(each.within10!).toBeLessThanOrEqual(each.keywords!)
      expect(each.paid).toBeGreaterThanOrEqual(0)
      expect(each.spend! > 0).toBe(each.paid! > 0)
      expect(each.visits).toBeGreaterThan(0)
    }
  })
})

test('what changed between two months agrees with their counts, and nothing changes between a month and itself', async () => {
  const { months } = await server.call(listRivalMonths, { ...at, targets: [rivals[0]!] })
  const [earlier, later] = months.toSorted((a, b) => (a.month < b.month ? -1 : 1))
  const of = { ...at, target: rivals[0]!, before: earlier!.month.slice(0, 7), month: later!.month.slice(0, 7) }
  const changes = await server.call(readMonthChanges, of)
  expect(later!.keywords! - earlier!.keywords!).toBe(changes.entered - changes.left)
  expect(changes.rose + changes.fell).toBeGreaterThan(0)
  for (const row of changes.rows) {
    expect(row.before).not.toBe(row.now)
    if (row.visits !== null && row.before !== null && row.now !== null)
      expect(Math.sign(row.visits)).toBe(Math.sign(row.before - row.now))
  }
  const sizes = changes.rows.map(row => Math.abs(row.visits ?? -1))
  expect(sizes).toEqual(sizes.toSorted((a, b) => b - a))
  const same = await server.call(readMonthChanges, { ...of, before: of.month })
  expect(same).toMatchObject({ entered: 0, left: 0, rose: 0, fell: 0, rows: [], pages: [] })
  await expect(server.call(readMonthChanges, { ...of, before: '2026-13' })).rejects.toThrow('A month looks like')
})

test('what a visit is worth to the owner takes the place of CPC, in keyword rows, profiles, keywords and months alike', async () => {
  const rowsOf = async () => (await server.rows(site.id, at.marketId)).rows.filter(row => row.visitsFirst !== null)
  const before = await rowsOf()
  await server.call(changeSite, { siteId: site.id, visitWorth: 3 })
  const rows = await rowsOf()
  expect(rows.length).toBe(before.length)
  for (const row of rows) {
    expect(row.worthFirst).toBeCloseTo(3 * row.visitsFirst, 0)
    if (row.visits !== null) expect(row.worth).toBeCloseTo(3 * row.visits, 0)
  }
  const target = rivals[0]!
  const listed = await server.call(listRankedKeywords, { ...at, target })
  for (const row of listed.rows) if (row.visits !== null) expect(row.worth).toBeCloseTo(3 * row.visits, 6)
  const { profiles } = await server.call(readRivalProfiles, { ...at, targets: [target] })
  expect(profiles[0]!.worth).toBeCloseTo(3 * profiles[0]!.visits!, 6)
  const { months } = await server.call(listRivalMonths, { ...at, targets: [target] })
  const known = months.filter(month => month.visits !== null)
  expect(known.length).toBeGreaterThan(0)
  for (const month of known) expect(month.worth!).toBeCloseTo(3 * month.visits!, 0)
  await server.call(changeSite, { siteId: site.id, visitWorth: null })
  const worths = (rows: Awaited<ReturnType<typeof rowsOf>>) => new Map(rows.map(row => [row.id, row.worthFirst]))
  expect(worths(await rowsOf())).toEqual(worths(before))
  await expect(server.call(changeSite, { siteId: site.id, visitWorth: 0 })).rejects.toMatchObject({ code: 'badInput' })
})

describe('sweeps', () => {
  test('say what they cost, come round when they are set to, and fetch what was not fetched', async () => {
    const all = (await server.rows(at.siteId, at.marketId)).rows
    const { sweeps, mostSearched } = await server.call(listSweeps, at)
    expect(mostSearched).toBe(2_000)
    expect(sweeps.map(each => [each.part, each.depth, each.rhythm])).toEqual([
      ['weekly', 20, null],
      ['full', 100, null],
    ])
    expect(sweeps[1]!.keywords).toBe(all.length)
    // All of so few are among the most searched, but for those whose searches are not known.
    expect(sweeps[0]!.keywords).toBe(all.filter(row => row.kept || row.searches !== null).length)
    const rhythm = { every: 'week', hour: 4, weekday: 7 } as const
    await server.call(setSweep, { ...at, part: 'weekly', rhythm })
    const set = (await server.call(listSweeps, at)).sweeps
    expect(set.map(each => each.rhythm)).toEqual([rhythm, null])
    expect(new Date(set[0]!.nextAt!).getUTCDay()).toBe(0)
    await server.call(setSweep, { ...at, part: 'weekly', rhythm: null })
    expect((await server.call(listSweeps, at)).sweeps[0]!.nextAt).toBeNull()

    const { jobId, requests } = await server.call(startSweep, { ...at, part: 'full' })
    expect(requests).toBe(sweeps[1]!.requests)
    expect((await server.finish(jobId)).result).toEqual({ keywords: requests, failed: 0 })
    const { coverage } = await server.call(readRivalProfiles, { ...at, targets: [site.domain] })
    expect(coverage).toMatchObject({ keywords: all.length, depth: 100 })
  })
  test('record positions of tracked keywords as a check of that day', async () => {
    const market = site.markets.find(each => each.id !== at.marketId && each.language === 'en')!
    const { rows } = await server.rows(site.id, market.id)
    const keywordIds = rows
      .filter(row => row.kept)
      .slice(0, 5)
      .map(row => row.id)
    expect(keywordIds).toHaveLength(5)
    await server.call(trackKeywords, { siteId: site.id, keywordIds, tracked: true })
    const { jobId } = await server.call(startSweep, { siteId: site.id, marketId: market.id, part: 'full' })
    await server.finish(jobId)
    const found = await server.call(listPositions, { siteId: site.id, marketId: market.id })
    expect(found.checked).toBe(5)
    const known = new Map((await server.rows(site.id, market.id)).rows.map(row => [row.id, row.position]))
    for (const row of found.rows) expect(row.now > 0 ? row.now : null).toBe(known.get(row.id) ?? null)
    expect(found.rows.every(row => row.now !== 0)).toBe(true)
  })
  test('of a market of another site is refused', async () => {
    const other = await server.call(createSite, { domain: 'sweeps.example', name: 'Other' })
    const marketId = other.markets[0]!.id + 1_000
    await expect(server.call(startSweep, { siteId: other.id, marketId, part: 'weekly' })).rejects.toMatchObject({
      code: 'notFound',
    })
    await expect(
      server.call(startSweep, { siteId: other.id, marketId: other.markets[0]!.id, part: 'weekly' }),
    ).rejects.toThrow('Gather some first')
  })
})
