import { randomInt } from 'node:crypto'
import type { Context } from '../../../context.ts'
import { askForRank } from '../../../domain/graph/ask-for-rank.ts'
import { lockLinks, manyTargetsOf, putLinksBack, takeLinksBack } from '../../../domain/graph/queries.ts'
import { sumAllLinks } from '../../../domain/graph/rank-job.ts'
import { type ImportRow, noteBrought, setTakenBack } from '../../../domain/imports/queries.ts'
import type { TakeBackWork } from '../../../domain/imports/take-back-work.ts'
import { inTransaction } from '../../../platform/db/pool.ts'

const graphId = 1
const sitesAtATime = 500

/** Name of an import's reading, by which links that it alone brought are known; the same when it was cut off and reads again. */
export async function loadOf(context: Context, row: ImportRow): Promise<number> {
  if (row.brought) return Number(row.brought.load)
  const load = randomInt(1, 2 ** 31)
  await noteBrought(context.pool, row.siteId, row.id, { load })
  return load
}

/** Takes links away that an import alone brought, or puts them back, some linked sites at a time; then sums and standing are worked out anew. */
export const takeBackLinks: TakeBackWork = async (context, control, row, on) => {
  const load = Number(row.brought!.load)
  const move = on ? takeLinksBack : putLinksBack
  const sites = await manyTargetsOf(context.pool, graphId, load, on ? 'link' : 'link_taken_back')
  let links = 0
  for (let at = 0; at < sites.length; at += sitesAtATime) {
    links += await inTransaction(context.pool, async db => {
      await lockLinks(db, graphId)
      return move(db, graphId, load, sites.slice(at, at + sitesAtATime))
    })
    await control.step(at, sites.length * 2)
  }
  await setTakenBack(context.pool, row.siteId, row.id, on)
  await sumAllLinks(context, graphId, control.signal)
  await askForRank(context)
  context.events.publish(null, { type: 'crawls' })
  return { links }
}
