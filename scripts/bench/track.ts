import { changeReport, createReport, reportPath } from '@dew-trail/contract/reports'
import { addMarket, listSites, type Market } from '@dew-trail/contract/sites'
import { runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import { keywordHistory, listPositions } from '@dew-trail/contract/track'
import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { inTransaction, openPool } from '@dew-trail/server/db/pool'
import { savePositions } from '@dew-trail/server/positions/save-positions'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer, finishJob } from '../lib/client.ts'
import { fillSite } from '../lib/fill-site.ts'
import { type Entry, median } from '../lib/measures.ts'
import { root, startStack, type Stack } from '../lib/stack.ts'

const [keywords, historyDays, looks] = [10_000, 730, 7]
const [importedKeywords, importedDays] = [600, 730]
const msADay = 86_400_000
type Pool = ReturnType<typeof openPool>

const today = Math.floor(Date.now() / msADay)
const dayOf = (ago: number): string => new Date((today - ago) * msADay).toISOString().slice(0, 10)

/** Two years of positions of ten thousand keywords in six markets, as checks would have left them. */
async function fillPositions(pool: Pool, siteId: number, markets: readonly Market[]): Promise<void> {
  await pool.query(
    `insert into tracked_keyword (site_id, keyword_id, slot, since)
     select $1, id, row_number() over (order by id) - 1, current_date - ${historyDays} from keyword
       where site_id = $1`,
    [siteId],
  )
  const draw = seededDraw(3)
  for (const market of markets) {
    const positions = Int16Array.from({ length: keywords }, () => 1 + Math.floor(draw() ** 2 * 100))
    const years = new Map<number, Int16Array>()
    for (let ago = historyDays; ago >= 1; ago--) {
      const day = dayOf(ago)
      const year = Number(day.slice(0, 4))
      const values = years.get(year) ?? new Int16Array(keywords * 366)
      years.set(year, values)
      const at = Math.floor((Date.parse(day) - Date.parse(`${year}-01-01`)) / msADay)
      for (let slot = 0; slot < keywords; slot++) {
        if (draw() < 0.2) positions[slot] = Math.max(1, Math.min(100, positions[slot]! + (draw() < 0.5 ? 1 : -1)))
        values[slot * 366 + at] = positions[slot]!
      }
      await pool.query(
        'insert into position_day (site_id, market_id, day, positions, checked_at) values ($1, $2, $3, $4, now())',
        [siteId, market.id, day, Buffer.from(positions.buffer.slice(0))],
      )
      await pool.query(
        `insert into visibility_day (site_id, market_id, day, visibility, top3, top10, top30, beyond, not_found)
         values ($1, $2, $3, 20, 500, 1500, 3000, 5000, 0)`,
        [siteId, market.id, day],
      )
    }
    for (const [year, values] of years)
      for (let from = 0; from < keywords; from += 2_500) {
        const slots = Array.from({ length: 2_500 }, (_, i) => from + i)
        const rows = slots.map(slot => Buffer.from(values.slice(slot * 366, (slot + 1) * 366).buffer).toString('hex'))
        await pool.query(
          `insert into position_year (site_id, market_id, slot, year, positions)
           select $1, $2, s, $3, decode(p, 'hex') from unnest($4::integer[], $5::text[]) t (s, p)`,
          [siteId, market.id, year, slots, rows],
        )
      }
    await pool.query(
      `insert into page_found (site_id, market_id, slot, day, url)
       select $1, $2, slot, current_date - ${historyDays}, 'https://large.example/page-' || slot % 2000
       from tracked_keyword where site_id = $1`,
      [siteId, market.id],
    )
  }
  // All but the newest day, as the night leaves it.
  await pool.query('update market set folded_until = $2 where site_id = $1', [siteId, dayOf(2)])
  await pool.query('analyze')
}

/** Milliseconds from a press on the station to painted rows; runs in the page as text. */
const openTrack = `new Promise(resolve => {
  const began = performance.now()
  document.querySelector('.trail a[href*="/track"]').click()
  const look = () => {
    if (document.querySelectorAll('.sheet-row').length > 5 && document.title.startsWith('Track')) requestAnimationFrame(() => resolve(performance.now() - began))
    else requestAnimationFrame(look)
  }
  look()
})`

async function paintedRows(stack: Stack, siteId: number, marketId: number): Promise<number> {
  const { browser, close } = await openBrowser()
  try {
    const page = await browser.newPage()
    await page.setViewport({ width: 1280, height: 800 })
    const times: number[] = []
    for (let i = 0; i < looks; i++) {
      // A screen whose code is loaded, as for who comes back in the morning; its answer is asked anew each time.
      await page.goto(`${stack.server}/${siteId}/plan?market=${marketId}`, { waitUntil: 'networkidle2' })
      times.push((await page.evaluate(openTrack)) as number)
    }
    return median(times)
  } finally {
    await close()
  }
}

async function appendDay(pool: Pool, siteId: number, markets: readonly Market[]): Promise<number> {
  const draw = seededDraw(8)
  const day = dayOf(0)
  const findings = markets.map(market => {
    const slots = Array.from({ length: keywords }, (_, slot) => slot)
    return {
      market,
      positions: new Map(slots.map(slot => [slot, 1 + Math.floor(draw() * 100)])),
      pages: new Map(slots.map(slot => [slot, `https://large.example/page-${slot % 2000}`])),
      features: new Map(slots.map(slot => [slot, { shown: 5, held: 0 }])),
    }
  })
  const startedMs = performance.now()
  for (const { market, ...found } of findings)
    await inTransaction(pool, db => savePositions(db, siteId, market, [{ day, ...found }]))
  return (performance.now() - startedMs) / 1_000
}

/** Positions a second of a file of history, from the press to the end of the job. */
async function importHistory(stack: Stack, siteId: number, marketId: number): Promise<number> {
  const lines = ['date,keyword,rank,url']
  for (let ago = importedDays; ago >= 1; ago--)
    for (let k = 0; k < importedKeywords; k++)
      lines.push(`${dayOf(ago)},imported keyword ${k},${1 + ((k + ago) % 60)},https://large.example/page-${k}`)
  const upload = await fetch(stack.server + uploadPath(siteId, 'positions', 'history.csv'), {
    method: 'POST',
    body: lines.join('\n'),
    headers: { 'content-type': 'text/csv' },
  })
  const { importId, suggested } = (await upload.json()) as Uploaded
  const startedMs = performance.now()
  const { jobId } = await callServer(stack.server, runImport, { siteId, importId, marketId, mapping: suggested })
  await finishJob(stack.server, jobId)
  return (importedKeywords * importedDays) / ((performance.now() - startedMs) / 1_000)
}

async function bytesOf(pool: Pool): Promise<number> {
  const { rows } = await pool.query<{ bytes: string }>(
    `select sum(pg_total_relation_size(c.oid)) bytes from pg_class c
     where c.relname ~ '^(position_day|position_year|page_found|feature_found)(_\\d+)?$' and c.relkind = 'r'`,
  )
  return Number(rows[0]!.bytes)
}

/** A report of two thousand rows of tables, forty pages and more, and how long others wait for an answer meanwhile. */
async function reports(stack: Stack, siteId: number, marketId: number) {
  const { id: reportId } = await callServer(stack.server, createReport, {
    siteId,
    marketId,
    name: 'Long',
    template: 'empty',
  })
  const view = (title: string, sort: string) => ({
    kind: 'view' as const,
    title,
    most: 1_000,
    table: {
      name: 'positions',
      state: { where: [], sort, columns: ['phrase', 'now', 'gained', 'searches'], folded: false },
    },
  })
  const sections = [{ kind: 'figures' as const, title: '' }, view('Best', 'now'), view('Last', '-now')]
  await callServer(stack.server, changeReport, { siteId, reportId, version: 1, sections })
  const read = async (format: 'html' | 'pdf'): Promise<{ s: number; pages: number; longestMs: number }> => {
    let done = false
    let longestMs = 0
    const others = (async () => {
      while (!done) {
        const startedMs = performance.now()
        await callServer(stack.server, listSites, {})
        longestMs = Math.max(longestMs, performance.now() - startedMs)
        await new Promise(resolve => setTimeout(resolve, 20))
      }
    })()
    const startedMs = performance.now()
    const bytes = Buffer.from(
      await (await fetch(stack.server + reportPath(siteId, reportId, null, format))).arrayBuffer(),
    )
    const s = (performance.now() - startedMs) / 1_000
    done = true
    await others
    return { s, pages: bytes.toString('latin1').split('/Type /Page\n').length - 1, longestMs }
  }
  return { pdf: await read('pdf'), html: await read('html') }
}

/** Track and reports over two years of ten thousand keywords in six markets. */
export const trackBench: Entry = {
  name: 'track.now',
  gives: [
    'track.now',
    'track.positions',
    'track.history',
    'track.append_day',
    'track.bytes',
    'track.import',
    'reports.pdf.40',
    'reports.pdf.40.others',
    'reports.html.40',
  ],
  async run() {
    buildWeb(root)
    const stack = await startStack()
    const pool = openPool(stack.databaseUrl, 2)
    try {
      const siteId = await fillSite(stack, 'large.example', keywords)
      for (const place of ['port-hallow', 'wexmere'])
        await callServer(stack.server, addMarket, {
          siteId,
          engine: 'lantern',
          place,
          language: 'en',
          device: 'desktop',
        })
      const { markets } = (await callServer(stack.server, listSites, {})).find(each => each.id === siteId)!
      const six = markets.slice(0, 6)
      await fillPositions(pool, siteId, six)
      const marketId = six[0]!.id
      const bytes = (await bytesOf(pool)) / (keywords * historyDays * six.length)
      const positions: number[] = []
      const history: number[] = []
      for (let i = 0; i < looks; i++) {
        let startedMs = performance.now()
        const { rows } = await callServer(stack.server, listPositions, { siteId, marketId })
        positions.push(performance.now() - startedMs)
        startedMs = performance.now()
        await callServer(stack.server, keywordHistory, { siteId, keywordId: rows[i * 97]!.id, days: historyDays })
        history.push(performance.now() - startedMs)
      }
      const now = await paintedRows(stack, siteId, marketId)
      const { pdf, html } = await reports(stack, siteId, marketId)
      const append = await appendDay(pool, siteId, six)
      const imported = await importHistory(stack, siteId, marketId)
      return [
        { name: 'track.now', value: now, unit: 'ms to painted rows', better: 'lower' },
        { name: 'track.positions', value: median(positions), unit: 'ms at the server', better: 'lower' },
        { name: 'track.history', value: median(history), unit: 'ms at the server', better: 'lower' },
        {
          name: 'track.append_day',
          value: append,
          unit: "s, 60,000 own positions; rivals' results are saved apart",
          better: 'lower',
        },
        { name: 'track.bytes', value: bytes, unit: 'bytes an own observation with its page', better: 'lower' },
        { name: 'track.import', value: imported, unit: 'positions a second', better: 'higher' },
        { name: 'reports.pdf.40', value: pdf.s, unit: `s, ${pdf.pages} pages`, better: 'lower' },
        { name: 'reports.pdf.40.others', value: pdf.longestMs, unit: 'ms, longest answer of others', better: 'lower' },
        { name: 'reports.html.40', value: html.s, unit: 's', better: 'lower' },
      ]
    } finally {
      await pool.end()
      await stack.close()
    }
  },
}
