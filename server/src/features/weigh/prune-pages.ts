import { readRetention } from '../../domain/keeping/settings.ts'
import { shortenMonths } from '../../domain/results/shorten-months.ts'
import type { Context } from '../../context.ts'
import { pruneResultPages } from '../../domain/chances/queries.ts'

const atATime = 5_000

/** Removes the texts of first pages that are older than they are kept, and results of months gone by; gives how many texts. */
export async function pruneOldPages({ pool, config }: Context, now = new Date()): Promise<number> {
  const kept = await readRetention(pool, config)
  await shortenMonths(pool, kept, now)
  const { resultTexts } = kept
  if (resultTexts === null) return 0
  const before = new Date(now.getTime() - resultTexts * 86_400_000).toISOString().slice(0, 10)
  let removed = 0
  for (;;) {
    const some = await pruneResultPages(pool, before, atATime)
    removed += some
    if (some < atATime) return removed
  }
}
