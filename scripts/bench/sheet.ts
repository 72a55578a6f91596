import { createReadStream, existsSync } from 'node:fs'
import { createServer } from 'node:http'
import { join } from 'node:path'
import type { Page } from 'puppeteer-core'
import { openBrowser } from '../lib/browser.ts'
import { run } from '../lib/install.mjs'
import { type Entry, quantile } from '../lib/measures.ts'
import { freePort } from '../lib/postgres.mjs'
import { root } from '../lib/stack.ts'

/** The first word warms the page up and is not counted. */
const typed = ['warm', 'kiln', 'glaze', 'pottery', 'studio', 'recipe', 'mug', 'port hal', 'beginner']

/** Runs in the page, as text: the TypeScript runner puts helpers of its own into functions, which a page does not have. */
const watchKeys = `
  window.times = []
  document.addEventListener('keydown', event => {
    const input = event.target
    if (input.getAttribute('aria-label') !== 'Contains') return
    const before = input.value
    function look() {
      const sheet = document.querySelector('.sheet')
      const names = [...document.querySelectorAll('.sheet-row .keyword-name')].map(name => name.textContent)
      const answered = input.value !== before && sheet.getAttribute('aria-busy') !== 'true' && !window.source.pending && names.every(name => name.includes(input.value.trim()))
      if (answered) window.times.push(performance.now() - event.timeStamp)
      else if (performance.now() - event.timeStamp < 20000) requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  }, true)
`

/** Types words letter by letter and measures each key from its event to the frame after the rows that answer it were drawn. */
async function keystrokes(page: Page, url: string): Promise<number[]> {
  await page.goto(url)
  await page.waitForFunction(
    () =>
      document.querySelectorAll('.sheet-row').length > 10 &&
      (window as unknown as { source: { state: string } }).source.state === 'ready',
    { timeout: 120_000 },
  )
  await page.evaluate(watchKeys)
  await page.click('input[aria-label="Contains"]')
  for (const word of typed) {
    for (const letter of word) {
      const count = await page.evaluate(() => (window as unknown as { times: number[] }).times.length)
      await page.keyboard.press(letter === ' ' ? 'Space' : (letter as 'a'))
      await page.waitForFunction(
        (wanted: number) => (window as unknown as { times: number[] }).times.length > wanted,
        { polling: 'raf', timeout: 30_000 },
        count,
      )
    }
    await page.keyboard.press('Escape')
    await page.click('input[aria-label="Contains"]')
    await new Promise(resolve => setTimeout(resolve, 300))
    if (word === typed[0]) await page.evaluate('window.times = []')
  }
  return page.evaluate(() => (window as unknown as { times: number[] }).times)
}

export const sheetBench: Entry = {
  name: 'sheet.filter.100k',
  async run() {
    run(
      process.execPath,
      [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--mode', 'bench', '--logLevel', 'error'],
      { cwd: join(root, 'web') },
    )
    const folder = join(root, 'web/dist-bench')
    const types: Record<string, string> = {
      html: 'text/html',
      js: 'text/javascript',
      css: 'text/css',
      woff2: 'font/woff2',
      svg: 'image/svg+xml',
    }
    const server = createServer((request, response) => {
      const path = new URL(request.url ?? '/', 'http://bench').pathname
      const file = join(folder, path.startsWith('/assets/') ? path : 'bench/index.html')
      if (!file.startsWith(folder) || !existsSync(file)) {
        response.writeHead(404).end()
        return
      }
      response.writeHead(200, { 'content-type': types[file.split('.').at(-1)!] ?? 'application/octet-stream' })
      createReadStream(file).pipe(response)
    })
    const port = await freePort()
    await new Promise<void>(resolve => server.listen(port, '127.0.0.1', () => resolve()))
    const { browser, close } = await openBrowser()
    try {
      const page = await browser.newPage()
      await page.setViewport({ width: 1280, height: 800 })
      const ours = await keystrokes(page, `http://127.0.0.1:${port}/?rows=100000`)
      const table = await keystrokes(page, `http://127.0.0.1:${port}/?rows=100000&engine=table`)
      return [
        {
          name: 'sheet.filter.100k',
          value: quantile(ours, 0.95),
          unit: 'ms, p95 keystroke to painted rows',
          better: 'lower',
          reference: { what: "the same page with the table library's own filter", value: quantile(table, 0.95) },
        },
      ]
    } finally {
      await close()
      server.close()
    }
  },
}
