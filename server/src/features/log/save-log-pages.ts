import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { manyIdsByPhrase } from '../../domain/keywords/queries.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { type LogPageRow, replaceLogPages } from '../../domain/query-log/page-queries.ts'
import { numberPages } from '../../domain/results/result-numbers.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { LogRow } from '../../sources/source-replies.ts'

type Week = { siteId: number; propertyId: number; week: string; places: ReadonlyMap<string, string> }

/** Saves which own pages were shown for the queries of a week. Rows without a page, or of queries that the week itself does not name, are left out. */
export async function saveLogPages(
  context: Context,
  { siteId, propertyId, week, places }: Week,
  rows: readonly LogRow[],
): Promise<void> {
  const shown = rows.flatMap(row => {
    const [key, language] = [row.page ? pageKey(row.page) : null, places.get(row.country)]
    return key && language && row.impressions > 0 ? [{ ...row, key, language, phrase: normalForm(row.query) }] : []
  })
  const urlOf = new Map<string, string>()
  for (const { key, page } of shown) if (!urlOf.has(key)) urlOf.set(key, page)
  const numbers = await numberPages(context.pool, siteId, urlOf)
  const sums = new Map<string, LogPageRow>()
  for (const language of new Set(places.values())) {
    const own = shown.filter(row => row.language === language)
    const ids = await manyIdsByPhrase(context.pool, siteId, language, [...new Set(own.map(row => row.phrase))])
    for (const row of own) {
      const keywordId = ids.get(row.phrase)
      const page = numbers.get(row.key)
      if (keywordId === undefined || !page) continue
      const key = `${keywordId}|${row.country}|${row.device}|${page.pageId}`
      const known = sums.get(key)
      if (known) {
        const all = known.impressions + row.impressions
        known.position = (known.position * known.impressions + row.position * row.impressions) / all
        known.impressions = all
        known.clicks += row.clicks
      } else
        sums.set(key, {
          keywordId,
          place: row.country,
          device: row.device,
          pageId: page.pageId,
          impressions: row.impressions,
          clicks: row.clicks,
          position: row.position,
        })
    }
  }
  await inTransaction(context.pool, db => replaceLogPages(db, siteId, propertyId, week, [...sums.values()]))
}
