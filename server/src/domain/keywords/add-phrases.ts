import type pg from 'pg'
import { touchKeywords } from '../sites/queries.ts'
import { describeKeyword } from './describe-keyword.ts'
import { markImported, upsertKeywords } from './queries.ts'

/**
 * Ids of phrases in normal form, by phrase; those that the site does not have become found keywords of it, as if a file had brought them,
 * which it did where `importId` is given.
 * Call under the site's lock.
 */
export async function addPhrases(
  db: pg.PoolClient,
  siteId: number,
  language: string,
  phrases: readonly string[],
  importId: number | null = null,
): Promise<Map<string, number>> {
  if (!phrases.length) return new Map()
  const ids = await upsertKeywords(
    db,
    siteId,
    language,
    phrases.map(phrase => describeKeyword(phrase, language, false)),
  )
  await markImported(db, siteId, [...ids.values()], importId)
  await touchKeywords(db, siteId, [...ids.values()])
  return ids
}
