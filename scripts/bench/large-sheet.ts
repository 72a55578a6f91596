import { readFileSync } from 'node:fs'
import { keywordRowsPath } from '@dew-trail/contract/gather'
import { listSites } from '@dew-trail/contract/sites'
import type { Browser, Page } from 'puppeteer-core'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer } from '../lib/client.ts'
import { fillSite } from '../lib/fill-site.ts'
import { type Entry, type Measure, median, quantile } from '../lib/measures.ts'
import { root, type Stack, startStack } from '../lib/stack.ts'

const marketOf = async (stack: Stack, siteId: number): Promise<number> =>
  (await callServer(stack.server, listSites, {})).find(site => site.id === siteId)!.markets[0]!.id

/** Milliseconds from the address to all rows loaded and the first of them drawn. */
async function open(page: Page, url: string, rows: number): Promise<number> {
  const startedMs = performance.now()
  await page.goto(url, { waitUntil: 'domcontentloaded' })
  await page.waitForFunction(
    `document.querySelectorAll('.sheet-row .keyword-name').length > 10 && document.querySelector('.sheet').getAttribute('aria-busy') !== 'true' && document.querySelector('.foot')?.textContent.includes(${JSON.stringify(`of ${rows.toLocaleString('en')}`)})`,
    { polling: 20, timeout: 180_000 },
  )
  return performance.now() - startedMs
}

/** Runs in the page, as text: the time of every key in the box until the rows that answer it are drawn. */
const watchKeys = `
  window.times = []
  document.addEventListener('keydown', event => {
    const input = event.target
    if (input.getAttribute('aria-label') !== 'Contains') return
    const before = input.value
    let frames = 0
    function look() {
      frames++
      const names = [...document.querySelectorAll('.sheet-row .keyword-name')].map(name => name.textContent)
      const busy = document.querySelector('.sheet').getAttribute('aria-busy') === 'true'
      if (input.value !== before && !busy && frames > 1 && names.every(name => input.value.trim().split(' ').every(word => name.includes(word)))) window.times.push(performance.now() - event.timeStamp)
      else if (performance.now() - event.timeStamp < 20000) requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  }, true)
`
async function keystrokes(page: Page): Promise<number[]> {
  await page.evaluate(watchKeys)
  for (const word of ['warm', 'kiln', 'glaze', 'stone', 'raku w', 'mug', 'best k', 'price']) {
    await page.click('input[aria-label="Contains"]')
    for (const letter of word) {
      const count = await page.evaluate<[], () => number>('window.times.length' as never)
      await page.keyboard.press(letter === ' ' ? 'Space' : (letter as 'a'))
      await page.waitForFunction(`window.times.length > ${count}`, { polling: 'raf', timeout: 30_000 })
    }
    await page.keyboard.press('Escape')
    await new Promise(resolve => setTimeout(resolve, 500))
    if (word === 'warm') await page.evaluate('window.times = []')
  }
  return page.evaluate('window.times') as Promise<number[]>
}

/** Share of frames in which a row in sight had no content while the list was scrolled by wheel, fast and far. */
async function blankShare(page: Page): Promise<number> {
  await page.evaluate(`
    window.frames = 0; window.blank = 0; window.watching = true
    requestAnimationFrame(function look() {
      const box = document.querySelector('.sheet').getBoundingClientRect()
      for (const part of [0.25, 0.5, 0.75]) {
        const at = document.elementFromPoint(box.left + 120, box.top + box.height * part)
        window.frames++
        if (!at?.closest('.sheet-row')?.querySelector('.keyword-name')) window.blank++
      }
      if (window.watching) requestAnimationFrame(look)
    })
  `)
  const sheet = (await page.$('.sheet'))!
  const box = (await sheet.boundingBox())!
  await page.mouse.move(box.x + 300, box.y + 300)
  for (let i = 0; i < 60; i++) {
    await page.mouse.wheel({ deltaY: i % 20 === 19 ? 40_000 : 900 })
    await new Promise(resolve => setTimeout(resolve, 30))
  }
  return page.evaluate('window.watching = false, window.blank / window.frames') as Promise<number>
}

/** Memory of the process that draws the page and holds its worker, in MB. */
async function pageMemory(browser: Browser, page: Page): Promise<number> {
  const client = await browser.target().createCDPSession()
  const { processInfo } = (await client.send('SystemInfo.getProcessInfo')) as {
    processInfo: Array<{ type: string; id: number }>
  }
  await page.evaluate('1')
  const sizes = processInfo
    .filter(each => each.type === 'renderer')
    .map(each => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${each.id}/status`, 'utf8'))?.[1] ?? 0) / 1024)
  return Math.max(...sizes)
}

async function openTab(browser: Browser): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  return page
}

const four = '?where=searches:from:20&where=cpc:to:3.9&where=competition:from:0.05&sort=-searches'

export const largeSheetBench: Entry = {
  name: 'sheet.large',
  gives: [
    'sheet.open.100k',
    'sheet.open.500k',
    'sheet.prepare.500k',
    'sheet.filter.500k',
    'sheet.memory.500k',
    'sheet.scroll.blank',
  ],
  async run() {
    buildWeb(root)
    const stack = await startStack({ size: 0.1, env: { IMPORT_MAX_BYTES: '900000000' } })
    const { browser, close } = await openBrowser()
    try {
      const small = await fillSite(stack, 'hundred.example', 100_000)
      const large = await fillSite(stack, 'fivehundred.example', 500_000)
      // After an import the server writes the rows down as they travel. Opening is measured when that is done, and that for itself.
      const preparing: number[] = []
      for (const id of [small, large]) {
        const startedMs = performance.now()
        await (await fetch(`${stack.server}${keywordRowsPath(id, await marketOf(stack, id), 0)}`)).arrayBuffer()
        preparing.push((performance.now() - startedMs) / 1000)
      }
      const page = await openTab(browser)
      await open(page, `${stack.server}/${small}/gather`, 100_000)
      const opens: number[] = []
      for (let i = 0; i < 3; i++) {
        await page.goto('about:blank')
        opens.push(await open(page, `${stack.server}/${small}/gather`, 100_000))
      }
      await page.close()
      const scrolled = await openTab(browser)
      const openLarge = await open(scrolled, `${stack.server}/${large}/gather`, 500_000)
      const blank = await blankShare(scrolled)
      await scrolled.close()
      // A tab of its own: memory is that of one large gathering opened and filtered.
      const tab = await openTab(browser)
      await open(tab, `${stack.server}/${large}/gather${four}`, 500_000)
      const keys = await keystrokes(tab)
      const memory = await pageMemory(browser, tab)
      return [
        {
          name: 'sheet.open.100k',
          value: median(opens) / 1000,
          unit: 's, address to all rows loaded',
          better: 'lower',
        },
        {
          name: 'sheet.prepare.500k',
          value: preparing[1]!,
          unit: 's, rest of writing the rows down, beside other work, after an import',
          better: 'lower',
        },
        { name: 'sheet.open.500k', value: openLarge / 1000, unit: 's', better: 'lower' },
        {
          name: 'sheet.filter.500k',
          value: quantile(keys, 0.95),
          unit: 'ms, p95 keystroke to painted rows, four conditions and a sort',
          better: 'lower',
          reference: { what: 'median', value: median(keys) },
        },
        { name: 'sheet.memory.500k', value: memory, unit: 'MB of the page and its worker', better: 'lower' },
        { name: 'sheet.scroll.blank', value: blank, unit: 'share of blank samples while scrolling', better: 'lower' },
      ] satisfies Measure[]
    } finally {
      await close()
      await stack.close()
    }
  },
}
