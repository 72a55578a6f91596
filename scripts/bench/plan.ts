import { changePage, createPage } from '@dew-trail/contract/plan'
import { chooseFirst } from '@dew-trail/contract/brief'
import { listSites } from '@dew-trail/contract/sites'
import { openPool } from '@dew-trail/server/db/pool'
import type { Page } from 'puppeteer-core'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer, keywordRows } from '../lib/client.ts'
import { fillSite } from '../lib/fill-site.ts'
import { type Entry, median } from '../lib/measures.ts'
import { root, startStack } from '../lib/stack.ts'

const [many, planned, looks, domain] = [20_000, 200, 7, 'large.example']
type Pool = ReturnType<typeof openPool>

/** Reads, as it were, twenty thousand pages of a site, up to five deep, each standing for a keyword, with ten links from other pages. */
async function fillPages(pool: Pool, siteId: number, marketId: number): Promise<void> {
  await pool.query('insert into linked_site (graph_id, id, domain) values (1, 1000000, $1)', [domain])
  const identity = `'${domain}/' || case when i = 1 then '' else 's' || i % 40 || case when i <= 41 then '' else '/t' || i % 800
    || case when i <= 900 then '' else '/page-' || i end end end`
  await pool.query(
    `insert into linked_page (graph_id, id, site_id, url_key, url)
     select 1, 1000000 + i, 1000000, md5(${identity})::uuid, 'https://' || ${identity}
     from generate_series(1, ${many}) i on conflict do nothing`,
  )
  await pool.query(
    `insert into page_content (graph_id, page_id, fetched_at, status, title, headings, text, words)
     select 1, id, now(), 200, 'A page about ' || id, '[]', 'Text', 300 from linked_page where site_id = 1000000`,
  )
  await pool.query(
    "insert into anchor_text (graph_id, id, text_key, text) values (1, 1000000, md5('more')::uuid, 'more')",
  )
  await pool.query(
    `insert into link (graph_id, target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel, kind,
      seen_by)
     select 1, 1000000, 1000000 + i, 1000000, 1000000 + 1 + (i * 37 + k * 1009) % ${many}, 1000000, 0, 0, 1
     from generate_series(1, ${many}) i cross join generate_series(1, 10) k on conflict do nothing`,
  )
  await pool.query('insert into result_site (site_id, id, domain) values ($1, 1000000, $2)', [siteId, domain])
  await pool.query(
    `insert into result_address (site_id, id, key, on_site, url)
     select $1, id, md5(regexp_replace(url, '^https://', ''))::uuid, 1000000, url from linked_page
       where site_id = 1000000`,
    [siteId],
  )
  await pool.query(
    `insert into result_row (site_id, market_id, keyword_id, page_id, on_site, now)
     select $1, $2, k.id, 1000000 + k.id, 1000000, 1 + k.id % 40 from keyword k
     join result_address a on a.site_id = $1 and a.id = 1000000 + k.id where k.site_id = $1`,
    [siteId, marketId],
  )
  await pool.query(
    `insert into weighing (site_id, keyword_id, market_id, state, difficulty, chance3, chance10, chance20, levels,
      organic_share, weighed_at)
     select $1, id, $2, 'known', id % 90, (id % 10) / 30.0, (id % 10) / 15.0, (id % 10) / 12.0, '{}', 0.5, now()
       from keyword where site_id = $1`,
    [siteId, marketId],
  )
  await pool.query('analyze')
}

/** Milliseconds from a press on "Site map" to the painted rows of all pages; runs in the page as text. */
const openMap = `new Promise(resolve => {
  const began = performance.now()
  document.querySelectorAll('.bar button').forEach(button => button.textContent === 'Site map' && button.click())
  const look = () => {
    const tree = document.querySelector('.site-tree')
    if (tree && Number(tree.getAttribute('aria-rowcount')) > ${many} && document.querySelectorAll('.tree-row').length > 10)
      requestAnimationFrame(() => resolve(performance.now() - began))
    else requestAnimationFrame(look)
  }
  look()
})`
/** Milliseconds from the key that moves the active row below the one before it to the row painted there. */
const moveRow = `new Promise(resolve => {
  const tree = document.querySelector('.site-tree')
  const active = document.querySelector('.tree-row.active')
  const name = active.querySelector('.tree-open').textContent
  const level = active.getAttribute('aria-level')
  const began = performance.now()
  tree.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', altKey: true, bubbles: true }))
  const look = () => {
    const now = [...document.querySelectorAll('.tree-row')].find(row => row.querySelector('.tree-open').textContent === name)
    if (now && now.getAttribute('aria-level') !== level) requestAnimationFrame(() => resolve(performance.now() - began))
    else requestAnimationFrame(look)
  }
  look()
})`

async function look(page: Page, url: string): Promise<{ open: number; move: number }> {
  await page.goto(url, { waitUntil: 'networkidle2' })
  const open = (await page.evaluate(openMap)) as number
  // A row with a sibling right above it, below which it can go.
  await page.evaluate(`{
    const rows = [...document.querySelectorAll('.tree-row')]
    const row = rows.find((each, i) => i > 1 && each.draggable && rows[i - 1].getAttribute('aria-level') === each.getAttribute('aria-level'))
    row.dispatchEvent(new MouseEvent('mousedown', { bubbles: true }))
  }`)
  await page.waitForSelector('.tree-row.active')
  const move = (await page.evaluate(moveRow)) as number
  return { open, move }
}

/** The site map of twenty thousand pages, opened and changed; what to make first of two hundred planned pages. */
export const planBench: Entry = {
  name: 'plan.map.open.20k',
  gives: ['plan.map.open.20k', 'plan.map.move.20k', 'plan.choose.200'],
  async run() {
    buildWeb(root)
    const stack = await startStack({ size: 0.1 })
    const pool = openPool(stack.databaseUrl)
    const { browser, close } = await openBrowser()
    try {
      const { server } = stack
      const siteId = await fillSite(stack, domain, many)
      const site = (await callServer(server, listSites, {})).find(each => each.id === siteId)!
      const at = { siteId, marketId: site.markets[0]!.id }
      await fillPages(pool, siteId, at.marketId)
      const rows = (await keywordRows(server, siteId, at.marketId)).filter(row => typeof row.searches === 'number')
      for (let i = 0; i < planned; i++) {
        const { id } = await callServer(server, createPage, {
          siteId,
          title: `Planned ${i}`,
          keywordIds: rows.slice(i * 4, i * 4 + 4).map(row => row.id),
        })
        await callServer(server, changePage, { siteId, pageId: id, effort: 0.5 + ((i * 7) % 12) / 2 })
      }
      const page = await browser.newPage()
      await page.setViewport({ width: 1280, height: 800 })
      const times: Array<{ open: number; move: number }> = []
      for (let i = 0; i <= looks; i++) times.push(await look(page, `${server}/${siteId}/plan?see=board`))
      // The first one warms the page up.
      const warm = times.slice(1)
      const choices: number[] = []
      for (let i = 0; i < 3; i++) {
        const began = performance.now()
        await callServer(server, chooseFirst, { ...at, today: '2026-11-20', of: 'days', aMonth: 10, months: 12 })
        choices.push(performance.now() - began)
      }
      return [
        {
          name: 'plan.map.open.20k',
          value: median(warm.map(each => each.open)),
          unit: `ms from the press to a painted tree of ${many.toLocaleString('en')} pages`,
          better: 'lower',
        },
        {
          name: 'plan.map.move.20k',
          value: median(warm.map(each => each.move)),
          unit: 'ms from the key to the page painted below another',
          better: 'lower',
        },
        {
          name: 'plan.choose.200',
          value: median(choices),
          unit: `ms, ${planned} pages by days over twelve months, with what just missed`,
          better: 'lower',
        },
      ]
    } finally {
      await close()
      await pool.end()
      await stack.close()
    }
  },
}
