import type pg from 'pg'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { setTracked } from '../../domain/positions/slot-queries.ts'
import { touchKeywords } from '../../domain/sites/queries.ts'

/** Tracks keywords or stops it, and gives those that were otherwise before. */
export async function changeTracked(
  db: pg.PoolClient,
  siteId: number,
  keywordIds: number[],
  tracked: boolean,
): Promise<number[]> {
  const ids = await setTracked(db, siteId, keywordIds, tracked)
  await touchKeywords(db, siteId, ids)
  return ids
}
export const undoTrack: UndoWork = async (db, siteId, data: { keywordIds: number[]; tracked: boolean }) => {
  await changeTracked(db, siteId, data.keywordIds, !data.tracked)
  return ['positions', 'keywords']
}
