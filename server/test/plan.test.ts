import { undoAct } from '@dew-trail/contract/acts'
import {
  chooseFirst,
  listOutcomes,
  readBrief,
  readCalendarLink,
  readForBrief,
  renewCalendarLink,
  saveBrief,
} from '@dew-trail/contract/brief'
import { startCrawl } from '@dew-trail/contract/crawl'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { createGrouping } from '@dew-trail/contract/group'
import { listNotes } from '@dew-trail/contract/notes'
import { changePage, createPage, listPages, orderKeywords, removePage, setKeywordSpot } from '@dew-trail/contract/plan'
import {
  acceptAssignments,
  listAssignments,
  listThemeKeywordsLeft,
  mapFlags,
  movePage,
  readSiteMap,
  readUnlinkedPages,
} from '@dew-trail/contract/site-map'
import type { Site } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import ical from 'node-ical'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

const today = '2026-11-20'
let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
let ids: number[]
let db: pg.Client
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['kiln'], mostIdeas: 80, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(at.siteId, at.marketId)
  ids = rows
    .filter(row => row.searches !== null)
    .sort((a, b) => b.searches - a.searches || a.id - b.id)
    .slice(0, 24)
    .map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
  const { jobId } = await server.call(startWeighing, { ...at, keywordIds: ids })
  await server.finish(jobId!)
  const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: [site.domain], mostPages: 40 })
  await server.finish(crawls[0]!.jobId)
}, 120_000)
afterAll(async () => {
  await db.end()
  await server.close()
})

const undo = ({ actId }: { actId: number | null }) => server.call(undoAct, { siteId: site.id, actId: actId! })
const pages = () => server.call(listPages, { ...at, today })
const pageOf = async (id: number) => (await pages()).find(page => page.id === id)!
const map = () => server.call(readSiteMap, at)
const plan = (title: string, keywordIds: number[] = [], more: { address?: string; kind?: 'rework' | 'keep' } = {}) =>
  server.call(createPage, { siteId: site.id, title, keywordIds, ...more })
/** Nothing that one test plans is there for the next. */
const cleared = async (): Promise<void> => {
  for (const { id } of await pages()) await server.call(removePage, { siteId: site.id, pageId: id })
}

describe('the site map', () => {
  test('has the home page first, every page below another, and pages of the plan among those that were read', async () => {
    const page = await plan('Kiln prices', ids.slice(0, 2), { address: '/guides/kiln-prices' })
    const seen = await map()
    expect(seen.crawled).toBeGreaterThan(20)
    expect(seen.addresses[0]).toMatch(/^https?:\/\/kilnandtide\.example\/$/)
    expect([seen.parents[0], seen.parents.filter(parent => parent < 0).length]).toEqual([-1, 1])
    for (const [i, parent] of seen.parents.entries()) expect(parent).toBeLessThan(i)
    expect(new Set(seen.nodes).size).toBe(seen.nodes.length)
    const row = seen.planned.indexOf(page.id)
    expect([seen.names[row], seen.states[row], seen.kinds[row]]).toEqual(['Kiln prices', 'idea', 'new'])
    expect(seen.nodes[seen.parents[row]!]).toBe('folder:kilnandtide.example/guides')
    const planned = await pageOf(page.id)
    // One page, one figure: the tree, the list and the panel read the same.
    expect([seen.searches[row], seen.visitsNow[row], seen.visits[row]]).toEqual([
      planned.searches,
      planned.visitsNow,
      planned.visits,
    ])
    expect(seen.visitsWithPlan - seen.visitsOfSite).toBeCloseTo(planned.gain!, 6)
    await cleared()
  })

  test('a page moves below another, not below itself, and goes back by undo', async () => {
    const above = await plan('Above')
    const below = await plan('Below')
    const node = (id: number) => `plan:${id}`
    const moved = await server.call(movePage, { siteId: site.id, node: node(below.id), under: node(above.id) })
    const parentOf = async (id: number) => {
      const seen = await map()
      return seen.nodes[seen.parents[seen.planned.indexOf(id)]!]
    }
    expect(await parentOf(below.id)).toBe(node(above.id))
    await expect(
      server.call(movePage, { siteId: site.id, node: node(above.id), under: node(below.id) }),
    ).rejects.toMatchObject({ code: 'conflict' })
    await expect(
      server.call(movePage, { siteId: site.id, node: 'folder:kilnandtide.example/guides', under: 'top' }),
    ).rejects.toMatchObject({ code: 'badInput' })
    const home = (await map()).nodes[0]
    await undo(moved)
    expect(await parentOf(below.id)).toBe(home)
    await cleared()
  })

  test('says of a page what is worth a look: late, without a theme, the wrong page standing', async () => {
    const late = await plan('Overdue')
    await server.call(changePage, { siteId: site.id, pageId: late.id, deadline: '2026-01-05' })
    const seen = await map()
    const standing = seen.leads.findIndex((lead, i) => lead !== null && seen.planned[i] === null)
    const { rows } = await server.rows(at.siteId, at.marketId)
    const keyword = rows.find(row => row.phrase === seen.leads[standing])!
    const other = await plan('Elsewhere', [keyword.id], { address: '/guides/elsewhere' })
    const now = await map()
    const flags = (id: number) => mapFlags.filter((_, bit) => now.flags[now.planned.indexOf(id)]! & (1 << bit))
    expect(flags(late.id)).toEqual(['late', 'noTheme'])
    expect(flags(other.id)).toContain('wrongPage')
    expect(now.details[now.planned.indexOf(other.id)]).toContain(`stands for "${keyword.phrase}"`)
    const rule = (await pageOf(other.id)).rules.find(each => each.rule === 'rightPage')!
    expect([rule.met, rule.text]).toEqual([false, expect.stringContaining(keyword.phrase)])
    await cleared()
  })

  test('tells pages that no own page links to, never the home page', async () => {
    const unlinked = await server.call(readUnlinkedPages, { siteId: site.id })
    const { nodes } = await map()
    expect(unlinked).not.toBeNull()
    expect(unlinked).not.toContain(nodes[0])
    const { rows } = await db.query<{ url: string }>(
      `select p.url from linked_site s join linked_page p on p.graph_id = 1 and p.site_id = s.id
       join page_content c on c.graph_id = 1 and c.page_id = p.id
       where s.graph_id = 1 and s.domain = $1 and c.status = 200 and c.words is not null
         and p.url !~ '^https?://[^/]+/$'
         and not exists (select from link l where l.graph_id = 1 and l.target_page_id = p.id
           and l.source_site_id = s.id
           and l.source_page_id <> p.id and l.gone_on is null)`,
      [site.domain],
    )
    expect(unlinked).toHaveLength(rows.length)
  })
})

describe('themes on pages', () => {
  test('are proposed with reasons, accepted at once, and taken back whole', async () => {
    // Without a grouping, kept keywords with their forms are what pages are proposed for.
    const byKeyword = await server.call(listAssignments, at)
    expect([byKeyword.grouping, byKeyword.rows.reduce((sum, row) => sum + row.keywords, 0)]).toEqual([null, ids.length])
    const [first] = byKeyword.rows
    const one = await server.call(acceptAssignments, { ...at, ids: [first!.themeId] })
    expect([one.pages, one.keywords]).toEqual([1, first!.keywords])
    await undo(one)
    const { jobId } = await server.call(createGrouping, { ...at, from: { kind: 'rows', keywordIds: ids } })
    await server.finish(jobId!)
    const { grouping, rows } = await server.call(listAssignments, at)
    expect(grouping).not.toBeNull()
    expect(rows.length).toBeGreaterThan(1)
    for (const row of rows) {
      expect(row.why.length).toBeGreaterThan(20)
      expect(row.to === 'new').toBe(row.pageId === null && row.address === null)
    }
    const seen = await map()
    // A page that stands for a theme keeps it.
    for (const row of rows.filter(each => each.to === 'own')) expect(seen.addresses).toContain(row.address)
    const accepted = await server.call(acceptAssignments, { ...at, ids: rows.map(row => row.themeId) })
    expect(accepted.keywords).toBe(rows.reduce((sum, row) => sum + row.keywords, 0))
    const planned = await pages()
    expect(planned).toHaveLength(accepted.pages)
    expect(planned.reduce((sum, page) => sum + page.keywords.length, 0)).toBe(accepted.keywords)
    expect((await server.call(listAssignments, at)).rows.every(row => row.done)).toBe(true)
    expect((await server.call(listThemeKeywordsLeft, at)).length).toBe(0)
    await undo(accepted)
    expect(await pages()).toEqual([])
    expect((await server.call(listThemeKeywordsLeft, at)).length).toBe(accepted.keywords)
  })
  test('that are gone are refused', async () => {
    await expect(server.call(acceptAssignments, { ...at, ids: [99_999] })).rejects.toMatchObject({
      code: 'notFound',
    })
  })
})

describe('the work on a page', () => {
  test('keeps its kind, effort, owner and dates; a page that is left as it is has nothing to be done', async () => {
    const { id } = await plan('Kiln guide', ids.slice(0, 3), { address: '/guides/kiln', kind: 'rework' })
    const change = (more: object) => server.call(changePage, { siteId: site.id, pageId: id, ...more })
    await change({ effort: 2.5, owner: ' Mara ', notBefore: '2027-03-01', mustBeIn: true })
    expect(await pageOf(id)).toMatchObject({
      kind: 'rework',
      existing: true,
      state: 'idea',
      effort: 2.5,
      owner: 'Mara',
      notBefore: '2027-03-01',
      mustBeIn: true,
    })
    const kept = await change({ kind: 'keep' })
    expect(await pageOf(id)).toMatchObject({ kind: 'keep', state: 'published', gain: 0 })
    await undo(kept)
    expect(await pageOf(id)).toMatchObject({ kind: 'rework', state: 'idea' })
    await expect(change({ effort: 0.3 })).rejects.toMatchObject({ code: 'badInput' })
    await expect(change({ kind: 'merge', mergeInto: id })).rejects.toMatchObject({ code: 'badInput' })
    await cleared()
  })

  test('never brings less with the plan than now, within a range, and less what it brings now', async () => {
    const { id } = await plan('Kilns', ids.slice(0, 6))
    const page = await pageOf(id)
    expect(page.visits!).toBeGreaterThanOrEqual(page.visitsNow ?? 0)
    expect(page.gain).toBeCloseTo(page.visits! - (page.visitsNow ?? 0), 6)
    expect(page.low!).toBeLessThan(page.visits!)
    expect(page.high!).toBeGreaterThan(page.visits!)
    expect(page.byMonth!.reduce((sum, each) => sum + each, 0) / 12).toBeCloseTo(page.visits!, 3)
    await server.call(changePage, { siteId: site.id, pageId: id, kind: 'remove' })
    const removed = await pageOf(id)
    expect([removed.visits, removed.gain]).toEqual([0, removed.visitsNow === null ? 0 : -removed.visitsNow])
    await cleared()
  })

  test('keywords stand in the order they are given, each where it goes, until that is undone', async () => {
    const { id } = await plan('Order', ids.slice(0, 3))
    const [first, second, third] = (await pageOf(id)).keywords.map(keyword => keyword.id)
    const ordered = await server.call(orderKeywords, { siteId: site.id, pageId: id, keywordIds: [third!, first!] })
    expect((await pageOf(id)).keywords.map(keyword => keyword.id)).toEqual([third, first, second])
    await server.call(setKeywordSpot, { siteId: site.id, pageId: id, keywordIds: [first!], spot: 'heading' })
    expect((await pageOf(id)).keywords.map(keyword => keyword.spot)).toEqual([null, 'heading', null])
    await undo(ordered)
    expect((await pageOf(id)).keywords.map(keyword => keyword.id)).toEqual([first, second, third])
    await cleared()
  })
})

describe('a brief', () => {
  const text = {
    title: 'Kilns: sizes and prices',
    description: '',
    headings: ['What size of kiln?'],
    terms: ['kiln'],
    wordsFrom: 1,
    wordsTo: 100_000,
    links: [],
    remarks: '',
  }
  test('offers what the first results have; reading them tells their lengths', async () => {
    const { id } = await plan('Kilns', ids.slice(0, 3))
    const before = await server.call(readBrief, { ...at, pageId: id })
    expect([before.version, before.text.title, before.page, before.checks]).toEqual([0, '', null, []])
    expect(before.offers.rivals.map(rival => rival.position)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10])
    expect(before.offers.terms.length).toBeGreaterThan(0)
    for (const term of before.offers.terms) expect(term.results).toBeLessThanOrEqual(before.offers.results)
    expect(before.offers.headings.length).toBeGreaterThan(0)
    expect(before.offers.links.every(link => link.from.includes(site.domain))).toBe(true)
    const { jobId, pages: asked } = await server.call(readForBrief, { ...at, pageId: id })
    expect(asked).toBe(10)
    await server.finish(jobId)
    const after = await server.call(readBrief, { ...at, pageId: id })
    expect(after.offers.read).toBeGreaterThan(3)
    expect(after.offers.words!.from).toBeLessThanOrEqual(after.offers.words!.to)
    await cleared()
  })

  test('is saved over the version that was seen alone, and undone to what it was', async () => {
    const { id } = await plan('Kilns')
    const save = (version: number, title: string) =>
      server.call(saveBrief, { siteId: site.id, pageId: id, version, text: { ...text, title } })
    expect((await save(0, 'First')).version).toBe(1)
    await expect(save(0, 'Late')).rejects.toMatchObject({ code: 'conflict' })
    const second = await save(1, 'Second')
    expect(second.version).toBe(2)
    await undo(second)
    expect((await server.call(readBrief, { ...at, pageId: id })).text.title).toBe('First')
    await cleared()
    await expect(save(3, 'Gone')).rejects.toMatchObject({ code: 'notFound' })
  })

  test('is held against the page once that was read', async () => {
    const seen = await map()
    const row = seen.addresses.findIndex((address, i) => i > 0 && address !== null)
    const { id } = await plan('An own page', [ids[0]!], { address: seen.addresses[row]!, kind: 'rework' })
    await server.call(saveBrief, {
      siteId: site.id,
      pageId: id,
      version: 0,
      text: { ...text, title: seen.names[row]!, headings: ['A heading that no page has'], terms: [] },
    })
    const { page, checks } = await server.call(readBrief, { ...at, pageId: id })
    expect(page!.title).toBe(seen.names[row])
    const state = (what: string) => checks.find(check => check.what === what)!.state
    expect([state('title'), state('heading'), state('words')]).toEqual(['done', 'missing', 'done'])
    await cleared()
  })

  test('of a page without keywords has nothing to read', async () => {
    const { id } = await plan('Empty')
    await expect(server.call(readForBrief, { ...at, pageId: id })).rejects.toMatchObject({ code: 'conflict' })
    expect((await server.call(readBrief, { ...at, pageId: id })).offers).toMatchObject({
      headings: [],
      terms: [],
      results: 0,
    })
    await cleared()
  })
})

describe('what comes first', () => {
  const choose = (more: object = {}) =>
    server.call(chooseFirst, { ...at, today, of: 'pages', aMonth: 1, months: 2, ...more })
  test('is the set that brings most; what must be in comes in, and the rest is told why not', async () => {
    const made: number[] = []
    for (const [i, title] of ['One', 'Two', 'Three', 'Four'].entries())
      made.push((await plan(title, ids.slice(i * 4, i * 4 + 4))).id)
    const empty = await plan('Nothing yet')
    const choice = await choose()
    // Work that begins on the 20th begins next month.
    expect(choice.chosen.map(each => each.month)).toEqual(['2026-12', '2027-01'])
    expect(choice.total).toBeCloseTo(choice.chosen[0]!.value + choice.chosen[1]!.value, 6)
    expect([choice.below, choice.unfit]).toEqual([0, []])
    expect(choice.total).toBeGreaterThanOrEqual(choice.bySearches - 1e-6)
    expect(choice.left).toEqual([{ pageId: empty.id, title: 'Nothing yet', why: 'No keyword stands on it' }])
    const out = made.filter(id => !choice.chosen.some(each => each.pageId === id))
    expect(choice.missed.map(each => each.pageId).toSorted()).toEqual(out.toSorted())
    for (const each of choice.missed) expect(each.costs).toBeGreaterThanOrEqual(0)
    const [least] = choice.missed.toReversed()
    await server.call(changePage, { siteId: site.id, pageId: least!.pageId, mustBeIn: true })
    const pinned = await choose()
    expect(pinned.chosen.map(each => each.pageId)).toContain(least!.pageId)
    expect(choice.total - pinned.total).toBeCloseTo(least!.costs, 6)
    expect((await choose({ aMonth: 2 })).total - pinned.total).toBeCloseTo(pinned.oneMore, 6)
    expect(choice.outlook.months).toHaveLength(12)
    for (const [i, now] of choice.outlook.today.entries()) {
      expect(choice.outlook.withPlan[i]).toBeGreaterThanOrEqual(now - 1e-6)
      expect(choice.outlook.low[i]).toBeLessThanOrEqual(choice.outlook.high[i]!)
    }
    await cleared()
  })
  test('minds days of work, and says what is too long for a month', async () => {
    const long = await plan('Long', ids.slice(0, 4))
    await server.call(changePage, { siteId: site.id, pageId: long.id, effort: 9, mustBeIn: true })
    const short = await plan('Short', ids.slice(4, 8))
    const choice = await choose({ of: 'days', aMonth: 5 })
    expect(choice.chosen.map(each => each.pageId)).toEqual([short.id])
    expect(choice.unfit).toEqual([{ pageId: long.id, title: 'Long' }])
    await cleared()
  })
  test('with nothing on the plan is nothing, not an error', async () => {
    expect(await choose()).toMatchObject({ chosen: [], total: 0, oneMore: 0, missed: [], unit: 'visits' })
  })
})

test('what was expected of a page is kept when it is published, and held against what came once it has settled', async () => {
  const { id } = await plan('Kilns', ids.slice(0, 4))
  const expected = await pageOf(id)
  const published = await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
  const on = new Date().toISOString().slice(0, 10)
  const outcomes = (day: string) => server.call(listOutcomes, { ...at, today: day })
  const [early] = await outcomes(on)
  expect(early).toMatchObject({ pageId: id, title: 'Kilns', publishedOn: on, came: null })
  expect(early!.expected).toBeCloseTo(expected.visits!, 2)
  const [settled] = await outcomes('2099-01-01')
  expect(settled!.came).toBe((await pageOf(id)).visitsNow)
  expect((await pageOf(id)).doneOn).toBe(on)
  // Lines over time show the day; undo takes it off them, and a page that is called published again is noted again.
  const notes = async () =>
    (await server.call(listNotes, { siteId: site.id })).filter(note => note.touches.pageId === id)
  expect(await notes()).toMatchObject([{ day: on, text: 'Published: Kilns' }])
  await undo(published)
  expect([await notes(), (await pageOf(id)).state]).toEqual([[], 'idea'])
  await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
  expect(await notes()).toHaveLength(1)
  await cleared()
  expect(await outcomes(on)).toEqual([])
})

describe('the calendar', () => {
  const events = (text: string) =>
    Object.values(ical.sync.parseICS(text)).filter(each => each?.type === 'VEVENT') as ical.VEvent[]
  test('holds each deadline as a whole day; a change keeps the entry and raises its sequence', async () => {
    const { id } = await plan('Kilns; sizes, and prices')
    await plan('No deadline')
    const change = (more: object) => server.call(changePage, { siteId: site.id, pageId: id, ...more })
    await change({ deadline: '2026-12-18', owner: 'Mara' })
    const read = async () => {
      const { status, headers, body } = await server.raw(`/api/sites/${site.id}/plan.ics`)
      expect([status, headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8'])
      return events(String(body))
    }
    const [before] = await read()
    expect(await read()).toHaveLength(1)
    expect(before!.summary).toBe('New page: Kilns; sizes, and prices')
    expect([before!.datetype, (before!.start as Date).getDate()]).toEqual(['date', 18])
    await change({ deadline: '2026-12-20' })
    const [after] = await read()
    expect(after!.uid).toBe(before!.uid)
    expect(Number(after!.sequence)).toBe(Number(before!.sequence) + 1)
    expect((after!.start as Date).getDate()).toBe(20)
    await cleared()
  })
  test('is read at a secret address, which ends when it is renewed', async () => {
    expect(await server.call(readCalendarLink, { siteId: site.id })).toEqual({
      address: null,
      madeOn: null,
      endsOn: null,
    })
    const first = (await server.call(renewCalendarLink, { siteId: site.id })).address!
    expect(first).toMatch(/^\/calendar\/[\w-]{32}\.ics$/)
    expect((await server.raw(first)).status).toBe(200)
    const second = (await server.call(renewCalendarLink, { siteId: site.id })).address!
    expect([(await server.raw(first)).status, (await server.raw(second)).status]).toEqual([404, 200])
    await server.call(renewCalendarLink, { siteId: site.id, end: true })
    expect((await server.raw(second)).status).toBe(404)
  })
})
