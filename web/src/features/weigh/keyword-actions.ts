import { startWeighing } from '@dew-trail/contract/weigh'
import { call } from '../../api/call.ts'
import type { ActionTools, KeywordAction } from '../../keywords/keyword-actions.ts'
import { plural } from '../../ui/format.ts'

/** Weighs keywords, all that are kept without `ids`; `again`: also those that were weighed lately. */
export const weighKeywords = (
  { site, market, act }: Pick<ActionTools, 'site' | 'market' | 'act'>,
  ids?: number[],
  again = false,
): Promise<void> =>
  act(async () => {
    const { jobId, count, fresh } = await call(startWeighing, {
      siteId: site.id,
      marketId: market.id,
      again,
      ...(ids ? { keywordIds: ids } : {}),
    })
    if (jobId === null)
      return fresh
        ? { say: `${plural(fresh, 'keyword')} ${fresh === 1 ? 'was' : 'were'} weighed in the last 14 days` }
        : { say: 'Nothing is kept yet, so there is nothing to weigh' }
    return {
      say: `Weighing ${plural(count, 'keyword')}${fresh ? `; ${fresh} weighed in the last 14 days left as they are` : ''}`,
    }
  })

export const weighActions: KeywordAction[] = [
  {
    name: 'weigh',
    label: 'Weigh',
    key: 'w',
    shownIn: 'foot',
    labelFor: row => (row.difficulty === null ? 'Weigh' : 'Weigh again'),
    run: (ids, tools) => weighKeywords(tools, ids, ids.length === 1),
  },
]
