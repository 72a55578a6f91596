import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { setTimeout as sleep } from 'node:timers/promises'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { createGrouping, moveToTheme } from '@dew-trail/contract/group'
import { addNote } from '@dew-trail/contract/notes'
import { createPlaceGrid, readTown, startPlaceRun } from '@dew-trail/contract/places'
import { createPage } from '@dew-trail/contract/plan'
import { loadFeeds, rankLinks } from '@dew-trail/contract/links'
import { createReport } from '@dew-trail/contract/reports'
import { addProspects } from '@dew-trail/contract/prospects'
import { loadRankings } from '@dew-trail/contract/rivals'
import { createSite, type Site } from '@dew-trail/contract/sites'
import { checkNow, trackKeywords } from '@dew-trail/contract/track'
import { startWeighing } from '@dew-trail/contract/weigh'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { callServer, finishJob, keywordRows } from '@dew-trail/scripts/lib/client'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import type { AxeResults } from 'axe-core'
import type { Page } from 'puppeteer-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
let page: Page
let site: Site
let keywordId: number
let themeId: number
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20' })
  site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  const siteId = site.id
  const marketId = site.markets[0]!.id
  const input = { siteId, marketId, seeds: ['kiln'], mostIdeas: 60, ways: ['ads' as const, 'completions' as const] }
  await finishJob(stack.server, (await callServer(stack.server, startGathering, input)).jobs[0]!.jobId)
  const keywordIds = (await keywordRows(stack.server, siteId, marketId)).slice(0, 6).map(row => row.id)
  keywordId = keywordIds[0]!
  await callServer(stack.server, keepKeywords, { siteId, keywordIds, kept: true })
  await finishJob(
    stack.server,
    (await callServer(stack.server, startWeighing, { siteId, marketId, keywordIds })).jobId!,
  )
  await callServer(stack.server, createPage, {
    siteId,
    title: 'Choosing a kiln',
    deadline: '2026-12-08',
    keywordIds: keywordIds.slice(0, 3),
  })
  await callServer(stack.server, trackKeywords, { siteId, keywordIds, tracked: true })
  await finishJob(stack.server, (await callServer(stack.server, checkNow, { siteId })).jobId)
  const targets = ['kilnandtide.example', 'clayharbour.example']
  await finishJob(
    stack.server,
    (await callServer(stack.server, loadRankings, { siteId, marketId, targets, months: 3 })).jobId,
  )
  const made = await callServer(stack.server, createGrouping, { siteId, marketId, from: { kind: 'kept' } })
  await finishJob(stack.server, made.jobId)
  const moved = await callServer(stack.server, moveToTheme, {
    siteId,
    groupingId: made.groupingId,
    keywordIds: keywordIds.slice(0, 4),
    themeId: null,
  })
  themeId = moved.themeId!
  // Standing is computed by itself when links have come in.
  const feeds = ['kilnandtide.example', 'clayharbour.example', 'thewheelhouse.example']
  await finishJob(stack.server, (await callServer(stack.server, loadFeeds, { siteId, domains: feeds })).jobId!)
  await finishJob(stack.server, (await callServer(stack.server, rankLinks, { siteId })).jobId)
  await callServer(stack.server, addProspects, { siteId, sites: [{ domain: 'studioalmanac.example' }] })
  const { businesses } = await callServer(stack.server, readTown, { siteId, town: 'port-hallow' })
  const { gridId } = await callServer(stack.server, createPlaceGrid, {
    siteId,
    town: 'port-hallow',
    engine: 'lantern',
    language: 'en',
    keywords: ['pottery class'],
    businesses: [businesses[0]!.id],
    ...{ latitude: businesses[0]!.latitude, longitude: businesses[0]!.longitude },
    size: 5,
    spacing: 500,
  })
  const begun = await callServer(stack.server, startPlaceRun, { siteId, gridId })
  await finishJob(stack.server, begun.jobId)
  await callServer(stack.server, createReport, { siteId, marketId, name: 'A month', template: 'positions' })
  await callServer(stack.server, addNote, { siteId, day: '2026-11-19', text: 'New shop' })
  browser = await openBrowser()
  page = await browser.browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})

/**
 * Violations of the page as it stands, in light and then in dark, where only colours differ: the rule, how often, and the first element.
 */
async function violations(): Promise<string[]> {
  // What is faded in or out is judged when it is there.
  await sleep(300)
  await page.evaluate(axe)
  const inLight = await run({})
  await page.evaluate(() => document.documentElement.setAttribute('data-scheme', 'dark'))
  await sleep(100)
  return [...inLight, ...(await run({ runOnly: ['color-contrast'] }))]
}
async function run(how: object): Promise<string[]> {
  const results = (await page.evaluate(how => {
    // A menu or dialog lies over the page's regions and is none itself.
    const over = document.querySelector('.MuiModal-root') !== null
    const { axe } = window as unknown as { axe: { run(what: Document, how: object): Promise<unknown> } }
    // Only what is wrong is worked out in full.
    return axe.run(document, { rules: { region: { enabled: !over } }, resultTypes: ['violations'], ...how })
  }, how)) as AxeResults
  return results.violations.map(
    ({ id, nodes }) =>
      `${id} ×${nodes.length}: ${nodes[0]!.html.slice(0, 140)} | ${nodes[0]!.failureSummary?.split('\n')[1]?.trim() ?? ''}`,
  )
}
const open = async (path: string, ready: string): Promise<void> => {
  await page.goto(`${stack.server}/${site.id}/${path}`)
  await page.waitForSelector(ready, { timeout: 15_000 })
}
const press = async (name: string): Promise<void> => {
  const handle = await page.waitForSelector(`::-p-aria([name="${name}"])`, { timeout: 10_000 })
  await handle!.click()
}
const row = '.sheet-row .sheet-cell:nth-child(2)'

const views: Array<[name: string, path: () => string, ready: string]> = [
  ['Gather', () => 'gather', row],
  ['Weigh', () => 'weigh', row],
  ['a first page', () => `weigh/page/${keywordId}`, '.results'],
  ['what ranks', () => 'weigh/strengths', 'h1'],
  ['who may see the site', () => 'people', '#members-title'],
  ['access keys', () => 'people?see=keys', '#new-key-title'],
  ['web hooks', () => 'people?see=hooks', '#new-hook-title'],
  ['what was done', () => 'people?see=done', '.people-table'],
  ['the site map', () => 'plan', '.tree-row'],
  ['a page beside the site map', () => 'plan?page=1', '.brief .term-list'],
  ['planned pages', () => 'plan?see=list', row],
  ['the board of the plan', () => 'plan?see=board', '.plan-card'],
  ['deadlines by day', () => 'plan?see=calendar&day=2026-12-01', '.deadline'],
  ['what to make first', () => 'plan?see=first', '.first, .empty'],
  ['Track', () => 'track', row],
  ['share of voice', () => 'track?see=voice', '.headline'],
  ['positions by own page', () => 'track?see=pages', '.results, .empty'],
  ['all sites at a glance', () => 'track?see=sites', '.results'],
  ['what happened', () => 'track?see=changes&since=2026-01-01', '.empty, .changes-head'],
  ['alerts and their rules', () => 'track?see=alerts', '.alert-rules li'],
  ['tracking begun', () => 'track?setup=open', '.MuiDialog-root'],
  ['reports', () => 'reports', '.report-preview, .empty'],
  ['profiles of rivals', () => 'rivals', '.profiles'],
  ['keywords of a site', () => 'rivals?see=keywords', row],
  ['pages of a site', () => 'rivals?see=pages', row],
  ['the overlap of sites', () => 'rivals?see=overlap&region=shared', row],
  ['rivals over time', () => 'rivals?see=time&with=clayharbour.example', 'svg[role=img]'],
  ['who the rivals are', () => 'rivals?see=who', '.results'],
  ['themes', () => `group?open=${themeId}`, '.lead-results'],
  ['keywords by theme', () => 'group?see=keywords', row],
  ['the check of a grouping', () => 'group?see=check', '.sentence'],
  ['the profile of links', () => 'links', '.makeup-strip'],
  ['linking sites', () => 'links?see=sites', row],
  ['anchors', () => 'links?see=anchors', row],
  ['who links to several', () => 'links?see=several&with=clayharbour.example,thewheelhouse.example', '.results'],
  ['suspicious links', () => 'links?see=suspicious', '.sentence'],
  ['prospects', () => 'links?see=prospects&as=board', '.board'],
  ['a town map', () => 'places', '.hex-front'],
  ['points of a run', () => 'places?see=points', row],
  ['who holds the ground', () => 'places?see=strongholds', row],
  ['all runs', () => 'places?see=runs', row],
  ['doubtful listings', () => 'places?see=doubtful', row],
  ['Sources', () => 'sources', 'h1'],
]

describe('in light and dark', () => {
  beforeAll(async () => {
    await page.goto(stack.server)
    await page.evaluate(() => localStorage.setItem('mui-mode', 'light'))
  })
  test.each(views)('%s can be used by everybody', async (_name, path, ready) => {
    await open(path(), ready)
    expect(await violations()).toEqual([])
  })
  test.each([
    ['gather', 'Views'],
    ['gather', 'Columns'],
    ['gather', 'Export'],
    ['gather', 'condition'],
    ['gather', 'All sums'],
    ['gather', 'Brand words'],
    ['gather', 'Query log'],
    ['gather', 'Import'],
    ['track', 'Check now'],
    ['plan?see=list', 'Hand over'],
    ['plan?see=list', 'Subscribe'],
    ['places?see=points', 'New grid'],
  ])('on %s after "%s"', async (path, name) => {
    await open(path, row)
    await press(name)
    expect(await violations()).toEqual([])
  })
  test.each([
    ['the palette', ['Control+k']],
    ['help', ['?']],
    ['the menu of a row', ['row', 'ContextMenu']],
    ['an unfolded row', ['row', 'Enter']],
    ['a list dialog', ['row', 'l']],
    ['a page dialog', ['row', 'p']],
    ['reasons of figures', ['row', 'i']],
  ])('%s, by keys', async (_name, keys) => {
    await open('weigh', row)
    for (const key of keys) {
      if (key === 'row') await page.focus('.sheet-row[tabindex="0"]')
      else if (key.includes('+')) {
        await page.keyboard.down('Control')
        await page.keyboard.press('k')
        await page.keyboard.up('Control')
      } else await page.keyboard.press(key as 'Enter')
    }
    expect(await violations()).toEqual([])
  })
})

test('every screen of a site of which nothing is known opens and says so', async () => {
  const empty = await callServer(stack.server, createSite, { domain: 'leere-toepferei.example', name: 'Töpferei' })
  const paths = [
    ...new Set([...views.map(([, path]) => path()), 'links?see=links', 'rivals?see=paid', 'group?see=beside']),
  ]
    // What belongs to one keyword, page or theme of the other site is not there.
    .filter(path => !/^weigh\/page|[?&](page|open|setup)=/.test(path))
  const broken: string[] = []
  for (const path of paths) {
    await page.goto(`${stack.server}/${empty.id}/${path}`)
    await page.waitForSelector('main :is(h1, h2, .empty), .empty h1', { timeout: 15_000 })
    await page.waitForFunction(() => !document.querySelector('main')?.textContent?.includes('Loading'))
    const text = await page.evaluate(() => document.body.innerText)
    if (/This page broke|could not be loaded|NaN|undefined|Infinity/.test(text))
      broken.push(`${path}: ${text.slice(0, 200)}`)
  }
  expect(broken).toEqual([])
})
