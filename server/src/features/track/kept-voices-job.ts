import { setImmediate as othersAnswered } from 'node:timers/promises'
import { type KeptDay, KeptVoices } from '@dew-trail/core/positions/kept-voices'
import { decodeMonth } from '@dew-trail/core/results/month-results'
import type pg from 'pg'
import type { Context } from '../../context.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { dayAt } from '../../domain/positions/position-series.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { mostVoiceSites, readVoiceKeywords } from './read-voices.ts'

const longestDays = 740
/** For how long a place is taken to be what it was when it was last looked at. */
const carryDays = 31
/** From which share of the keywords that the fullest day has a day is told. */
const leastShare = 0.5
const keywordsAtATime = 100

/**
 * Shares of voice of days gone by, read off the result pages that are kept: for days of which nothing was noted, of the sites with most; for all
 * days of the own site and those that are named. What was noted by checks stays.
 */
export async function keptVoicesJob(context: Context, control: JobControl): Promise<object> {
  const { pool, events } = context
  const { siteId } = control
  const { marketId, sites: named } = control.job.payload as { marketId: number; sites: string[] }
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  control.clearWarnings()
  const keywords = await readVoiceKeywords(pool, site, market)
  const today = new Date().toISOString().slice(0, 10)
  const first = shiftDay(today, 1 - longestDays)
  const voices = new KeptVoices(longestDays, carryDays)
  const siteOf = await sitesOfPages(pool, siteId)
  const ids = [...keywords.keys()]
  for (let from = 0; from < ids.length; from += keywordsAtATime) {
    await control.step(from, ids.length)
    const part = ids.slice(from, from + keywordsAtATime)
    for (const [id, days] of await keptDays(
      pool,
      { siteId, marketId, first: shiftDay(first, -carryDays) },
      part,
      siteOf,
    ))
      voices.add(
        days.map(({ day, sites }): KeptDay => ({ at: dayAt(first, day), sites })),
        keywords.get(id)!.visits,
      )
    await othersAnswered()
  }
  const saved = await saveKept(pool, { siteId, marketId, first, always: [site.domain, ...named] }, voices)
  await control.step(ids.length, ids.length)
  events.publish(siteId, { type: 'positions' })
  return { days: saved }
}

/** The number of the site that each page among results is of, by the page's number. In one packed answer: there are pages by the million. */
async function sitesOfPages(pool: pg.Pool, siteId: number): Promise<Int32Array> {
  const { rows } = await pool.query<{ most: number | null; all: Buffer | null }>(
    `select max(id) most, string_agg(int4send(id) || int4send(on_site), '') "all" from result_address
     where site_id = $1`,
    [siteId],
  )
  const { most, all } = rows[0]!
  const siteOf = new Int32Array((most ?? 0) + 1)
  for (let at = 0; all && at < all.length; at += 8) siteOf[all.readInt32BE(at)] = all.readInt32BE(at + 4)
  return siteOf
}

/** Result pages kept of some keywords, the earliest first, with the sites in order of position. */
async function keptDays(
  pool: pg.Pool,
  of: { siteId: number; marketId: number; first: string },
  keywordIds: readonly number[],
  siteOf: Int32Array,
): Promise<Map<number, Array<{ day: string; sites: number[] }>>> {
  const { rows } = await pool.query<{ id: number; month: string; days: Uint8Array }>(
    `select keyword_id id, to_char(month, 'YYYY-MM') "month", days from result_month
     where site_id = $1 and market_id = $2 and keyword_id = any($3) and month >= date_trunc('month', $4::date)
     order by keyword_id, month`,
    [of.siteId, of.marketId, keywordIds, of.first],
  )
  const byKeyword = new Map<number, Array<{ day: string; sites: number[] }>>()
  for (const { id, month, days } of rows) {
    let list = byKeyword.get(id)
    if (!list) byKeyword.set(id, (list = []))
    for (const { day, pages } of decodeMonth(days))
      list.push({ day: `${month}-${String(day).padStart(2, '0')}`, sites: pages.map(page => siteOf[page] ?? 0) })
  }
  return byKeyword
}

async function saveKept(
  pool: pg.Pool,
  of: { siteId: number; marketId: number; first: string; always: readonly string[] },
  voices: KeptVoices,
): Promise<number> {
  const days = voices.days(leastShare)
  const noted = new Set(await manyNotedDays(pool, of.siteId, of.marketId))
  const { rows: names } = await pool.query<{ id: number; domain: string }>(
    'select id, domain from result_site where site_id = $1 and (id = any($2) or domain = any($3))',
    [of.siteId, [...new Set(days.flatMap(each => each.sites.map(({ site }) => site)))], of.always],
  )
  const domainOf = new Map(names.map(each => [each.id, each.domain]))
  const rows: Array<{ day: string; domain: string; visits: number; share: number }> = []
  for (const { at, all, sites } of days) {
    const day = shiftDay(of.first, at)
    const visitsOf = new Map(sites.map(({ site, visits }) => [domainOf.get(site)!, visits]))
    const shown = new Set(of.always)
    if (!noted.has(day)) for (const { site } of sites.slice(0, mostVoiceSites)) shown.add(domainOf.get(site)!)
    for (const domain of shown) {
      // One that is on none of the pages of a day got nothing of it: that is known.
      const visits = visitsOf.get(domain) ?? 0
      rows.push({ day, domain, visits, share: visits / all })
    }
  }
  await pool.query(
    `insert into voice_day (site_id, market_id, day, domain, visits, share)
     select $1, $2, * from unnest($3::date[], $4::text[], $5::real[], $6::real[]) on conflict do nothing`,
    [
      of.siteId,
      of.marketId,
      rows.map(row => row.day),
      rows.map(row => row.domain),
      rows.map(row => row.visits),
      rows.map(row => row.share),
    ],
  )
  return days.length
}

async function manyNotedDays(pool: pg.Pool, siteId: number, marketId: number): Promise<string[]> {
  const { rows } = await pool.query<{ day: string }>(
    'select distinct day::text "day" from voice_day where site_id = $1 and market_id = $2',
    [siteId, marketId],
  )
  return rows.map(row => row.day)
}
