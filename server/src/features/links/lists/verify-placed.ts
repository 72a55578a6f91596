import type { Context } from '../../../context.ts'
import { insertNote } from '../../../domain/notes/queries.ts'
import { lockSite, manySites } from '../../../domain/sites/queries.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import { markVerified } from './mark-queries.ts'

/** Looks whether links that were said to be placed are in our graph by now; each is noted on the site's timeline once. */
export async function verifyPlaced(context: Context, site: { id: number; domain: string }): Promise<void> {
  const domains = await inTransaction(context.pool, async db => {
    await lockSite(db, site.id)
    const verified = await markVerified(db, site.id, site.domain)
    const day = new Date().toISOString().slice(0, 10)
    for (const domain of verified)
      await insertNote(db, site.id, { day, text: `${domain} links to us now`, touches: {} })
    return verified
  })
  if (domains.length) for (const type of ['prospects', 'notes'] as const) context.events.publish(site.id, { type })
}
/** The same for all sites, after links have come in. */
export async function verifyAllPlaced(context: Context): Promise<void> {
  for (const site of await manySites(context.pool)) await verifyPlaced(context, site)
}
