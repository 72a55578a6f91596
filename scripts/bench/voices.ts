import { listSites } from '@dew-trail/contract/sites'
import { listVoiceDays, readVoices } from '@dew-trail/contract/track'
import { openPool } from '@dew-trail/server/db/pool'
import { callServer } from '../lib/client.ts'
import { fillSite } from '../lib/fill-site.ts'
import { type Entry, median } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const [keywords, historyDays, sites, labels, looks] = [10_000, 730, 400, 8, 7]

/** Results of ten thousand tracked keywords, twenty deep, each keyword with a label, and the shares of two years of days. */
async function fillVoices(pool: ReturnType<typeof openPool>, siteId: number, marketId: number): Promise<void> {
  await pool.query(
    `insert into tracked_keyword (site_id, keyword_id, slot, since)
     select $1, id, row_number() over (order by id) - 1, current_date from keyword where site_id = $1`,
    [siteId],
  )
  await pool.query(
    `insert into result_site (site_id, id, domain) select $1, i, 'site-' || i || '.example'
      from generate_series(1, ${sites}) i`,
    [siteId],
  )
  await pool.query(
    `insert into result_address (site_id, id, key, on_site, url)
     select $1, i, md5(i::text)::uuid, i, 'https://site-' || i || '.example/' from generate_series(1, ${sites}) i`,
    [siteId],
  )
  await pool.query(
    `insert into result_row (site_id, market_id, keyword_id, page_id, on_site, now, before)
     select $1, $2, k.id, page, page, p, p from keyword k cross join generate_series(1, 20) p
     cross join lateral (select 1 + (k.id * 7 + p * 13 + (k.id % 17) * p) % ${sites} page) s
     where k.site_id = $1 on conflict do nothing`,
    [siteId, marketId],
  )
  await pool.query(
    `insert into result_head (site_id, market_id, keyword_id, day, depth, results, source, before_day, before_depth,
      before_results)
     select $1, $2, id, current_date, 20, 20, 'engines', current_date - 1, 20, 20 from keyword where site_id = $1`,
    [siteId, marketId],
  )
  await pool.query(
    `insert into list (site_id, id, kind, name) select $1, i, 'label', 'label ' || i
      from generate_series(1, ${labels}) i`,
    [siteId],
  )
  await pool.query(
    `insert into list_keyword (site_id, list_id, keyword_id) select $1, 1 + id % ${labels}, id from keyword
      where site_id = $1`,
    [siteId],
  )
  await pool.query(
    `insert into voice_day (site_id, market_id, day, domain, visits, share)
     select $1, $2, current_date - d, 'site-' || s || '.example', 1000 - s, 1.0 / (s + d % 5)
     from generate_series(0, ${historyDays - 1}) d cross join generate_series(1, 31) s`,
    [siteId, marketId],
  )
  await pool.query('analyze')
}

/** Share of voice by day and by label. */
export const voicesBench: Entry = {
  name: 'track.share_of_voice',
  gives: ['track.share_of_voice', 'track.share_of_voice.label'],
  async run() {
    const stack = await startStack()
    const pool = openPool(stack.databaseUrl, 2)
    try {
      const siteId = await fillSite(stack, 'large.example', keywords)
      const { markets } = (await callServer(stack.server, listSites, {})).find(each => each.id === siteId)!
      const at = { siteId, marketId: markets[0]!.id }
      await fillVoices(pool, siteId, at.marketId)
      const time = async (work: () => Promise<unknown>): Promise<number> => {
        const times: number[] = []
        for (let i = 0; i < looks; i++) {
          const startedMs = performance.now()
          await work()
          times.push(performance.now() - startedMs)
        }
        return median(times)
      }
      const byDay = await time(() => callServer(stack.server, listVoiceDays, { ...at, days: historyDays }))
      const byLabel = await time(() => callServer(stack.server, readVoices, at))
      return [
        { name: 'track.share_of_voice', value: byDay, unit: 'ms, two years by day (≤ 80)', better: 'lower' },
        {
          name: 'track.share_of_voice.label',
          value: byLabel,
          unit: 'ms, sites, themes, labels (≤ 500)',
          better: 'lower',
        },
      ]
    } finally {
      await pool.end()
      await stack.close()
    }
  },
}
