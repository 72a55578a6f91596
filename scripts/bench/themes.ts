import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createGrouping } from '@dew-trail/contract/group'
import type { Page } from 'puppeteer-core'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer, finishJob } from '../lib/client.ts'
import { fillSite } from '../lib/fill-site.ts'
import { run } from '../lib/install.mjs'
import { type Entry, median } from '../lib/measures.ts'
import { root, type Stack, startStack } from '../lib/stack.ts'

const [many, popular, onScreen] = [100_000, 30, 5_000]

type Ours = { groupMs: number; previewMs: number; themes: number; peakBytes: number }
const runOurs = (pages: number): Ours =>
  JSON.parse(
    execFileSync(
      process.execPath,
      ['--import', 'tsx', join(root, 'scripts/bench/themes-kernel.ts'), String(many), String(pages)],
      { encoding: 'utf8', cwd: root },
    ),
  ) as Ours

/** Themes of a hundred thousand made-up keywords at four shared pages of ten, side by side with the same in C++. */
export const themesBench: Entry = {
  name: 'themes.100k',
  gives: ['themes.100k', 'themes.popular', 'themes.preview.100k', 'themes.memory.100k'],
  async run() {
    const folder = mkdtempSync(join(tmpdir(), 'dew-trail-themes-'))
    try {
      const program = join(folder, 'themes')
      execFileSync('g++', ['-O3', '-march=native', '-std=c++17', '-o', program, join(root, 'scripts/bench/themes.cpp')])
      const runCpp = (pages: number): { ms: number; themes: number } =>
        JSON.parse(execFileSync(program, [String(many), String(pages)], { encoding: 'utf8' })) as {
          ms: number
          themes: number
        }
      // In turn, because the machine's speed changes by the minute.
      const rounds = [0, 1, 2].map(() => ({
        cpp: runCpp(0),
        ours: runOurs(0),
        popular: runOurs(popular),
        cppPopular: runCpp(popular),
      }))
      for (const { cpp, ours, popular: with30, cppPopular } of rounds)
        if (cpp.themes !== ours.themes || cppPopular.themes !== with30.themes)
          throw new Error(`${ours.themes} themes, in C++ ${cpp.themes}; ${with30.themes} and ${cppPopular.themes}`)
      const of = (pick: (round: (typeof rounds)[number]) => number): number => median(rounds.map(pick))
      const first = of(({ ours }) => ours.groupMs)
      return [
        {
          name: 'themes.100k',
          value: first,
          unit: 'ms, around a lead, four of ten results',
          better: 'lower',
          reference: { what: 'C++', value: of(({ cpp }) => cpp.ms) },
        },
        {
          name: 'themes.popular',
          value: of(({ popular: with30 }) => with30.groupMs),
          unit: `ms, ${popular} pages each on a fifth of the keywords`,
          better: 'lower',
          reference: { what: 'themes.100k', value: first },
        },
        {
          name: 'themes.preview.100k',
          value: of(({ ours }) => ours.previewMs),
          unit: 'ms, nine thresholds, both methods',
          better: 'lower',
        },
        {
          name: 'themes.memory.100k',
          value: of(({ ours }) => ours.peakBytes) / 1e6,
          unit: 'MB at most, themes and preview',
          better: 'lower',
        },
      ]
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  },
}

/** Gives each keyword of a site ten results, seven in ten of fourteen pages of its meaning; a meaning has six keywords. */
function fillResults(stack: Stack, siteId: number, marketId: number): void {
  const psql = (sql: string): string =>
    run(join(stack.postgres.binDir, 'psql'), ['-qAt', '-d', stack.databaseUrl, '-c', sql])
  const draw = (salt: string): string => `((hashint8(k.id * 131 + p * 7919 + ${salt}) & 16777215) / 16777216.0)`
  psql(
    `insert into result_site select ${siteId}, i, 'site-' || i || '.example' from generate_series(1, 400) i;
     insert into result_address select ${siteId}, i, md5(i::text)::uuid, 1 + i % 400,
       'https://site-' || (1 + i % 400) || '.example/' || i
       from generate_series(1, 40000) i;
     insert into result_head (site_id, market_id, keyword_id, day, depth, results, source)
       select ${siteId}, ${marketId}, id, current_date, 20, 20, 'x' from keyword where site_id = ${siteId};
     insert into result_row (site_id, market_id, keyword_id, page_id, on_site, now)
       select distinct on (k.id, page) ${siteId}, ${marketId}, k.id, page, 1 + page % 400, p from keyword k
       cross join generate_series(1, 20) p
       cross join lateral (select case when ${draw('1')} < 0.8
         then 1 + (k.id / 6 * 28 + floor(${draw('2')} * 28)::integer) % 24000
         else 24001 + floor(${draw('3')} * 15999)::integer end page) d
       where k.site_id = ${siteId} order by k.id, page, p;
     insert into figures_change (site_id) values (${siteId}) on conflict do nothing`,
  )
  psql('vacuum analyze')
}

/** Milliseconds from an arrow key on the picture of thresholds to the frame in which the list is of the next threshold. */
async function arrowKeys(page: Page, url: string): Promise<number[]> {
  await page.goto(url)
  await page.waitForFunction(() => document.querySelectorAll('.sheet-row').length > 5, { timeout: 60_000 })
  // As text: the TypeScript runner puts helpers of its own into functions, which a page does not have.
  await page.evaluate(`
    window.times = []
    document.addEventListener('keydown', event => {
      if (event.target.getAttribute('role') !== 'slider') return
      const list = () => [...document.querySelectorAll('.sheet-row')].map(row => row.textContent).join()
      const was = list()
      function look() {
        if (list() !== was) window.times.push(performance.now() - event.timeStamp)
        else if (performance.now() - event.timeStamp < 20000) requestAnimationFrame(look)
      }
      requestAnimationFrame(look)
    }, true)`)
  await page.focus('[role="slider"]')
  // Each to a choice that was not looked at before.
  const keys = ['ArrowLeft', 'ArrowLeft'] as const
  for (const [i, key] of keys.entries()) {
    await page.keyboard.press(key)
    await page.waitForFunction(
      (wanted: number) => (window as unknown as { times: number[] }).times.length > wanted,
      { polling: 'raf', timeout: 30_000 },
      i,
    )
    await new Promise(resolve => setTimeout(resolve, 300))
  }
  return page.evaluate(() => (window as unknown as { times: number[] }).times)
}

export const themePreviewBench: Entry = {
  name: 'themes.preview.5k',
  async run() {
    buildWeb(root)
    const stack = await startStack({ size: 0.1 })
    const { browser, close } = await openBrowser()
    try {
      const siteId = await fillSite(stack, 'themes.example', onScreen)
      const marketId = 1
      fillResults(stack, siteId, marketId)
      const keywordIds = Array.from({ length: onScreen }, (_, i) => i + 1)
      const made = await callServer(stack.server, createGrouping, {
        siteId,
        marketId,
        from: { kind: 'rows', keywordIds },
        oldestDays: 0,
      })
      await finishJob(stack.server, made.jobId)
      const page = await browser.newPage()
      await page.setViewport({ width: 1280, height: 800 })
      const url = `${stack.server}/${siteId}/group?market=${marketId}&grouping=${made.groupingId}`
      const times = [
        ...(await arrowKeys(page, `${url}&threshold=4`)),
        ...(await arrowKeys(page, `${url}&threshold=4&method=pairs`)),
      ]
      return [
        {
          name: 'themes.preview.5k',
          value: median(times),
          unit: 'ms from an arrow key to the painted list',
          better: 'lower',
        },
      ]
    } finally {
      await close()
      await stack.close()
    }
  },
}
