import { setTakenBack, takeKeywordsBack } from '../../domain/imports/queries.ts'
import type { TakeBackWork } from '../../domain/imports/take-back-work.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { touchMembers } from '../../domain/themes/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { changedByThemes } from './change-themes.ts'
import { updateGrouping } from './queries.ts'

/** Takes the grouping away that a file of themes made, with the keywords that it alone brought and nobody uses; or puts them back. */
export const takeBackThemes: TakeBackWork = async (context, _control, row, on) => {
  const { siteId, id: importId } = row
  const groupingId = Number(row.brought!.groupingId)
  const keywords = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await touchMembers(db, siteId, groupingId)
    await updateGrouping(db, siteId, groupingId, { removed: on })
    await setTakenBack(db, siteId, importId, on)
    return takeKeywordsBack(db, siteId, importId, on)
  })
  for (const type of new Set([...changedByThemes, 'keywords' as const])) context.events.publish(siteId, { type })
  return { keywords }
}
