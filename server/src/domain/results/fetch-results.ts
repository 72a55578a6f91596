import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../../context.ts'
import { askEach } from '../../platform/jobs/ask-each.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { manyPhrases } from '../keywords/queries.ts'
import { analyzeResults, type ResultPage } from './queries.ts'
import { saveResults } from './save-results.ts'

const [atOnce, savedTogether] = [8, 80]

/**
 * Fetches results of keywords in their order and saves them, eighty at a time; the job's progress (`done`, `failed`) tells where it goes on
 * after a stop. A request that fails leaves a keyword's results as they were and its id among the failed; where a quota ends it throws, with
 * what it has saved. `also`: what else is done with the pages that were saved. Gives the ids of those that failed.
 */
export async function fetchResults(
  context: Context,
  control: JobControl,
  market: Market,
  { keywordIds, depth }: { keywordIds: readonly number[]; depth: number },
  also: (pages: readonly ResultPage[]) => Promise<void> = async () => undefined,
): Promise<number[]> {
  const { siteId, progress } = control
  let done = Number(progress.done ?? 0)
  const failed = (progress.failed as number[] | undefined) ?? []
  while (done < keywordIds.length) {
    await control.step(done, keywordIds.length)
    const part = keywordIds.slice(done, done + savedTogether)
    const phrases = await manyPhrases(context.pool, siteId, market.language, part)
    const pages: ResultPage[] = []
    const halted = await askEach(
      control,
      phrases,
      atOnce,
      async ({ id, phrase }) => {
        const reply = await context.sources.search(market, phrase, depth, control.signal)
        pages.push({ keywordId: id, day: reply.date, depth, results: reply.organic })
      },
      ({ id }) => failed.push(id),
    )
    await saveResults(context.pool, { siteId, marketId: market.id, source: 'engines' }, pages)
    await also(pages)
    context.events.publish(siteId, { type: 'positions' })
    if (halted) throw halted
    done += savedTogether
    Object.assign(progress, { done, failed })
    await control.save()
  }
  await control.step(keywordIds.length, keywordIds.length)
  if (keywordIds.length) await analyzeResults(context.pool)
  return failed
}
