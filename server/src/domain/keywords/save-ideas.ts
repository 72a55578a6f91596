import { normalForm } from '@dew-trail/core/words/normal-form'
import type pg from 'pg'
import { inTransaction } from '../../platform/db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import type { AdsFigure } from '../../sources/source-replies.ts'
import { describeKeyword } from './describe-keyword.ts'
import { findLadderFor, toDemand } from './demand-facts.ts'
import { countFound, insertFindings, upsertDemand, upsertKeywords } from './queries.ts'

export type Idea = { phrase: string; figure?: AdsFigure }

/** Saves ideas of one request: keywords, how they were found, and figures where they came along. Gives the gathering's new count. */
export async function saveIdeas(
  pool: pg.Pool,
  to: { siteId: number; gatheringId: number; language: string; place: string; way: string },
  ideas: Idea[],
): Promise<number> {
  const byPhrase = new Map<string, Idea>()
  for (const idea of ideas) {
    const phrase = normalForm(idea.phrase)
    if (phrase && phrase.length <= 200 && !byPhrase.has(phrase)) byPhrase.set(phrase, { ...idea, phrase })
  }
  return inTransaction(pool, async db => {
    await lockSite(db, to.siteId)
    const ids = await upsertKeywords(
      db,
      to.siteId,
      to.language,
      [...byPhrase.keys()].map(phrase => describeKeyword(phrase, to.language, to.way === 'completions')),
    )
    await insertFindings(db, to.siteId, to.gatheringId, to.way, [...ids.values()])
    const figures = [...byPhrase.values()].flatMap(idea => idea.figure ?? [])
    const ladder = await findLadderFor(db, to.siteId, figures)
    const demand = [...byPhrase.values()].flatMap(idea =>
      idea.figure && ids.has(idea.phrase) ? [toDemand(ids.get(idea.phrase)!, idea.figure, ladder)] : [],
    )
    await upsertDemand(db, to.siteId, to.place, 'ads', demand)
    await touchKeywords(db, to.siteId, [...ids.values()])
    return countFound(db, to.siteId, to.gatheringId)
  })
}
