import type { Context } from '../../context.ts'
import { withMovedFigures } from '../../domain/chances/market-figures.ts'
import { noteBrought, setTakenBack } from '../../domain/imports/queries.ts'
import { needLatest, setAside, swapAside, type Written } from '../../domain/imports/set-aside.ts'
import type { TakeBackWork } from '../../domain/imports/take-back-work.ts'
import { markPruned, oneGathering, touchFound } from '../../domain/keywords/queries.ts'
import { hasWeeks, setPropertyLoaded } from '../../domain/query-log/queries.ts'
import { sumLog } from '../../domain/query-log/sum-log.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type pg from 'pg'

/** What an import of a log wrote: weeks (Mondays) of a property. */
type Brought = { propertyId: number; gatheringId: number; weeks: string[]; lastDay: string }

const written = ({ propertyId, weeks }: Brought): Written[] =>
  (['log_week', 'log_page_week'] as const).map(table => ({
    table,
    where: 'property_id = $3 and week = any($4::date[])',
    values: [propertyId, weeks],
  }))

/** Keeps the weeks that an import is about to write over, once. */
export async function keepBefore(context: Context, siteId: number, importId: number, brought: Brought): Promise<void> {
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    if (!(await noteBrought(db, siteId, importId, brought))) return
    // A log of this name that was taken back as a whole is on the path again.
    await touchFound(db, siteId, await markPruned(db, siteId, [brought.gatheringId], false))
    for (const each of written(brought)) await setAside(db, siteId, importId, each)
  })
}

/** Puts the weeks of a log as they were before an import, or as the import had them, and sums the log anew. */
export const takeBackLog: TakeBackWork = async (context, _control, row, on) => {
  const { siteId, id: importId } = row
  const brought = row.brought as Brought
  const change = async (db: pg.PoolClient): Promise<void> => {
    await lockSite(db, siteId)
    await needLatest(db, row, "brought->>'propertyId' = $4", [`${brought.propertyId}`])
    for (const each of written(brought)) await swapAside(db, siteId, importId, each)
    // Keywords stand in Gather as found by a log while it has any week.
    const pruned = !(await hasWeeks(db, siteId, brought.propertyId))
    await touchFound(db, siteId, await markPruned(db, siteId, [brought.gatheringId], pruned))
    await setPropertyLoaded(db, siteId, brought.propertyId, pruned ? null : brought.lastDay)
    await setTakenBack(db, siteId, importId, on)
  }
  if (row.takenBack !== on) await inTransaction(context.pool, change)
  const { marketId } = await oneGathering(context.pool, siteId, brought.gatheringId)
  const summed = await withMovedFigures(context.pool, siteId, marketId, () => sumLog(context.pool, siteId))
  for (const type of ['keywords', 'gatherings', 'positions'] as const) context.events.publish(siteId, { type })
  return { weeks: brought.weeks.length, ...summed }
}
