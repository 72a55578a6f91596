import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listGroupings, listThemes } from '@dew-trail/contract/group'
import { listJobs } from '@dew-trail/contract/jobs'
import { listPages } from '@dew-trail/contract/plan'
import { createSite } from '@dew-trail/contract/sites'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { callServer, finishJob, keywordRows } from '@dew-trail/scripts/lib/client'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import type { Page } from 'puppeteer-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { stepsOn } from './steps.ts'

let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
let page: Page
const at = { siteId: 1, marketId: 1 }
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20' })
  const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  at.siteId = site.id
  at.marketId = site.markets[0]!.id
  const input = { ...at, seeds: ['kiln', 'pottery wheel'], mostIdeas: 80, ways: ['ads' as const] }
  for (const { jobId } of (await callServer(stack.server, startGathering, input)).jobs)
    await finishJob(stack.server, jobId)
  for (const job of await callServer(stack.server, listJobs, { siteId: at.siteId }))
    await finishJob(stack.server, job.id)
  const keywordIds = (await keywordRows(stack.server, at.siteId, at.marketId)).slice(0, 60).map(row => row.id)
  await callServer(stack.server, keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
  browser = await openBrowser()
  page = await browser.browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  await page.goto(`${stack.server}/${at.siteId}/gather?market=${at.marketId}`)
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})
const { seen, keys, until, rowCount } = stepsOn(() => page)

/** Goes to a place by the palette. */
async function goTo(name: string): Promise<void> {
  await keys('Control+k')
  await until('the palette', () =>
    page.evaluate(
      () => document.activeElement?.closest('[role=dialog]')?.querySelector('input') === document.activeElement,
    ),
  )
  await page.keyboard.type(name)
  await until('its entry', () =>
    page.evaluate(
      wanted => [...document.querySelectorAll('[role=option]')][0]?.textContent?.startsWith(wanted) ?? false,
      name,
    ),
  )
  await keys('Enter')
}
/** Goes on with Tab until the focus is on what is called so. */
async function tabTo(name: string, back = false): Promise<void> {
  for (let tries = 0; tries < 80; tries++) {
    const is = await page.evaluate(() => {
      const on = document.activeElement!
      return on.getAttribute('aria-label') || on.textContent!.trim()
    })
    if (is.startsWith(name)) return
    await keys(back ? 'Shift+Tab' : 'Tab')
  }
  throw new Error(`Tab does not reach "${name}"`)
}

test('from kept keywords to pages on the plan, by keyboard alone', async () => {
  await until('rows', async () => (await rowCount()) > 5)
  await goTo('Group')
  await seen('Which keywords are one page?')
  await seen('60 keywords are kept in this site.')
  await tabTo('Group keywords')
  await keys('Enter')
  await seen('60 result pages would be fetched')
  await until('the button of the dialog', async () => {
    const is = await page.evaluate(
      () =>
        document.activeElement!.textContent === 'Group' && document.activeElement!.closest('[role=dialog]') !== null,
    )
    if (!is) await keys('Tab')
    return is
  })
  await keys('Enter')
  await until('themes', async () => (await rowCount()) > 1)
  const [grouping] = await callServer(stack.server, listGroupings, at)
  const one = { siteId: at.siteId, groupingId: grouping!.id }
  const headline = (is: string) =>
    page.evaluate(is => [...document.querySelectorAll('.headline')].some(each => each.textContent === is), is)
  await until('the number of themes', async () => headline(String(grouping!.themes)))

  // Another threshold is looked at and kept.
  // A slow machine may draw the picture anew between the two keys, which takes the focus from it: then it is gone to again.
  const asked = () =>
    page.evaluate(() =>
      Number(document.querySelector('[aria-label="Shared pages asked for"]')?.getAttribute('aria-valuenow') ?? NaN),
    )
  await until('another threshold', async () => {
    if ((await asked()) === grouping!.threshold - 1) return true
    await tabTo('Shared pages asked for')
    if ((await asked()) === grouping!.threshold) await keys('ArrowLeft')
    await new Promise(resolve => setTimeout(resolve, 1_000))
    return (await asked()) === grouping!.threshold - 1
  })
  await seen('Nothing is changed yet')
  const wanted = grouping!.threshold - 1
  const looked = (await callServer(stack.server, listThemes, { ...one, threshold: wanted, method: 'lead' })).rows
  await until('the other themes', async () => headline(String(looked.length)))
  await tabTo('Keep these themes')
  await keys('Enter')
  await until('the choice', async () => (await callServer(stack.server, listGroupings, at))[0]!.threshold === wanted)
  await until(
    'it to be told no more',
    async () => !(await page.evaluate(() => document.body.innerText)).includes('Nothing is changed yet'),
  )

  // The first theme goes on its page, and the second is joined to it first.
  await until('rows', async () => (await rowCount()) > 1)
  const rows = (await callServer(stack.server, listThemes, one)).rows.toSorted(
    (a, b) => (b.searches ?? 0) - (a.searches ?? 0),
  )
  await page.focus('.sheet-row')
  await keys('Enter')
  await seen("The lead's first page")
  await keys('p')
  await seen(`${rows[0]!.keywords} keywords put on 1 page`)
  const plan = await callServer(stack.server, listPages, { ...at, today: '2026-11-20' })
  expect(plan.map(each => each.keywords.length)).toEqual([rows[0]!.keywords])
  await goTo('Plan')
  await seen(plan[0]!.title)
}, 120_000)

test('what is looked at comes back with Back, and by its address', async () => {
  await page.goto(`${stack.server}/${at.siteId}/group?market=${at.marketId}`)
  await until('rows', async () => (await rowCount()) > 1)
  await page.click('::-p-text(Keywords)')
  await until('keywords', async () => page.url().includes('see=keywords') && (await rowCount()) > 10)
  await page.goBack()
  await until('themes again', async () => !page.url().includes('see=') && (await page.$('.group-head')) !== null)
})
