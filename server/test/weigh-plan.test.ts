import { undoAct } from '@dew-trail/contract/acts'
import { saveBrands } from '@dew-trail/contract/brands'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { assignKeywords, changePage, createPage, listPages, removePage } from '@dew-trail/contract/plan'
import { changeSite, getTrail, listSites, type Site } from '@dew-trail/contract/sites'
import { getFirstPage, readFirstPages, startWeighing } from '@dew-trail/contract/weigh'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Context } from '../src/context.ts'
import { manyToWeigh } from '../src/domain/chances/queries.ts'
import { pruneOldPages } from '../src/features/weigh/prune-pages.ts'
import { rescoreAll } from '../src/features/weigh/rescore.ts'
import { refreshOldWeighings } from '../src/features/weigh/refresh-old.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
let ids: number[]
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds: ['pottery wheel'],
    mostIdeas: 40,
    ways: ['ads'],
  })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(site.id, marketId)
  ids = rows
    .filter(row => row.searches !== null)
    .slice(0, 12)
    .map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
  const { jobId } = await server.call(startWeighing, { siteId: site.id, marketId })
  expect((await server.finish(jobId!)).state).toBe('done')
})
afterAll(() => server.close())

const undo = ({ actId }: { actId: number | null }) => server.call(undoAct, { siteId: site.id, actId: actId! })
const rowOf = async (id: number) => (await server.rows(site.id, marketId)).rows.find(row => row.id === id)!

describe('weighing', () => {
  test('gives every kept keyword a difficulty, a chance, a likely place and a terrain', async () => {
    const { level } = (await server.call(listSites, {}))[0]!.levels[0]!
    for (const id of ids) {
      const row = await rowOf(id)
      expect(row.weighState).toBe('known')
      expect(row.difficulty).toBeGreaterThanOrEqual(0)
      expect(row.difficulty).toBeLessThanOrEqual(100)
      expect(row.chance).toBeGreaterThan(0)
      expect(row.chance).toBeLessThan(1)
      expect(row.terrain.length).toBeGreaterThanOrEqual(6)
      expect(row.ownLevel).toBeCloseTo(level!, 1)
      if (row.cpc !== null) expect(row.worth).toBeCloseTo(row.visits * row.cpc, -1)
    }
    expect((await server.call(getTrail, { siteId: site.id })).weighed).toBe(12)
  })

  test('the first page tells its results with what they rest on, and agrees with the row', async () => {
    const row = await rowOf(ids[0]!)
    const page = (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!
    expect(page.difficulty).toBeCloseTo(row.difficulty, 0)
    expect(page.chances!['10']).toBeCloseTo(row.newChance, 3)
    // Rows carry one decimal.
    for (const [i, result] of page.results.entries()) expect(Math.abs(result.level - row.terrain[i])).toBeLessThan(0.06)
    expect(row.terrain).toHaveLength(page.results.length)
    expect(page.results.map(result => result.position)).toEqual(page.results.map((_, i) => i + 1))
    expect(page.openings).toEqual(
      page.results.filter(result => result.level < page.ownLevel!).map(result => result.position),
    )
    expect(page.results.some(result => result.marked.length > 0)).toBe(true)
    expect(page.sentence.length).toBeGreaterThan(20)
    for (const result of page.results) {
      expect(result.strength).toBeCloseTo(
        result.parts.reduce((sum, part) => sum + part.adds, 0),
        6,
      )
      expect(result.parts.find(part => part.feature === 'trust')).toMatchObject({ value: null, adds: 0 })
      expect(result.snippet).not.toContain('<b>')
      for (const word of result.marked) expect(result.snippet.toLowerCase()).toContain(word)
    }
    const inTitle = page.results.slice(0, 10).filter(each => each.title.toLowerCase().includes(page.phrase)).length
    expect(row.lack_title).toBeGreaterThanOrEqual(10 - inTitle)
    expect(row.reported).toBeGreaterThan(page.results.length)
    expect(row.lack_level).toBe(page.results.filter(each => each.siteLevel! < page.ownLevel!).length)
  })

  test('a page of the site that stands already is what the row tells of, a new one stands beside it', async () => {
    const { pool } = server.context
    const without: number[] = []
    for (const id of ids) {
      const row = await rowOf(id)
      const page = (await server.call(getFirstPage, { siteId: site.id, keywordId: id, marketId }))!
      expect(row.newChance).toBeCloseTo(page.chances!['10']!, 4)
      if (page.standing === null) {
        without.push(id)
        expect([row.pagePosition, row.pageHigher]).toEqual([null, null])
        expect([row.chance, row.visits]).toEqual([row.newChance, row.newVisits])
        continue
      }
      const { position, first, higher } = page.standing
      expect(row).toMatchObject({ pagePosition: position })
      expect(row.chance).toBeCloseTo(first, 4)
      if (higher === null) expect(row.pageHigher).toBeNull()
      else expect(row.pageHigher).toBeCloseTo(higher, 4)
      const result = page.results.find(each => each.own)
      if (result && row.searches !== null) expect(row.visits).toBeCloseTo(result.visits!, 0)
    }
    // One that has no page of the site gets one.
    const made = without.at(-1)!
    const before = await pool.query('select organic from result_page where keyword_id = $1', [made])
    await pool.query(
      `update result_page set organic = jsonb_set(organic, '{4,url}', to_jsonb($1::text)) where keyword_id = $2`,
      [`https://${site.domain}/guides/`, made],
    )
    await rescoreAll(server.context)
    const page = (await server.call(getFirstPage, { siteId: site.id, keywordId: made, marketId }))!
    expect(page.standing).toMatchObject({ position: 5 })
    expect((await rowOf(made)).chance).toBeCloseTo(page.standing!.first, 4)
    expect(await rowOf(made)).toMatchObject({ pagePosition: 5 })
    await pool.query('update result_page set organic = $2 where keyword_id = $1', [
      made,
      JSON.stringify(before.rows[0].organic),
    ])
    await rescoreAll(server.context)
    expect(await rowOf(made)).toMatchObject({ pagePosition: null })
  })

  test('clicks are split by what the first page shows, visits follow, and own and rival places are those of the page', async () => {
    const pages = await server.call(readFirstPages, { siteId: site.id, marketId, keywordIds: ids })
    const rival = pages[0]!.results.find(result => result.domain !== site.domain)!.domain
    await server.call(saveBrands, { siteId: site.id, brands: [{ owner: rival, own: false, words: [] }] })
    for (const page of pages) {
      const row = await rowOf(page.keywordId)
      expect(row.organicShare + row.paidShare + row.noClickShare).toBeCloseTo(1, 2)
      expect(row.paidShare > 0).toBe(page.features.ads + page.features.shopping > 0)
      const position = page.results.find(result => result.domain === rival)?.position
      if (position) expect([row.rivalPosition, row.rival]).toEqual([position, rival])
      else if (row.rivalPosition !== null) expect(row.rivalPosition).toBeGreaterThan(page.results.length)
      const own = page.results.find(result => result.domain === site.domain)?.position
      if (own) expect([row.position, row.positionState, row.resultsOn]).toEqual([own, 'weighed', row.weighedOn])
      else expect(row.position === null || row.position > page.results.length).toBe(true)
      expect(page.ownPage?.position ?? null).toBe(row.position)
      expect(new URL(page.ownPage?.url ?? `https://${site.domain}`).hostname).toContain(site.domain)
    }
    expect((await rowOf(pages[0]!.keywordId)).rival).toBe(rival)
    // How far a site reaches over the weighed keywords: within 20, so at least as far as the first pages show.
    const first = pages.flatMap(page => page.results).find(result => result.domain === rival)!
    const shownOn = pages.filter(page => page.results.some(result => result.domain === rival)).length
    const { siteReach, pageReach } = first
    expect(siteReach!.keywords).toBeGreaterThanOrEqual(shownOn)
    expect(siteReach!.keywords).toBeLessThanOrEqual(pages[0]!.weighedKeywords)
    expect(pages[0]!.weighedKeywords).toBe(ids.length)
    expect(siteReach!.visits).toBeGreaterThan(0)
    // One page of a site reaches no farther than all of them, and at least as far as the first pages show it.
    expect(pageReach!.keywords).toBeGreaterThanOrEqual(
      pages.filter(page => page.results.some(result => result.url === first.url)).length,
    )
    for (const { siteReach, pageReach } of pages.flatMap(page => page.results)) {
      expect(pageReach!.keywords).toBeGreaterThan(0)
      expect(pageReach!.keywords).toBeLessThanOrEqual(siteReach!.keywords)
      expect(pageReach!.visits ?? 0).toBeLessThanOrEqual((siteReach!.visits ?? 0) + 1e-6)
      expect(pageReach!.unknown).toBeLessThanOrEqual(pageReach!.keywords)
    }
    const rows = await Promise.all(ids.map(rowOf))
    expect(new Set(rows.map(row => row.organicShare)).size).toBeGreaterThan(1)
  })

  test('old weighings of kept keywords are weighed again at night where the site wants it', async () => {
    const sent: Array<{ siteId: number; kind: string; payload: { keywordIds: number[] } }> = []
    const pool = new pg.Pool({ connectionString: server.databaseUrl })
    const context = {
      pool,
      jobs: {
        add: async (siteId: number, kind: string, _: string, payload: { keywordIds: number[] }) =>
          sent.push({ siteId, kind, payload }),
      },
    } as unknown as Context
    const inThreeWeeks = new Date(Date.now() + 21 * 86_400_000)
    expect(await refreshOldWeighings(context, inThreeWeeks)).toBe(0)
    await server.call(changeSite, { siteId: site.id, refreshWeighings: true })
    expect((await server.call(listSites, {}))[0]!.refreshWeighings).toBe(true)
    expect(await refreshOldWeighings(context)).toBe(0)
    expect(await refreshOldWeighings(context, inThreeWeeks)).toBe(ids.length)
    expect(sent).toHaveLength(1)
    expect(sent[0]).toMatchObject({ siteId: site.id, kind: 'weigh' })
    expect(new Set(sent[0]!.payload.keywordIds)).toEqual(new Set(ids))
    await pool.end()
  })

  test('several first pages at once are those asked for one by one; what was not weighed is left out', async () => {
    const { rows } = await server.rows(site.id, marketId)
    const bare = rows.find(row => row.weighedOn === null)!.id
    const pages = await server.call(readFirstPages, { siteId: site.id, marketId, keywordIds: [ids[1]!, bare, ids[0]!] })
    expect(pages.map(page => page.keywordId)).toEqual([ids[1], ids[0]])
    expect(pages[1]).toEqual(await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))
  })

  test('those of most value are weighed first, an unknown CPC counting as the mean; unknown searches come last', async () => {
    const { pool } = server.context
    const { place } = site.markets[0]!
    const db = await pool.connect()
    try {
      // Undone below: the other tests know these figures.
      await db.query('begin')
      await db.query('update demand set average = null where keyword_id = $1', [ids[0]])
      await db.query('update demand set cpc = null where keyword_id = any($1)', [ids.slice(3, 6)])
      const requests = await manyToWeigh(db, site.id, marketId, place, ids, new Date())
      const { rows } = await db.query<{ id: number; average: number | null; cpc: number | null }>(
        'select keyword_id id, average, cpc from demand where place = $1 and keyword_id = any($2)',
        [place, ids],
      )
      const known = rows.flatMap(row => row.cpc ?? [])
      const mean = known.reduce((sum, cpc) => sum + cpc, 0) / known.length
      const worth = new Map(rows.map(row => [row.id, row.average === null ? -1 : row.average * (row.cpc ?? mean)]))
      const values = requests.map(keyword => worth.get(keyword.id)!)
      expect(values).toEqual([...values].sort((a, b) => b - a))
      expect(requests.at(-1)!.id).toBe(ids[0])
      expect(new Set(values).size).toBeGreaterThan(6)
    } finally {
      await db.query('rollback')
      db.release()
    }
  })

  test('a keyword not weighed in a market has no first page there', async () => {
    expect(
      await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId: site.markets[1]!.id }),
    ).toBeNull()
  })

  test('fresh weighings are left as they are unless asked for again', async () => {
    expect(await server.call(startWeighing, { siteId: site.id, marketId })).toEqual({
      jobId: null,
      count: 0,
      fresh: 12,
    })
    const { jobId, count } = await server.call(startWeighing, {
      siteId: site.id,
      marketId,
      keywordIds: ids.slice(0, 2),
      again: true,
    })
    expect(count).toBe(2)
    expect((await server.finish(jobId!)).state).toBe('done')
  })

  test('the site knows its standing and levels', async () => {
    const [own] = await server.call(listSites, {})
    const { level, comfortable, stretch, scaleSites, scaleDeep } = own!.levels.find(each => each.marketId === marketId)!
    expect(level).toBeGreaterThan(0)
    expect(comfortable).toBeLessThan(level!)
    expect(stretch).toBeGreaterThan(level!)
    // The sites of the weighed first pages make a scale until deeper pages come.
    expect(scaleSites).toBeGreaterThan(9)
    expect(scaleDeep).toBe(false)
  })
})

describe('planning', () => {
  const pages = () => server.call(listPages, { siteId: site.id, marketId, today: '2026-11-20' })

  test('a page sums what is known of its keywords and says what is not', async () => {
    const { id } = await server.call(createPage, {
      siteId: site.id,
      title: 'Wheels',
      deadline: '2026-12-01',
      keywordIds: ids.slice(0, 4),
    })
    const page = (await pages()).find(each => each.id === id)!
    const rows = await Promise.all(ids.slice(0, 4).map(rowOf))
    expect(page.searches).toBeCloseTo(
      rows.reduce((sum, row) => sum + row.searches, 0),
      -1,
    )
    expect(page.visits).toBeCloseTo(
      rows.reduce((sum, row) => sum + row.visits, 0),
      -1,
    )
    expect(page).toMatchObject({ searchesUnknown: 0, state: 'idea', late: false, existing: false })
    expect(page.keywords.map(keyword => keyword.searches)).toEqual(
      page.keywords.map(keyword => keyword.searches).toSorted((a, b) => b! - a!),
    )
    expect(rows.every(row => row.page === 'Wheels')).toBe(true)
  })

  test('in a market where nothing is weighed, visits are unknown, not zero', async () => {
    const { id } = await server.call(createPage, { siteId: site.id, title: 'Elsewhere', keywordIds: ids.slice(4, 6) })
    const page = (
      await server.call(listPages, { siteId: site.id, marketId: site.markets[2]!.id, today: '2026-11-20' })
    ).find(each => each.id === id)!
    expect(page).toMatchObject({ visits: null, visitsUnknown: 2, difficultyFrom: null })
  })

  test('a keyword stands on one page, and a move tells that it was on another', async () => {
    const first = await server.call(createPage, { siteId: site.id, title: 'First', keywordIds: [ids[6]!] })
    const second = await server.call(createPage, { siteId: site.id, title: 'Second' })
    const moved = await server.call(assignKeywords, { siteId: site.id, pageId: second.id, keywordIds: [ids[6]!] })
    expect(moved.takenOff).toBe(1)
    expect((await pages()).find(page => page.id === first.id)!.keywords).toEqual([])
    expect((await rowOf(ids[6]!)).page).toBe('Second')
    await server.call(assignKeywords, { siteId: site.id, pageId: null, keywordIds: [ids[6]!] })
    expect((await rowOf(ids[6]!)).page).toBeNull()
  })

  test('a new page takes keywords from where they stood, says so, and they can go back', async () => {
    await server.call(createPage, { siteId: site.id, title: 'Before', keywordIds: [ids[9]!] })
    const keywordIds = [ids[9]!, ids[10]!]
    const after = await server.call(createPage, { siteId: site.id, title: 'After', keywordIds })
    expect(after.takenOff).toBe(1)
    expect((await rowOf(ids[9]!)).page).toBe('After')
    await undo(after)
    expect((await pages()).find(page => page.id === after.id)).toBeUndefined()
    expect((await rowOf(ids[9]!)).page).toBe('Before')
    expect((await rowOf(ids[10]!)).page).toBeNull()
  })

  test('late is worked out from deadline and state', async () => {
    const { id } = await server.call(createPage, { siteId: site.id, title: 'Overdue', deadline: '2026-11-19' })
    expect((await pages()).find(page => page.id === id)!.late).toBe(true)
    await server.call(changePage, { siteId: site.id, pageId: id, state: 'published' })
    expect((await pages()).find(page => page.id === id)!.late).toBe(false)
  })

  test('renaming shows on the keywords; removing and restoring brings everything back', async () => {
    const { id } = await server.call(createPage, { siteId: site.id, title: 'Draft', keywordIds: [ids[8]!] })
    await server.call(changePage, { siteId: site.id, pageId: id, title: 'Final', remarks: 'with pictures' })
    expect((await rowOf(ids[8]!)).page).toBe('Final')
    const removed = await server.call(removePage, { siteId: site.id, pageId: id })
    expect((await rowOf(ids[8]!)).page).toBeNull()
    await undo(removed)
    expect((await pages()).find(page => page.id === id)).toMatchObject({
      title: 'Final',
      remarks: 'with pictures',
      keywords: [expect.objectContaining({ id: ids[8] })],
    })
  })

  test('of two who change a page they both opened, the later is refused and wipes nothing', async () => {
    const { id } = await server.call(createPage, { siteId: site.id, title: 'Shared' })
    const change = (remarks: string, version: number) =>
      server.call(changePage, { siteId: site.id, pageId: id, remarks, version })
    expect(await change('first', 1)).toMatchObject({ id, version: 2 })
    await expect(change('second', 1)).rejects.toMatchObject({ code: 'conflict' })
    const page = (await server.call(listPages, { siteId: site.id, marketId, today: '2026-11-20' })).find(
      p => p.id === id,
    )
    expect([page!.remarks, page!.version]).toEqual(['first', 2])
    expect(await change('second', 2)).toMatchObject({ id, version: 3 })
    await server.call(removePage, { siteId: site.id, pageId: id })
  })

  test('wrong input is refused by field, and a page that is gone by name', async () => {
    await expect(server.call(createPage, { siteId: site.id, title: ' ' })).rejects.toMatchObject({
      code: 'badInput',
      message: expect.stringContaining('A page needs a name'),
    })
    await expect(
      server.call(createPage, { siteId: site.id, title: 'x', deadline: '2026-13-01' }),
    ).rejects.toMatchObject({ code: 'badInput' })
    await expect(server.call(changePage, { siteId: site.id, pageId: 9_999, title: 'x' })).rejects.toMatchObject({
      code: 'notFound',
    })
    await expect(
      server.call(assignKeywords, { siteId: site.id, pageId: 9_999, keywordIds: [ids[0]!] }),
    ).rejects.toMatchObject({ code: 'notFound' })
  })
})

test('texts of old first pages go, the newest of a keyword stays however old it is', async () => {
  const db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  const pool = new pg.Pool({ connectionString: server.databaseUrl })
  try {
    await db.query(
      `insert into result_page (site_id, keyword_id, market_id, fetched_on, fetched_at, organic, features, related)
       select site_id, keyword_id, market_id, fetched_on - days, fetched_at, organic, features, related
         from result_page,
         unnest('{100,500,900}'::integer[]) days where site_id = $1 and keyword_id = any($2)`,
      [site.id, ids.slice(0, 2)],
    )
    // Of one keyword nothing but old pages is known.
    await db.query('update result_page set fetched_on = fetched_on - 700 where site_id = $1 and keyword_id = $2', [
      site.id,
      ids[2],
    ])
    const context = { pool, config: { RESULT_TEXT_DAYS: 400 } } as unknown as Context
    expect(await pruneOldPages(context)).toBe(4)
    expect(await pruneOldPages(context)).toBe(0)
    const { rows } = await db.query<{ id: number; pages: number }>(
      `select keyword_id::integer id, count(*)::integer pages from result_page
        where site_id = $1 and keyword_id = any($2)
       group by 1 order by array_position($2, keyword_id::integer)`,
      [site.id, ids.slice(0, 3)],
    )
    expect(rows.map(row => row.pages)).toEqual([2, 2, 1])
  } finally {
    await pool.end()
    await db.end()
  }
})
