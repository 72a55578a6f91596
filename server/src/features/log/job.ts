import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { askForNew } from '../../domain/positions/figures-job.ts'
import { countFound, insertFindings, manyFoundIn, upsertKeywords } from '../../domain/keywords/queries.ts'
import { describeKeyword } from '../../domain/keywords/describe-keyword.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, maybeSite, touchKeywords } from '../../domain/sites/queries.ts'
import type { LogRow } from '../../sources/source-replies.ts'
import { type LogWeekRow, replaceLogWeek, setPropertyLoaded } from '../../domain/query-log/queries.ts'
import { withMovedFigures } from '../../domain/chances/market-figures.ts'
import { saveLogPages } from './save-log-pages.ts'
import { sumLog } from '../../domain/query-log/sum-log.ts'

const day = 86_400_000
export const mondayBefore = (isoDay: string): string => {
  const at = Date.parse(isoDay)
  return new Date(at - ((new Date(at).getUTCDay() + 6) % 7) * day).toISOString().slice(0, 10)
}
const shift = (isoDay: string, days: number): string =>
  new Date(Date.parse(isoDay) + days * day).toISOString().slice(0, 10)

/** Loads the own query log week by week, latest first; each week is saved whole, so a job that was cut off goes on. Then sums and curves. */
export async function logJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const property = String(payload.property)
  const propertyId = Number(payload.propertyId)
  const weeks = Number(payload.weeks)
  const known = (await context.sources.logProperties(control.signal)).find(each => each.id === property)
  if (!known) throw new AppError('notFound', `The query log has no property ${property} for this key`)
  // A week is asked for once all its days are complete.
  const newest = mondayBefore(shift(known.last_day, -6))
  const finished = new Set((control.progress.finished as string[] | undefined) ?? [])
  const places = new Map(
    (await maybeSite(context.pool, siteId))!.markets.map(market => [market.place, market.language]),
  )
  let elsewhere = Number(control.progress.elsewhere ?? 0)
  for (let i = 0; i < weeks; i++) {
    await control.step(i, weeks + 1)
    const week = shift(newest, -7 * i)
    if (finished.has(week)) continue
    const rows = await rowsOf(week, false)
    const here = rows.filter(row => places.has(row.country))
    elsewhere += rows.length - here.length
    await saveWeek(context, { siteId, propertyId, gatheringId: Number(payload.gatheringId), week, places }, here)
    // Pages are asked for apart: a search that showed two of them is one impression above, and one of each page here.
    await saveLogPages(context, { siteId, propertyId, week, places }, await rowsOf(week, true))
    finished.add(week)
    Object.assign(control.progress, { finished: [...finished], elsewhere })
    context.events.publish(siteId, { type: 'keywords' })
    context.events.publish(siteId, { type: 'gatherings' })
  }
  await setPropertyLoaded(context.pool, siteId, propertyId, shift(newest, 6))
  context.events.publish(siteId, { type: 'positions' })
  const summed = await withMovedFigures(context.pool, siteId, Number(payload.marketId), () =>
    sumLog(context.pool, siteId),
  )
  context.events.publish(siteId, { type: 'keywords' })
  // The log is worth most beside the ads data: what has no figures yet is asked about.
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const figures = await askForNew(
    context,
    siteId,
    market,
    await manyFoundIn(context.pool, siteId, Number(payload.gatheringId)),
  )
  return { ...summed, elsewhere, figuresJobId: figures?.id ?? null }

  async function rowsOf(week: string, byPage: boolean): Promise<LogRow[]> {
    const rows: LogRow[] = []
    for (;;) {
      const reply = await context.sources.logRows(property, week, shift(week, 6), rows.length, byPage, control.signal)
      rows.push(...reply.rows)
      if (!reply.rows.length || rows.length >= reply.total) return rows
    }
  }
}

type Week = { siteId: number; propertyId: number; gatheringId: number; week: string; places: Map<string, string> }

/** Saves a week's rows: queries become keywords of their place's language, found by the log. */
export async function saveWeek(
  context: Context,
  { siteId, propertyId, gatheringId, week, places }: Week,
  rows: LogRow[],
): Promise<void> {
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    const out = new Map<string, LogWeekRow>()
    for (const language of new Set(places.values())) {
      const own = rows.filter(row => places.get(row.country) === language && row.impressions > 0)
      const phrases = new Set(own.map(row => normalForm(row.query)).filter(phrase => phrase && phrase.length <= 200))
      const ids = await upsertKeywords(
        db,
        siteId,
        language,
        [...phrases].map(phrase => describeKeyword(phrase, language, false)),
      )
      await insertFindings(db, siteId, gatheringId, 'log', [...ids.values()])
      await touchKeywords(db, siteId, [...ids.values()])
      for (const row of own) {
        const keywordId = ids.get(normalForm(row.query))
        if (keywordId === undefined) continue
        const key = `${keywordId}|${row.country}|${row.device}`
        const known = out.get(key)
        // Two spellings of one normal form add up.
        if (known) {
          known.position =
            (known.position * known.impressions + row.position * row.impressions) /
            Math.max(1, known.impressions + row.impressions)
          known.impressions += row.impressions
          known.clicks += row.clicks
        } else
          out.set(key, {
            keywordId,
            place: row.country,
            device: row.device,
            impressions: row.impressions,
            clicks: row.clicks,
            position: row.position,
          })
      }
    }
    await replaceLogWeek(db, siteId, propertyId, week, [...out.values()])
    await countFound(db, siteId, gatheringId)
  })
}
