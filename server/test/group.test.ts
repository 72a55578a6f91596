import { undoAct } from '@dew-trail/contract/acts'
import { keepKeywords, keepPhrases, startGathering } from '@dew-trail/contract/gather'
import {
  changeGrouping,
  changeTheme,
  checkGrouping,
  chooseThemes,
  compareGroupings,
  countToGroup,
  createGrouping,
  type Grouping,
  listCompeting,
  listGroupedKeywords,
  listGroupings,
  listThemes,
  mergeThemes,
  moveToTheme,
  planThemes,
  readGrouping,
  readTheme,
  refreshGrouping,
  removeGrouping,
} from '@dew-trail/contract/group'
import { runImport } from '@dew-trail/contract/imports'
import { listJobs } from '@dew-trail/contract/jobs'
import { createPage, listPages } from '@dew-trail/contract/plan'
import { createSite, getTrail, type Site } from '@dew-trail/contract/sites'
import { startSweep } from '@dew-trail/contract/sweeps'
import { listPositions, trackKeywords } from '@dew-trail/contract/track'
import { groupThemes } from '@dew-trail/core/themes/group-themes'
import { packPages } from '@dew-trail/core/themes/keyword-pages'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
let keywordIds: number[]
let one: { siteId: number; groupingId: number }
beforeAll(async () => {
  server = await testServer()
  site = await server.call(createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const input = { ...at, seeds: ['kiln', 'pottery wheel'], mostIdeas: 60, ways: ['ads' as const] }
  for (const { jobId } of (await server.call(startGathering, input)).jobs) await server.finish(jobId)
  for (const job of await server.call(listJobs, { siteId: at.siteId })) await server.finish(job.id)
  keywordIds = (await server.rows(at.siteId, at.marketId)).rows.map(row => row.id).slice(0, 60)
  await server.call(keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
  const made = await server.call(createGrouping, { ...at, from: { kind: 'kept' } })
  await server.finish(made.jobId)
  one = { siteId: at.siteId, groupingId: made.groupingId }
}, 120_000)
afterAll(() => server.close())

const grouping = async (): Promise<Grouping> =>
  (await server.call(listGroupings, at)).find(each => each.id === one.groupingId)!
const themes = async () => (await server.call(listThemes, one)).rows
const members = async (leadId: number) =>
  (await server.call(readTheme, { ...one, lead: leadId })).members.map(each => each.id).sort((a, b) => a - b)

/** First results by keyword, straight from the database. */
async function firstResults(): Promise<Map<number, string[]>> {
  const db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  const { rows } = await db.query<{ id: number; pages: string[] }>(
    `select keyword_id id, array_agg(page_id::text order by now) pages from result_row
     where site_id = $1 and market_id = $2 and now <= 20 and keyword_id = any($3) group by 1`,
    [at.siteId, at.marketId, keywordIds],
  )
  await db.end()
  return new Map(rows.map(row => [row.id, row.pages]))
}

test('kept keywords become themes of the proposed threshold, and the market has a current grouping', async () => {
  const kept = await grouping()
  expect(kept).toMatchObject({
    source: 'Kept keywords',
    basis: 'results',
    keywords: 60,
    current: true,
    jobState: 'done',
  })
  const read = await server.call(readGrouping, one)
  expect(read.proposed.lead).toBe(kept.threshold)
  expect(read.withoutResults).toBe(0)
  expect(read.previews).toHaveLength(18)
  expect(read.previews.find(each => each.threshold === kept.threshold && each.method === 'lead')).toMatchObject({
    themes: kept.themes,
    grouped: kept.grouped,
  })
  expect((await server.call(getTrail, at)).themes).toBe(kept.themes)
  // The same from results in the database, by the core alone.
  const results = await firstResults()
  const rows = (await server.call(listGroupedKeywords, one)).rows
  const packed = packPages(rows.map(row => results.get(row.id)!))
  const { leads, themeOf } = groupThemes(packed, { threshold: 2 * kept.threshold, method: 'lead' })
  expect(rows.filter(row => row.isLead).map(row => row.id)).toEqual([...leads].map(lead => rows[lead]!.id))
  expect(rows.filter(row => row.themeId === null).length).toBe([...themeOf].filter(theme => theme < 0).length)
})

test('rows of keywords, the plan and tracking name the theme of the current grouping', async () => {
  const row = (await themes())[0]!
  const named = async (): Promise<unknown> =>
    (await server.rows(at.siteId, at.marketId)).rows.find(each => each.id === row.leadId)!.theme
  expect(await named()).toBe(row.lead)
  const { actId } = await server.call(changeTheme, { ...one, themeId: row.id, name: 'Wheels' })
  expect(await named()).toBe('Wheels')
  await server.call(trackKeywords, { siteId: at.siteId, keywordIds: [row.leadId], tracked: true })
  const { rows } = await server.call(listPositions, { ...at, compareDays: 7 })
  expect(rows.map(each => each.theme)).toEqual(['Wheels'])
  const page = await server.call(createPage, { siteId: at.siteId, title: 'Page', keywordIds: [row.leadId] })
  const plan = await server.call(listPages, { ...at, today: '2026-11-20' })
  expect(plan.find(each => each.id === page.id)!.themes).toEqual(['Wheels'])
  await server.call(undoAct, { siteId: at.siteId, actId: page.actId! })
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
  expect(await named()).toBe(row.lead)
})

test('phrases are kept as keywords, new ones with their figures asked for', async () => {
  const phrases = ['Kiln Gloves', 'kiln']
  const { changed, actId } = await server.call(keepPhrases, { ...at, phrases })
  const rows = (await server.rows(at.siteId, at.marketId)).rows.filter(row => changed.includes(row.id))
  expect(rows.some(row => row.phrase === 'kiln gloves' && row.kept)).toBe(true)
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
})

test('a theme adds its keywords up, and unfolds to what each shares with the lead', async () => {
  const [first] = (await themes()).toSorted((a, b) => b.keywords - a.keywords)
  const theme = await server.call(readTheme, { ...one, lead: first!.leadId })
  const results = await firstResults()
  const lead = results.get(first!.leadId)!
  expect(theme.results).toHaveLength(lead.length)
  for (const member of theme.members) {
    const own = results.get(member.id)!
    expect(member.strip).toEqual(lead.map(page => own.includes(page)))
    expect(member.shared).toBe(lead.filter(page => own.includes(page)).length / 2)
  }
  const others = theme.members.filter(each => each.id !== first!.leadId)
  expect(first!.together).toBeCloseTo(others.reduce((sum, each) => sum + each.shared!, 0) / others.length, 9)
  expect(first!.keywords).toBe(theme.members.length)
  expect(first!.intents.reduce((sum, each) => sum + each, 0)).toBeCloseTo(1, 9)
  expect(['planned', 'own', 'new']).toContain(theme.proposal.kind)
})

test('another threshold is looked at without being kept, and is what choosing it gives', async () => {
  const before = await grouping()
  const threshold = before.threshold === 3 ? 5 : 3
  const looked = await server.call(listThemes, { ...one, threshold, method: 'pairs' })
  expect(looked.kept).toBe(false)
  expect((await grouping()).version).toBe(before.version)
  const { themes: made, actId } = await server.call(chooseThemes, { ...one, threshold, method: 'pairs' })
  const kept = await server.call(listThemes, one)
  expect(made).toBe(looked.rows.length)
  const facts = (rows: typeof kept.rows) => rows.map(({ id, ...row }) => ({ ...row, known: id > 0 ? id : null }))
  expect(facts(kept.rows).map(each => [each.leadId, each.keywords])).toEqual(
    facts(looked.rows).map(each => [each.leadId, each.keywords]),
  )
  // Those that were there before keep their ids.
  for (const row of looked.rows.filter(each => each.id > 0))
    expect(kept.rows.find(each => each.id === row.id)?.leadId).toBe(row.leadId)
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
  const after = await grouping()
  expect([after.threshold, after.method, after.themes]).toEqual([before.threshold, before.method, before.themes])
})

describe('by hand', () => {
  test('a moved keyword stays where it was put when keywords are grouped again, and undo puts it back', async () => {
    const [a, b] = (await themes()).filter(each => each.keywords > 1)
    const moved = (await members(b!.leadId)).find(id => id !== b!.leadId)!
    const { actId } = await server.call(moveToTheme, { ...one, keywordIds: [moved], themeId: a!.id })
    expect(await members(a!.leadId)).toContain(moved)
    const { threshold, method } = await grouping()
    const again = await server.call(chooseThemes, { ...one, threshold, method })
    const row = (await server.call(listGroupedKeywords, one)).rows.find(each => each.id === moved)!
    expect([row.themeId, row.byHand]).toEqual([a!.id, true])
    await server.call(undoAct, { siteId: at.siteId, actId: again.actId! })
    await server.call(undoAct, { siteId: at.siteId, actId: actId! })
    expect(await members(b!.leadId)).toContain(moved)
    expect((await server.call(listGroupedKeywords, one)).rows.find(each => each.id === moved)!.byHand).toBe(false)
  })
  test('moving all keywords away ends a theme; undo brings it back with its id and name', async () => {
    const [a, b] = (await themes()).filter(each => each.keywords > 1)
    const name = 'Ein langer Name für ein Thema '.repeat(4).trim()
    await server.call(changeTheme, { ...one, themeId: b!.id, name })
    const all = await members(b!.leadId)
    const { actId, moved } = await server.call(mergeThemes, { ...one, themeId: a!.id, themeIds: [b!.id, a!.id] })
    expect(moved).toBe(all.length)
    expect((await themes()).find(each => each.id === b!.id)).toBeUndefined()
    await server.call(undoAct, { siteId: at.siteId, actId: actId! })
    expect((await themes()).find(each => each.id === b!.id)).toMatchObject({ name, keywords: all.length })
    await server.call(changeTheme, { ...one, themeId: b!.id, name: '' })
  })
  test('keywords are split off under a name, let go, and a theme gets another lead', async () => {
    const theme = (await themes()).toSorted((x, y) => y.keywords - x.keywords)[0]!
    const some = (await members(theme.leadId)).filter(id => id !== theme.leadId).slice(0, 2)
    const split = await server.call(moveToTheme, { ...one, keywordIds: some, themeId: null, name: 'Split off' })
    expect((await themes()).find(each => each.id === split.themeId)).toMatchObject({
      name: 'Split off',
      keywords: some.length,
      byHand: some.length,
    })
    const freed = await server.call(moveToTheme, { ...one, keywordIds: [some[0]!], themeId: null, alone: true })
    const row = (await server.call(listGroupedKeywords, one)).rows.find(each => each.id === some[0])!
    expect([row.themeId, row.byHand]).toEqual([null, true])
    await server.call(undoAct, { siteId: at.siteId, actId: freed.actId! })
    await server.call(undoAct, { siteId: at.siteId, actId: split.actId! })
    expect((await themes()).find(each => each.id === split.themeId)).toBeUndefined()

    const led = await server.call(changeTheme, { ...one, themeId: theme.id, leadId: some[0]! })
    expect((await themes()).find(each => each.id === theme.id)!.leadId).toBe(some[0])
    await server.call(undoAct, { siteId: at.siteId, actId: led.actId! })
    expect((await themes()).find(each => each.id === theme.id)!.leadId).toBe(theme.leadId)
    const stranger = keywordIds.find(id => !some.includes(id) && id !== theme.leadId)!
    const inIt = await members(theme.leadId)
    if (!inIt.includes(stranger))
      await expect(server.call(changeTheme, { ...one, themeId: theme.id, leadId: stranger })).rejects.toThrow(
        /one of its own keywords/,
      )
  })
})

test('what it would take is said before, pasted lines become found keywords, and what fails is not alone', async () => {
  const text = 'Kiln Shelf Paper\n\npottery wheel\n  pottery   wheel \nwheel thrown raku vase'
  const from = { kind: 'pasted' as const, text }
  const before = await server.call(getTrail, at)
  const cost = await server.call(countToGroup, { ...at, from, oldestDays: 30 })
  expect((await server.call(getTrail, at)).found).toBe(before.found)
  expect(cost.keywords).toBe(3)
  expect(cost.requests).toBeGreaterThanOrEqual(2)
  const { groupingId, jobId } = await server.call(createGrouping, { ...at, from, searches: 'none', name: 'Pasted' })
  await server.finish(jobId)
  const { rows } = await server.call(listGroupedKeywords, { siteId: at.siteId, groupingId })
  expect(rows.map(row => row.phrase).sort()).toEqual(['kiln shelf paper', 'pottery wheel', 'wheel thrown raku vase'])
  expect(rows.every(row => row.searches === null && row.hasResults)).toBe(true)
  expect((await server.call(countToGroup, { ...at, from, oldestDays: 30 })).requests).toBe(0)
  expect((await server.call(listGroupings, at)).filter(each => each.current).map(each => each.id)).toEqual([
    one.groupingId,
  ])
  await server.call(changeGrouping, { siteId: at.siteId, groupingId, current: true })
  const removed = await server.call(removeGrouping, { siteId: at.siteId, groupingId })
  await expect(server.call(readGrouping, { siteId: at.siteId, groupingId })).rejects.toThrow(/removed/)
  await server.call(undoAct, { siteId: at.siteId, actId: removed.actId! })
  expect((await server.call(listGroupings, at)).find(each => each.current)!.id).toBe(groupingId)
  await server.call(changeGrouping, { ...one, current: true })
  const long = 'x'.repeat(201)
  await expect(
    server.call(countToGroup, { ...at, from: { kind: 'pasted', text: `kiln\n${long}` }, oldestDays: 0 }),
  ).rejects.toThrow(/Line 2 has over 200 characters/)
})

test('sites whose pages all keywords show can be left out', async () => {
  const before = await themes()
  const { results } = await server.call(readTheme, { ...one, lead: before[0]!.leadId })
  const { actId } = await server.call(changeGrouping, { ...one, leftOut: [results[0]!.domain] })
  const after = await server.call(readTheme, { ...one, lead: before[0]!.leadId })
  expect(after.results.some(each => each.domain === results[0]!.domain)).toBe(false)
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
  expect((await grouping()).leftOut).toEqual([])
})

test('themes go on the pages proposed for them in one act', async () => {
  const planned = await server.call(createPage, { siteId: at.siteId, title: 'Planned by hand' })
  const rows = (await themes()).slice(0, 3)
  const proposals = await Promise.all(
    rows.map(async row => (await server.call(readTheme, { ...one, lead: row.leadId })).proposal),
  )
  const themeIds = rows.map(each => each.id)
  const { pages, keywords, fresh, actId } = await server.call(planThemes, { ...one, themeIds })
  expect(keywords).toBe(rows.reduce((sum, each) => sum + each.keywords, 0))
  expect(fresh).toBe(proposals.filter(each => each.kind === 'new').length)
  const plan = await server.call(listPages, { ...at, today: '2026-11-20' })
  expect(plan).toHaveLength(pages + 1)
  for (const [i, row] of rows.entries()) {
    const page = plan.find(each => each.keywords.some(keyword => keyword.id === row.leadId))!
    expect([page.title, page.existing]).toEqual([proposals[i]!.title, proposals[i]!.kind === 'own'])
  }
  expect((await themes()).find(each => each.id === rows[0]!.id)).toMatchObject({ onPlan: 1 })
  await server.call(undoAct, { siteId: at.siteId, actId: actId! })
  const left = await server.call(listPages, { ...at, today: '2026-11-20' })
  expect(left.map(each => [each.id, each.keywords.length])).toEqual([[planned.id, 0]])
})

test('own pages that compete stand within thirty, and the one that should have the theme brings no less', async () => {
  await server.finish((await server.call(startSweep, { ...at, part: 'full' })).jobId)
  const { rows, logged } = await server.call(listCompeting, one)
  expect(logged).toBe(null)
  const all = await themes()
  for (const row of rows) {
    expect(row.keep).not.toBe(row.give)
    expect(Math.max(row.keepPosition, row.givePosition)).toBeLessThanOrEqual(30)
    expect(row.keepVisits ?? 0).toBeGreaterThanOrEqual(row.giveVisits ?? 0)
    expect(all.find(each => each.id === row.themeId)!.competing).toBeGreaterThanOrEqual(2)
  }
  expect(all.filter(each => each.competing > 0).length).toBe(new Set(rows.map(row => row.themeId)).size)
})

describe('a grouping that exists', () => {
  test('comes from a file, is checked, and a keyword moves in place', async () => {
    const kept = await server.call(listGroupedKeywords, one)
    const [a, b] = (await themes()).filter(each => each.keywords > 2)
    const lines = kept.rows
      .filter(row => row.themeId === a!.id || row.themeId === b!.id)
      .map(row => {
        return { phrase: row.phrase, id: row.id, theme: row.themeId === a!.id ? 'Thema A' : 'B' }
      })
    const strayed = lines.filter(each => each.theme === 'B').at(-1)!
    strayed.theme = 'Thema A'
    const csv = `Keyword;Thema;Suchvolumen\n${lines.map(each => `${each.phrase};${each.theme};1.000`).join('\n')}\n;leer;5\n`
    const uploaded = await server.upload(at.siteId, 'themes', csv, 'themen.csv')
    expect(uploaded.suggested).toEqual({ phrase: 0, theme: 1, searches: 2 })
    const { jobId } = await server.call(runImport, {
      ...at,
      importId: uploaded.importId,
      mapping: uploaded.suggested,
    })
    const { result } = await server.finish(jobId)
    expect(result).toMatchObject({ lines: lines.length + 1, wrong: 1 })
    await server.finish(Number(result!.groupJobId))
    const given = { siteId: at.siteId, groupingId: Number(result!.groupingId) }
    const rows = (await server.call(listThemes, given)).rows
    expect(rows.map(row => [row.name, row.searches]).sort()).toEqual([
      ['B', lines.filter(each => each.theme === 'B').length * 1_000],
      ['Thema A', lines.filter(each => each.theme === 'Thema A').length * 1_000],
    ])
    const check = await server.call(checkGrouping, { ...given, threshold: (await grouping()).threshold })
    const misfit = check.misfits.find(each => each.id === strayed.id)
    expect(misfit).toMatchObject({ theme: 'Thema A', better: 'B' })
    await server.call(moveToTheme, { ...given, keywordIds: [strayed.id], themeId: misfit!.betterId })
    const after = await server.call(checkGrouping, { ...given, threshold: (await grouping()).threshold })
    expect(after.misfits.some(each => each.id === strayed.id)).toBe(false)
    expect(after.agreement).toBeGreaterThan(check.agreement)

    const beside = await server.call(compareGroupings, { ...one, besideId: given.groupingId })
    expect(beside).toMatchObject({
      both: lines.length,
      onlyHere: 60 - lines.length,
      onlyThere: 0,
      same: 2,
      movedTotal: 0,
    })
  })
  test('comes from the plan with its pages as themes', async () => {
    await server.call(createPage, { siteId: at.siteId, title: 'Mixed page', keywordIds: keywordIds.slice(0, 6) })
    const made = await server.call(createGrouping, { ...at, from: { kind: 'plan' } })
    await server.finish(made.jobId)
    const given = { siteId: at.siteId, groupingId: made.groupingId }
    expect((await server.call(listThemes, given)).rows.map(row => [row.name, row.keywords])).toEqual([
      ['Mixed page', 6],
    ])
    const again = await server.call(refreshGrouping, { ...given, oldestDays: 0 })
    expect((await server.finish(again.jobId)).result).toMatchObject({ themes: 1, fetched: 0, failed: 0 })
  })
})
