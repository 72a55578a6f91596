import { listGroupings, listThemes } from '@dew-trail/contract/group'
import { listJobs } from '@dew-trail/contract/jobs'
import { addProspects, changeProspect, listProspects, type Prospect } from '@dew-trail/contract/prospects'
import { listSites } from '@dew-trail/contract/sites'
import { startGathering } from '@dew-trail/contract/gather'
import { getFirstPage, learnStrengths } from '@dew-trail/contract/weigh'
import type { Page } from 'puppeteer-core'
import { openBrowser } from './lib/browser.ts'
import { buildWeb } from './lib/build-web.mjs'
import { callServer, finishJob, keywordRows } from './lib/client.ts'
import { loadDemo } from './lib/demo.mjs'
import { root, startStack } from './lib/stack.ts'

/** Takes one picture of each main view from the demo data into docs/screenshots; of some, when their names are given. */
const wanted = process.argv.slice(2)
buildWeb(root)
const stack = await startStack()
const { browser, close } = await openBrowser()
try {
  const { today } = (await (await fetch(`${stack.source}/health`)).json()) as { today: string }
  await loadDemo({ server: stack.server, source: stack.source, key: 'demo-key', today })
  const site = (await callServer(stack.server, listSites, {}))[0]!
  const marketId = site.markets[0]!.id
  const { jobs } = await callServer(stack.server, startGathering, {
    siteId: site.id,
    marketId,
    seeds: ['pottery wheel'],
    mostIdeas: 1_500,
  })
  await finishJob(stack.server, jobs[0]!.jobId)
  const learning = await callServer(stack.server, learnStrengths, { siteId: site.id, marketId })
  for (const job of await callServer(stack.server, listJobs, { siteId: site.id })) await finishJob(stack.server, job.id)
  await finishJob(stack.server, learning.jobId)
  const rows = await keywordRows(stack.server, site.id, marketId)
  // A row whose ground drops somewhere in the middle says most.
  const telling = rows
    .filter(row => typeof row.difficulty === 'number' && String(row.gatherings).includes(String(jobs[0]!.gatheringId)))
    .sort((a, b) => Number(b.searches) - Number(a.searches))
    // Of those that stand in sight.
    .slice(0, 8)
    .sort((a, b) => Math.abs(Number(a.difficulty) - 45) - Math.abs(Number(b.difficulty) - 45))[0]
  const inSeed = `where=gatherings:any:${jobs[0]!.gatheringId}`
  const open = telling ? `&open=${telling.id}` : ''
  const moving = rows
    .filter(
      row =>
        row.tracked &&
        typeof row.position === 'number' &&
        (row.position as number) > 3 &&
        (row.position as number) < 12,
    )
    .sort((a, b) => Number(b.searches) - Number(a.searches))[0]
  // A keyword on whose first page the own site stands, so that its page can be put beside it.
  let ranking: number | undefined
  for (const row of rows.filter(each => each.difficulty !== null && typeof each.position === 'number')) {
    const page = await callServer(stack.server, getFirstPage, { siteId: site.id, keywordId: row.id, marketId })
    if (!page?.results.some(result => result.own)) continue
    ranking = row.id
    break
  }
  const sites = ['classfinder.example', 'tarrowdaily.example', 'goodmakers.example', 'saltandslip.example']
  await callServer(stack.server, addProspects, { siteId: site.id, sites: sites.map(domain => ({ domain })) })
  const [asked, promised] = await callServer(stack.server, listProspects, { siteId: site.id })
  const remarks = 'Wrote to the editor about the glaze chart'
  const change = (prospect: Prospect, state: Prospect['state']) =>
    callServer(stack.server, changeProspect, { siteId: site.id, prospectId: prospect.id, version: 1, state, remarks })
  await change(asked!, 'asked')
  await change(promised!, 'promised')
  const take = async (name: string, path: string, dark = false, ready = '.sheet-row', press = '') => {
    if (wanted.length && !wanted.includes(name)) return
    const page: Page = await browser.newPage()
    await page.setViewport({ width: 1280, height: 800 })
    await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: dark ? 'dark' : 'light' }])
    await page.goto(`${stack.server}/${site.id}/${path}`)
    await page.waitForSelector(
      '.sheet-row, [role=treeitem], .tree-row, .first, .strip, .first-page, .choice, .rivals-bar, .report-preview, .people-table',
    )
    if (press) {
      const button = await page.waitForSelector(`::-p-aria([name="${press}"])`)
      await button!.click()
    }
    await page.waitForSelector(ready)
    await new Promise(resolve => setTimeout(resolve, 1_500))
    await page.screenshot({ path: `${root}docs/screenshots/${name}.png` })
    await page.close()
    console.log(`docs/screenshots/${name}.png`)
  }
  await take('gather', `gather?${inSeed}`)
  await take('gather-unfolded', `gather?${inSeed}&where=difficulty:known${open}`, false, '.results')
  await take('weigh', 'weigh')
  if (ranking)
    await take('first-page', `weigh/page/${ranking}?market=${marketId}`, false, '[aria-live] .results', 'Judge it')
  await take('strengths', `weigh/strengths?market=${marketId}`, false, 'polyline')
  const [grouping] = await callServer(stack.server, listGroupings, { siteId: site.id, marketId })
  const of = { siteId: site.id, groupingId: grouping!.id, threshold: 4, method: 'lead' as const }
  const themes = (await callServer(stack.server, listThemes, of)).rows
  const large = themes.toSorted((a, b) => (b.searches ?? 0) - (a.searches ?? 0))[0]!
  await take('group', `group?threshold=4&method=lead&open=${large.id}`, false, '.lead-results')
  await take('rivals', 'rivals', false, '.profiles')
  await take('rivals-overlap', `rivals?see=overlap&within=10`, false, '.regions')
  await take('links', 'links', false, '.makeup-strip')
  await take('linking-sites', 'links?see=sites')
  await take('prospects', 'links?see=prospects&as=board', false, '.board')
  await take('places', 'places?at=8', true, '.hex-front')
  await take('plan', 'plan?page=1', false, '.brief .term-list')
  await take('plan-first', 'plan?see=first&of=days', false, '.first')
  const monthAgo = new Date(Date.parse(today) - 90 * 86_400_000).toISOString().slice(0, 10)
  await take('what-happened', `track?see=changes&since=${monthAgo}`, false, '.changes-head')
  await take('reports', 'reports', false, '.report-preview')
  await take('people', 'people?see=done', false, '.people-table')
  await take('sources', 'sources', false, '.own-result')
  await take('track', `track?sort=-searches${moving ? `&open=${moving.id}` : ''}`, false, 'canvas')
} finally {
  await close()
  await stack.close()
}
process.exit(0)
