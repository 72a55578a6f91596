import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readLogState } from '@dew-trail/contract/log'
import { listJobs } from '@dew-trail/contract/jobs'
import { startGathering } from '@dew-trail/contract/gather'
import { createSite, listSites } from '@dew-trail/contract/sites'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { callServer } from '@dew-trail/scripts/lib/client'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import type { Page } from 'puppeteer-core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { stepsOn } from './steps.ts'

let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
let page: Page
const problems: string[] = []
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20' })
  await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  browser = await openBrowser()
  page = await browser.browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  page.on('pageerror', error => problems.push(String(error)))
  page.on('console', message => {
    if (message.type() === 'error') problems.push(message.text())
  })
  await page.goto(`${stack.server}/`)
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})

const { text, until, seen, click, rowCount, firstPhrase, station, keys } = stepsOn(() => page)
/** Rows may move while a job brings figures; steps that walk the rows wait for its end. */
const allDone = () =>
  until('the end of all jobs', async () => {
    const jobs = await callServer(stack.server, listJobs, { siteId: 1 })
    return jobs.length > 0 && jobs.every(job => job.endedAt !== null)
  })

describe('the trail, from a seed to a tracked position', () => {
  test('an empty site says what to do, and a seed fills the sheet as rows arrive', async () => {
    await seen('Gather the first keywords')
    await page.type('.rail textarea', 'pottery wheel')
    await page.keyboard.press('Enter')
    await until('rows', async () => (await rowCount()) > 10)
    await seen('searches/mo')
    await allDone()
    // The rail and the foot tell the same number.
    await until('all keywords in the rail', () =>
      page.evaluate(() => {
        const all = [...document.querySelectorAll('.rail-row')].find(row =>
          row.textContent!.startsWith('Everything found'),
        )
        const count = all!.querySelector('small')!.textContent!
        return count !== '0' && document.querySelector('.foot')!.textContent!.includes(`of ${count}`)
      }),
    )
  })

  test('typing filters at once and is kept in the address; a word of the panel keeps and drops', async () => {
    await page.keyboard.press('Escape')
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.keyboard.press('/')
    await page.keyboard.type('beginner')
    await until(
      'only beginner keywords',
      async () =>
        await page.$$eval(
          '.sheet-row .keyword-name',
          names => names.length > 0 && names.every(name => name.textContent!.includes('beginner')),
        ),
    )
    await until('the address has it', async () => page.url().includes('where=phrase'))
    await page.reload()
    await until(
      'the same after a reload',
      async () =>
        await page.$$eval(
          '.sheet-row .keyword-name',
          names => names.length > 0 && names.every(name => name.textContent!.includes('beginner')),
        ),
    )
    await page.click('input[aria-label="Contains"]')
    await page.keyboard.press('Escape')
    await until(
      'all again',
      async () =>
        await page.$$eval('.sheet-row .keyword-name', names =>
          names.some(name => !name.textContent!.includes('beginner')),
        ),
    )
    await page.waitForSelector('.word .word-text')
    // Clicked in the page itself: the panel follows the list a moment later, and a pointer could meet another word.
    await page.evaluate(() => document.querySelector<HTMLElement>('.word .word-text')!.click())
    await page.waitForSelector('.word.only .word-text')
    const word = await page.$eval('.word.only .word-text', element => element.textContent!)
    await until(
      'only with the word',
      async () =>
        await page.$$eval(
          '.sheet-row .keyword-name',
          (names, wanted) => names.every(name => name.textContent!.split(' ').includes(wanted)),
          word,
        ),
    )
    await page.evaluate(() => document.querySelector<HTMLElement>('.word.only .word-text')!.click())
    await until('all words again', async () => (await page.$$('.word.only')).length === 0)
  })

  test('keyboard: rows are walked, selected, kept; keeping can be undone', async () => {
    await page.focus('.sheet-row')
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('j')
    await until('the third row has the focus', () =>
      page.evaluate(() => document.activeElement?.getAttribute('aria-rowindex') === '4'),
    )
    await page.keyboard.press('Home')
    for (let i = 0; i < 6; i++) {
      await page.keyboard.press('x')
      await page.keyboard.press('ArrowDown')
    }
    await seen('6 selected')
    await page.keyboard.press('y')
    await seen('6 keywords kept')
    await until('the trail counts them', async () => (await text()).includes('0 of 6 kept'))
    await page.keyboard.press('Escape')
    await page.keyboard.press('End')
    await until('the last row is drawn and has the focus', () =>
      page.evaluate(
        () =>
          document.activeElement?.classList.contains('sheet-row') === true &&
          document.activeElement.getAttribute('aria-rowindex') ===
            document.querySelector('[role=treegrid]')?.getAttribute('aria-rowcount'),
      ),
    )
  })

  test('kept keywords are weighed; a row unfolds to its terrain, sentence and results', async () => {
    await station('weigh')
    await seen('Weigh all kept')
    await until('six kept rows', async () => (await rowCount()) === 6)
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent === 'Weigh all kept')!.click(),
    )
    await until(
      'chances',
      async () =>
        (await page.$$eval('.sheet-row', rows => rows.filter(row => row.textContent!.includes('%')).length)) === 6,
    )
    await page.focus('.sheet-row')
    await page.keyboard.press('Enter')
    await seen('likely place')
    await seen('First page of')
    expect(await page.$eval('.sheet-row[aria-expanded="true"]', row => row.getAttribute('aria-level'))).toBe('1')
    expect((await page.$$('.results tbody tr')).length).toBeGreaterThan(5)
    await until('the address has it', async () => page.url().includes('open='))
    await page.keyboard.press('ArrowLeft')
    await until('folded', async () => !(await text()).includes('likely place'))
  })

  test('the first page opens whole; a draft is put beside it; what strengths rest on is shown', async () => {
    await page.keyboard.press('ArrowRight')
    await click('Open the first page')
    await seen('Put a page beside it')
    await until('its address', async () => /weigh\/page\/\d+/.test(page.url()))
    await click('Who links to several')
    await seen('sites on this page')
    await click('Figures')
    await click('A draft')
    await page.type('textarea[aria-label="Draft"]', 'A garden\nRoses in spring.')
    await click('Judge it')
    await seen('What would help')
    await seen('The whole phrase in the title')
    await seen('Longer keywords')
    await click('default weights')
    await seen('What makes a result strong')
    await seen('The documented default weights are in use')
    await page.goBack()
    await seen('Put a page beside it')
    await station('weigh')
    await until('the rows again', async () => (await rowCount()) === 6)
  })

  test('keywords are put on a planned page, which sums them, and sent to tracking', async () => {
    await page.focus('.sheet-row')
    await page.keyboard.press('Home')
    await page.keyboard.down('Control')
    await page.keyboard.press('a')
    await page.keyboard.up('Control')
    await seen('6 selected')
    await page.keyboard.press('p')
    await seen('on a page')
    await until('a name is proposed', () =>
      page.evaluate(() =>
        [...document.querySelectorAll<HTMLInputElement>('[role=dialog] input')].some(input => input.value.length > 3),
      ),
    )
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent === 'Put on page')!.click(),
    )
    await seen('is planned with 6 keywords')
    await station('plan')
    // The tree holds what was planned and what results show of the site; the page is found, opened and its brief begun by keys.
    await page.waitForSelector('.tree-open.planned')
    const title = await page.$eval('.tree-open.planned', name => name.textContent!)
    await page.type('input[aria-label="Find a page"]', title)
    await until('only it and what stands above', async () => (await page.$$('.tree-row')).length <= 3)
    await page.focus('.site-tree')
    await keys('Home', 'ArrowDown', 'Enter')
    await seen('As a result line')
    await page.click('.offers .link')
    await until('a heading taken in', async () => (await page.$$('.brief .plain-list li')).length > 10)
    await click('List')
    await until('one page', async () => (await rowCount()) === 1)
    await page.click('.sheet-row .keyword-name')
    await seen('Send 6 keywords to tracking')
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent!.startsWith('Send 6'))!.click(),
    )
    await seen('All keywords are tracked')
  })

  test('a check asks the engines and the positions appear with a chart', async () => {
    await station('track')
    await until('six rows', async () => (await rowCount()) === 6)
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent === 'Check now')!.click(),
    )
    await seen('visibility')
    await allDone()
    await page.click('.sheet-row .keyword-name')
    await seen('Pages found in this market')
    await until('the chart is drawn', async () => (await page.$$('.sheet-details canvas')).length === 1)
  })

  test('a source gets a limit a day and loses it again', async () => {
    await page.click('a[href*="/sources"]')
    await click('no limit')
    await page.keyboard.type('90000')
    await page.keyboard.press('Enter')
    await seen('at most 90,000 requests a day')
    await click('90,000')
    for (let i = 0; i < 5; i++) await page.keyboard.press('Delete')
    for (let i = 0; i < 5; i++) await page.keyboard.press('Backspace')
    await page.keyboard.press('Enter')
    await seen('no limit a day')
  })

  test('a report is made from a template, given own words, issued, and read at its secret address', async () => {
    await station('reports')
    await click('New report')
    await click('Make it')
    await page.waitForSelector('.report-preview')
    await page.waitForSelector('::-p-aria([name="Add a section"])')
    await click('Add a section')
    await click('Own words')
    // The list lies over the page until it has faded.
    await page.waitForSelector('[role="listbox"]', { hidden: true })
    const words = await page.waitForSelector('::-p-aria([name="Own words, in Markdown"])')
    await words!.click({ count: 3 })
    await page.keyboard.type('A **good** month.')
    await page.keyboard.press('Tab')
    await click('Issue it')
    await seen('The report is issued')
    await click('Make a secret address')
    const address = await page.waitForSelector('.issue-list input[readonly]')
    const url = await address!.evaluate(input => (input as HTMLInputElement).value)
    const answer = await fetch(url)
    expect(answer.status).toBe(200)
    expect(await answer.text()).toContain('A <strong>good</strong> month.')
  })

  test('a grid is laid over a town, and shows where the business stands, point by point', async () => {
    await station('places')
    await click('Lay a grid over a town')
    await page.waitForSelector('.MuiChip-root')
    await page.type('::-p-aria([name="Keywords, one a line"])', 'pottery class')
    await click('Lay it and run')
    await page.waitForSelector('.places-row .hex-first, .places-row .hex-front')
    await seen('mean position')
    await page.$eval('.places-row .hex[tabindex="0"]', hexagon => (hexagon as SVGGElement).focus())
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('Enter')
    await page.waitForSelector('[aria-label="At this point"] .own-result')
  })

  test('links say how they come while none is known, and a prospect is written down', async () => {
    await station('links')
    await seen('Our graph knows no link to')
    await (await page.waitForSelector('::-p-aria([name="Prospects"][role="button"])'))!.click()
    await seen('No site is written down yet')
    await page.type('input[aria-label="Another prospect"]', 'classfinder.example')
    await page.keyboard.press('Enter')
    await page.waitForSelector('.sheet-row [title="classfinder.example"]')
  })

  test('rivals are compared by the results that were fetched', async () => {
    await station('rivals')
    await page.waitForSelector('.profiles')
    await seen('Results of')
    await page.waitForSelector('.profiles th.n:nth-child(3)')
  })

  test('the palette finds a keyword and goes to it', async () => {
    await page.keyboard.down('Control')
    await page.keyboard.press('k')
    await page.keyboard.up('Control')
    await page.waitForSelector('[role=dialog] input')
    await page.keyboard.type('pottery wheel')
    await until(
      'keywords are offered',
      async () =>
        await page.$$eval('[role=option]', options =>
          options.some(option => option.textContent!.includes('pottery wheel')),
        ),
    )
    await page.keyboard.press('Enter')
    await until(
      'Gather shows it',
      async () => page.url().includes('/gather') && (await firstPhrase()).includes('pottery wheel'),
    )
  })

  test('a file with other column names is mapped, imported and exported as shown, formulas made harmless', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'dew-trail-files-'))
    const downloads = join(folder, 'down')
    mkdirSync(downloads)
    const many = Array.from({ length: 4_000 }, (_, i) => `yy a keyword with some words ${i};${i};c\n`).join('')
    writeFileSync(
      join(folder, 'mine.csv'),
      `Suchbegriff;Monatlich;Note\nzz glaze chart;1.200;a\nzz =1+1 trick;5;b\n${many}`,
    )
    const client = await page.createCDPSession()
    await client.send('Page.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads })
    await page.goto(`${stack.server}/1/gather?import=keywords`)
    const input = await page.waitForSelector('input[type=file]')
    await (input as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(join(folder, 'mine.csv'))
    await seen('separated by semicolons')
    await page.click('[role=combobox][aria-label="Searches a month"], [aria-label="Searches a month"]')
    await click('Monatlich')
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLButtonElement>('[role=dialog] button')]
        .find(button => button.textContent === 'Import')!
        .click(),
    )
    await page.waitForFunction(() => !document.querySelector('[role=dialog]'))
    await page.click('input[aria-label="Contains"]')
    await page.keyboard.type('zz')
    await until('both keywords', async () => (await rowCount()) === 2)
    await seen('1,205 searches/mo')
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent === 'Export')!.click(),
    )
    await click('CSV')
    await until('the file', async () => readdirSync(downloads).some(name => name.endsWith('.csv')))
    const exported = readFileSync(join(downloads, readdirSync(downloads)[0]!), 'utf8')
    expect(exported).toContain('Keyword,Searches')
    expect(exported).toContain('zz glaze chart,1200')
    // A large one, which the browser packs in the worker that holds the rows.
    await page.click('input[aria-label="Contains"]', { count: 3 })
    await page.keyboard.type('yy')
    await seen('4,000')
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(button => button.textContent === 'Export')!.click(),
    )
    await click('Workbook (XLSX)')
    await until('the workbook', async () => readdirSync(downloads).some(name => name.endsWith('.xlsx')))
    const workbook = readFileSync(join(downloads, readdirSync(downloads).find(name => name.endsWith('.xlsx'))!))
    expect(workbook.subarray(0, 2).toString()).toBe('PK')
    expect(workbook.length).toBeGreaterThan(50_000)
    rmSync(folder, { recursive: true })
  })

  test('eight tabs of a site are open at once and all hear what happens', async () => {
    const tabs: Page[] = []
    for (let i = 0; i < 8; i++) {
      const tab = await browser.browser.newPage()
      tabs.push(tab)
      await tab.goto(`${stack.server}/1/gather`)
      await tab.waitForSelector('.sheet-row', { timeout: 15_000 })
    }
    const heard = tabs.map(tab =>
      tab.waitForResponse(response => response.url().includes('/trail'), { timeout: 15_000 }),
    )
    const { markets } = (await callServer(stack.server, listSites, {}))[0]!
    const seeds = ['pottery apron']
    await callServer(stack.server, startGathering, {
      siteId: 1,
      marketId: markets[0]!.id,
      seeds,
      mostIdeas: 20,
      ways: ['ads'],
    })
    expect((await Promise.all(heard)).map(response => response.status())).toEqual(new Array(8).fill(200))
    for (const tab of tabs) await tab.close()
    await allDone()
  })

  test('forms fold under one, figures explain themselves, a view is kept and chosen again', async () => {
    await page.goto(`${stack.server}/1/gather`)
    const listed = () => page.$eval('.sheet', sheet => Number(sheet.getAttribute('aria-rowcount')))
    await page.waitForSelector('.sheet-row .keyword-name')
    await until('all rows', async () => (await listed()) > 20)
    const before = await listed()
    await click('Fold forms')
    await until('fewer rows', async () => (await listed()) < before)
    // The forms may stand below what is in sight.
    await page.focus('.sheet-row[tabindex="0"]')
    await until('a family', async () => {
      if (await page.$('.family-size')) return true
      await page.keyboard.press('PageDown')
      return false
    })
    await page.click('.family-size')
    await page.waitForSelector('.sheet-row.in-family')
    await page.focus('.sheet-row[tabindex="0"]')
    await page.keyboard.press('i')
    await seen('mean of the last known months')
    await page.keyboard.press('Escape')
    await click('Views')
    await click('Worth weighing')
    await seen('Trend not')
    await page.waitForFunction(() => !document.querySelector('[role=menu]'))
    await click('Views')
    await page.waitForSelector('input[aria-label="Name of a new view"]')
    await page.click('input[aria-label="Name of a new view"]')
    await page.keyboard.type('Mine')
    await page.keyboard.press('Enter')
    await seen('View "Mine" saved')
    await click('Unfold forms')
  })

  test('the words around a seed are drawn as a tree that the keyboard walks', async () => {
    await page.goto(`${stack.server}/1/gather`)
    await page.waitForSelector('.rail-branch, .seed .rail-row')
    // The element itself: the rail still moves while its lists arrive.
    await page.$eval('.seed .rail-row', row => (row as HTMLElement).click())
    await page.waitForSelector('.seed .rail-row[aria-current=true]')
    await click('As a tree')
    await page.waitForSelector('[role=treeitem]')
    await page.$eval('[role=treeitem][tabindex="0"]', item => (item as SVGGElement).focus())
    const first = await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))
    await page.keyboard.press('ArrowDown')
    expect(await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).not.toBe(first)
    await page.keyboard.press('Enter')
    await seen('kept')
    await click('As a list')
  })

  test('the query log is loaded from its source and shows hidden demand and a click curve', async () => {
    await page.goto(`${stack.server}/1/gather`)
    await click('Query log')
    await seen('The whole domain')
    await click('Load')
    await until('the log is loaded', async () => {
      const { loaded } = await callServer(stack.server, readLogState, { siteId: 1 })
      return loaded.some(each => each.lastDay !== null)
    })
    await click('Query log')
    await seen('Impressions')
    await seen('impressions; visits use it')
    await page.keyboard.press('Escape')
  })

  test('all that was done without ever asking for hidden truth', async () => {
    expect(await (await fetch(`${stack.truth}/requests`)).json()).toEqual({ requests: 0 })
  })

  test('nothing was written to the console as an error', () => expect(problems).toEqual([]))
})
