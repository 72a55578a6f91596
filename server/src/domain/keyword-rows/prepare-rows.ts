import type { Context } from '../../context.ts'
import { analyzeKeywords } from '../sites/queries.ts'
import { dropStaleBlocks } from './row-blocks.ts'
import { streamKeywordRows } from './stream-rows.ts'

const building = new Set<string>()

/**
 * After many rows came: has the database look at the tables again and writes the blocks of a market's rows that are missing, all beside
 * other work, so that who opens the table next need not wait for them.
 */
export function prepareRows({ pool, log }: Context, siteId: number, marketId: number): void {
  const key = `${siteId}:${marketId}`
  if (building.has(key)) return
  building.add(key)
  const build = async (): Promise<void> => {
    await analyzeKeywords(pool)
    await dropStaleBlocks(pool, siteId, marketId)
    for await (const _ of streamKeywordRows(pool, siteId, marketId, 0));
  }
  build()
    .catch(error => log.debug({ err: error, siteId, marketId }, 'rows were not prepared'))
    .finally(() => building.delete(key))
}
