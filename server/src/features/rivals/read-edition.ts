import type { Market } from '@dew-trail/contract/sites'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { pageKey } from '../../domain/pages/page-key.ts'

export type Ranking = { phrase: string; position: number; url: string }
export type Edition = { asOf: string; month: string; keywords: number; rows: Ranking[] }

/** All rows of an edition of the feed for a site; a phrase that is told twice counts by its best position. */
export async function readEdition(
  context: Context,
  market: Market,
  domain: string,
  edition: 'weekly' | 'full',
  month: string | null,
  signal?: AbortSignal,
): Promise<Edition> {
  const best = new Map<string, Ranking>()
  let cursor: string | null = null
  for (;;) {
    const reply = await context.sources.rankings(market, domain, { edition, month, cursor }, signal)
    for (const { text, position, url } of reply.rows) {
      const phrase = normalForm(text)
      if (!phrase || phrase.length > 200 || pageKey(url) === null) continue
      const known = best.get(phrase)
      if (!known || position < known.position) best.set(phrase, { phrase, position, url })
    }
    cursor = reply.next_cursor
    if (!cursor) return { asOf: reply.as_of, month: reply.month, keywords: reply.keywords, rows: [...best.values()] }
  }
}
