import type { Context } from '../../context.ts'
import { askForNew } from './figures-job.ts'
import { needSite } from '../sites/need-market.ts'

/** Starts asking for figures of newly watched keywords, once for every place and language of the site. */
export async function askForEveryPlace(context: Context, siteId: number, keywordIds: number[]): Promise<void> {
  const { markets } = await needSite(context.pool, siteId)
  const seen = new Set<string>()
  for (const market of markets) {
    const key = `${market.place}|${market.language}`
    if (seen.has(key)) continue
    seen.add(key)
    await askForNew(context, siteId, market, keywordIds)
  }
}
