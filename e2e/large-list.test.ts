import { setTimeout as sleep } from 'node:timers/promises'
import { listSites } from '@dew-trail/contract/sites'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { callServer, keywordRows } from '@dew-trail/scripts/lib/client'
import { fillSite } from '@dew-trail/scripts/lib/fill-site'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import type { Page } from 'puppeteer-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { stepsOn } from './steps.ts'

/** What screens of tables promise, on a list of some thousand rows. */
const many = 3_200
let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
let page: Page
let siteId: number
let market: number
const problems: string[] = []
const { until, seen, click, rowCount, firstPhrase, station, keys } = stepsOn(() => page)
const foot = (): Promise<string> =>
  page.evaluate(() => document.querySelector('.foot')?.textContent?.replace(/\s+/g, ' ') ?? '')
const footSays = (words: string) => until(`${words} in the foot`, async () => (await foot()).includes(words))
const contains = async (words: string) => {
  await page.click('input[aria-label="Contains"]', { count: 3 })
  await page.keyboard.press('Backspace')
  await page.keyboard.type(words)
}
const kept = async (): Promise<number> =>
  (await keywordRows(stack.server, siteId, market)).filter(row => row.kept === true).length
const scrolled = (): Promise<number> => page.$eval('.sheet', sheet => sheet.scrollTop)
const openGather = async (query = '') => {
  await page.goto(`${stack.server}/${siteId}/gather${query}`)
  await page.waitForSelector('.sheet-row .keyword-name')
  await footSays('of 3,200')
}

beforeAll(async () => {
  stack = await startStack({ size: 0.1, today: '2026-11-20' })
  siteId = await fillSite(stack, 'kilnandtide.example', many)
  market = (await callServer(stack.server, listSites, {}))[0]!.markets[0]!.id
  browser = await openBrowser()
  page = await browser.browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  page.on('pageerror', error => problems.push(String(error)))
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})

describe('a list of 3,200 keywords', () => {
  test('what is done serves the selected rows in sight, says how many it left out, and selects nothing; undo selects them again', async () => {
    await openGather()
    await page.focus('.sheet-row')
    await keys('Control+a')
    await seen('3,200 selected')
    await contains('kiln kit')
    const meet = (await keywordRows(stack.server, siteId, market)).filter(row =>
      ['kiln', 'kit'].every(word => String(row.phrase).includes(word)),
    )
    const inSight = meet.length
    expect(inSight).toBeGreaterThan(1)
    await seen(`${(many - inSight).toLocaleString('en')} of them hidden by conditions`)
    await page.focus('.sheet-row')
    await keys('y')
    await seen(`${inSight} keywords kept`)
    await seen('selected rows that conditions hide left out')
    expect(await foot()).not.toContain('selected')
    expect(await kept()).toBe(inSight)
    await click('Undo')
    await seen('3,200 selected')
    await until('none is kept', async () => (await kept()) === 0)
    await keys('Escape')
  })

  test('Ctrl Z undoes the last thing done, and the list of what was done undoes an earlier one', async () => {
    await openGather()
    await page.focus('.sheet-row')
    await keys('x', 'ArrowDown', 'x', 'y')
    await seen('2 keywords kept')
    await keys('ArrowDown', 'x', 'ArrowDown', 'x', 'ArrowDown', 'x', 'y')
    await seen('3 keywords kept')
    expect(await kept()).toBe(5)
    await keys('Control+z')
    await until('two are kept', async () => (await kept()) === 2)
    await keys('Control+k')
    await page.waitForSelector('[role=dialog] input')
    await page.keyboard.type('What was done')
    await seen('What was done')
    await keys('Enter')
    await page.waitForFunction(() => document.querySelector('[role=dialog]')?.textContent?.includes('2 keywords kept'))
    await page.click('[role=dialog] tr:nth-of-type(2) button')
    await until('none is kept', async () => (await kept()) === 0)
    await keys('Escape')
  })

  test('words are found in any order; phrases, "or" and endings count', async () => {
    await openGather()
    const rows = await keywordRows(stack.server, siteId, market)
    const count = (test: (phrase: string) => boolean) =>
      rows.filter(row => test(String(row.phrase))).length.toLocaleString('en')
    const word = (text: string) => (phrase: string) => phrase.split(' ').includes(text)
    await contains('kit kiln')
    await footSays(`${count(phrase => phrase.includes('kit') && phrase.includes('kiln'))} shown of 3,200`)
    await contains('"kiln kit"')
    await footSays(`${count(phrase => / kiln kit /.test(` ${phrase} `))} shown of 3,200`)
    await contains('kiln or kit')
    await footSays(`${count(phrase => phrase.includes('kiln') || phrase.includes('kit'))} shown of 3,200`)
    await contains('glaze*')
    await footSays(`${count(phrase => phrase.split(' ').some(each => each.startsWith('glaze')))} shown of 3,200`)
    expect(rows.some(row => word('glazeless')(String(row.phrase)))).toBe(true)
    await page.focus('input[aria-label="Contains"]')
    await keys('Escape')
    await footSays('3,200 shown of 3,200')
  })

  test('a condition that is begun filters nothing; Enter ends it, and Back takes one thing back', async () => {
    await openGather()
    await click('condition')
    await page.waitForSelector('input[aria-label="Value"]')
    expect(await foot()).toContain('3,200 shown of 3,200')
    await page.type('input[aria-label="Value"]', '500')
    await keys('Enter')
    await until('the editor is closed', async () => (await page.$('input[aria-label="Value"]')) === null)
    await until('fewer rows', async () => !(await foot()).includes('3,200 shown of 3,200'))
    const one = await foot()
    // Typing rests before it is a step of the history.
    await until('the address', async () => page.url().includes('searches%3Afrom%3A500'))
    await contains('kiln')
    await until('fewer yet', async () => (await foot()) !== one)
    await until('the address', async () => page.url().includes('phrase%3Ahas%3Akiln'))
    await page.goBack()
    await until('one condition', async () => (await foot()) === one)
    await page.goBack()
    await footSays('3,200 shown of 3,200')
  })

  test('what is filtered away is told from what is not there, with the way back', async () => {
    await openGather()
    await contains('nosuchword')
    await seen('No keyword meets all conditions')
    expect(await page.evaluate(() => document.body.innerText)).not.toContain('Gather the first keywords')
    await openGather()
  })

  test('conditions, order, scroll and unfolded rows are as they were when one comes back by the trail', async () => {
    await openGather()
    await contains('kiln')
    await until('the address', async () => page.url().includes('kiln'))
    await page.$eval('.sheet', sheet => sheet.scrollTo(0, 3_000))
    await until('other rows', async () => (await scrolled()) === 3_000)
    await until('the rows of the condition', async () => !(await foot()).startsWith('3,200 shown'))
    const before = await foot()
    await station('plan')
    await seen('Plan')
    await page.waitForSelector('.main .empty, .tree-row')
    await station('gather')
    await page.waitForSelector('.sheet-row .keyword-name')
    await until('the same place', async () => (await scrolled()) === 3_000)
    await footSays(before)
    expect(page.url()).toContain('kiln')
  })

  test('a view sets columns and gives them back', async () => {
    await openGather()
    const heads = () => page.$$eval('[role=columnheader]', all => all.map(head => head.textContent))
    const mine = await heads()
    await click('Views')
    await page.waitForSelector('[role=menuitem]')
    await click('Worth weighing')
    await until('its columns', async () => (await heads()).join() !== mine.join())
    await click('Views')
    await click('My columns as before')
    await until('the columns of before', async () => (await heads()).join() === mine.join())
  })

  test('a right click offers what the keys do; links keep the menu of the browser', async () => {
    await openGather()
    const first = await firstPhrase()
    await page.click('.sheet-row .sheet-cell:nth-child(3)', { button: 'right' })
    const items = await page.waitForSelector('[role=menu]').then(menu => menu!.evaluate(each => each.textContent))
    for (const name of ['Keep', 'Weigh', 'Put on a page', 'Track', 'List or label', 'Gather from this'])
      expect(items).toContain(name)
    await keys('Escape')
    await until('the menu is gone', async () => (await page.$('[role=menu]')) === null)
    expect(await firstPhrase()).toBe(first)
  })

  test('all rows are printed, not only those that are drawn', async () => {
    await openGather()
    await page.evaluate(() => {
      // The print dialog would wait for somebody.
      const own = Object.getOwnPropertyDescriptor(HTMLIFrameElement.prototype, 'contentWindow')!.get!
      Object.defineProperty(HTMLIFrameElement.prototype, 'contentWindow', {
        get(this: HTMLIFrameElement) {
          const inside: Window = own.call(this)
          inside.print = () => {
            document.body.dataset.printed = String(inside.document.querySelectorAll('tbody tr').length)
          }
          return inside
        },
      })
    })
    await click('Export')
    await page.waitForSelector('[role=menuitem]')
    // The menu is where it will stay once it has grown.
    await sleep(400)
    await page.click('::-p-text(Print all rows)')
    await until(
      'the printed rows',
      async () => (await page.$eval('body', body => body.dataset.printed ?? '')) === '3200',
    )
  })

  test('a leap to the last row and back draws rows at once; few keys lead from the top to the first row', async () => {
    await openGather()
    await page.focus('.sheet-row')
    await sleep(200)
    await keys('End')
    await until('the last row', () =>
      page.evaluate(() => document.activeElement?.closest('[data-index]')?.getAttribute('data-index') === '3199'),
    )
    await keys('Home')
    await until('the first row', () =>
      page.evaluate(() => document.activeElement?.closest('[data-index]')?.getAttribute('data-index') === '0'),
    )
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.reload()
    await page.waitForSelector('.sheet-row .keyword-name')
    await keys('Tab', 'Enter')
    expect(await page.evaluate(() => document.activeElement?.className)).toContain('sheet-row')
  })

  test('in a small window rows are in sight, and nothing is cut off at the side', async () => {
    await page.setViewport({ width: 640, height: 400 })
    await openGather()
    expect(await rowCount()).toBeGreaterThan(0)
    const inSight = await page.evaluate(
      () =>
        [...document.querySelectorAll('.sheet-row')].filter(row => {
          const box = row.getBoundingClientRect()
          return (
            box.bottom <= window.innerHeight &&
            document.elementFromPoint(box.left + 60, box.top + 16)?.closest('.sheet-row') === row
          )
        }).length,
    )
    expect(inSight).toBeGreaterThanOrEqual(2)
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(640)
    await page.setViewport({ width: 1280, height: 800 })
  })

  test('two tabs on one site: what one does the other shows, and its place in the list stays', async () => {
    await openGather()
    const other = await browser.browser.newPage()
    await other.goto(page.url())
    await other.waitForSelector('.sheet-row .keyword-name')
    await page.$eval('.sheet', sheet => sheet.scrollTo(0, 6_000))
    await until('other rows', async () => (await scrolled()) === 6_000)
    const first = await firstPhrase()
    await other.focus('.sheet-row')
    await other.keyboard.press('y')
    await until('one kept here too', async () =>
      (await page.evaluate(() => document.querySelector('.trail')!.textContent!)).includes('of 1 kept'),
    )
    expect(await scrolled()).toBe(6_000)
    expect(await firstPhrase()).toBe(first)
    await other.close()
  })

  test('a site is added by a pasted address, and removed with its data once its name is typed', async () => {
    await openGather()
    await page.click('.shell-head button[aria-haspopup=menu]')
    await page.waitForSelector('[role=menu]')
    await click('Add a site')
    await page.waitForSelector('[role=dialog] input')
    await page.type('[role=dialog] input', 'https://www.claycorner.example/shop?x=1')
    await click('Add', '[role=dialog]')
    await until('its own screen', async () => !page.url().includes(`/${siteId}/`))
    await seen('claycorner.example')
    const domains = async () => (await callServer(stack.server, listSites, {})).map(each => each.domain)
    expect(await domains()).toEqual(['kilnandtide.example', 'claycorner.example'])
    await page.click('.shell-head button[aria-haspopup=menu]')
    await page.waitForSelector('[role=menu]')
    await click('This site and its markets')
    await page.waitForSelector('[role=dialog] summary')
    await page.click('[role=dialog] details > summary')
    await page.type('[aria-label="Type claycorner.example to remove it"]', 'claycorner.example')
    await click('Remove with all data', '[role=dialog]')
    await until('the other site', async () => page.url().includes(`/${siteId}/`))
    expect(await domains()).toEqual(['kilnandtide.example'])
  })

  test('nothing broke on the way', () => expect(problems).toEqual([]))
})

test('an installation without sites offers to add one', async () => {
  const empty = await startStack({ size: 0.1 })
  try {
    await page.goto(empty.server)
    await seen('No site yet')
    await click('Add a site')
    await page.waitForSelector('[role=dialog] input')
    await page.type('[role=dialog] input', 'kilnandtide.example')
    await click('Add', '[role=dialog]')
    await seen('Gather the first keywords')
  } finally {
    await empty.close()
  }
})
