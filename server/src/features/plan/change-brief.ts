import type { BriefText } from '@dew-trail/contract/brief'
import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { doAct } from '../../domain/acts/do-act.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { readPages } from '../../domain/graph/read-pages.ts'
import { maybeBrief, saveBriefText } from './brief-queries.ts'
import { onePage } from './change-plan.ts'
import { addressOf, briefFacts, emptyBrief } from './read-brief.ts'

/** Saves a brief; one that somebody saved since it was seen is not written over. */
export function writeBrief(context: Context, siteId: number, pageId: number, text: BriefText, version: number) {
  return doAct(context, siteId, async db => {
    const page = await onePage(db, siteId, pageId)
    const before = await maybeBrief(db, siteId, pageId)
    const next = await saveBriefText(db, siteId, pageId, text, version)
    if (next === undefined)
      throw new AppError(
        'conflict',
        'Somebody changed this brief meanwhile. Nothing was saved; look at it again first.',
      )
    return {
      answer: { version: next },
      act: {
        kind: 'saveBrief',
        title: `Brief of "${page.title}" written`,
        data: { pageId, version: next, before: before?.text ?? emptyBrief },
      },
      changed: ['plan'],
    }
  })
}

/** Starts reading the first results of a page's lead, and the page itself where it has an address. */
export async function startReading(context: Context, siteId: number, pageId: number, marketId: number) {
  const { organic, page, site, keywords } = await briefFacts(context.pool, siteId, pageId, marketId)
  if (!keywords.length)
    throw new AppError('conflict', 'No keyword stands on this page yet, so there are no first results to read.')
  if (!organic.length)
    throw new AppError(
      'conflict',
      `The first results of "${keywords[0]!.phrase}" are not known in this market: weigh it first.`,
    )
  const own = addressOf(page, site)
  const urls = [...new Set([...organic.map(result => result.url), ...(own && page.existing ? [own] : [])])]
  const title = `Read the first results of "${keywords[0]!.phrase}"`
  const { id } = await context.jobs.add(siteId, 'readForBrief', title, { urls }, `brief of page ${pageId}`)
  return { jobId: id, pages: urls.length }
}

export const readForBriefJob = (context: Context, control: JobControl): Promise<object> =>
  readPages(context, control, control.job.payload.urls as string[])
