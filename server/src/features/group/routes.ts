import {
  changeGrouping,
  changeTheme,
  checkGrouping,
  chooseThemes,
  compareGroupings,
  countToGroup,
  createGrouping,
  listCompeting,
  listGroupedKeywords,
  listGroupings,
  listThemes,
  mergeThemes,
  moveToTheme,
  planThemes,
  readGrouping,
  readTheme,
  refreshGrouping,
  removeGrouping,
} from '@dew-trail/contract/group'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { mount } from '../../platform/http/mount.ts'
import { besideAnother } from './beside.ts'
import { editGrouping, removeKept } from './change-grouping.ts'
import { choose, editTheme, merge, moveKeywords } from './change-themes.ts'
import { checkKept } from './check.ts'
import { competingRows } from './compete.ts'
import { choiceOf, lookAt, needGrouping, standingsAt, themesAt } from './look-at.ts'
import { groupingCost, makeGrouping, runAgain } from './make-grouping.ts'
import { putOnPages } from './plan-themes.ts'
import { countWithoutSearches, manyGroupings } from './queries.ts'
import { describeGrouping } from './read-grouping.ts'
import { keywordRows } from './read-keywords.ts'
import { describeTheme } from './read-theme.ts'
import { themeRows } from './read-themes.ts'
import { selectKeywords } from './select-keywords.ts'

export function mountGroup(app: Express, context: Context): void {
  const { pool } = context
  mount(app, listGroupings, ({ siteId, marketId }) => manyGroupings(pool, siteId, marketId))
  mount(app, countToGroup, async ({ siteId, marketId, from, oldestDays, compared }) => {
    const market = await needMarket(pool, siteId, marketId)
    const { keywords, fresh } = await selectKeywords(pool, siteId, market, from)
    const ids = keywords.map(each => each.id)
    return {
      keywords: ids.length + fresh.length,
      requests: await groupingCost(pool, siteId, marketId, ids, fresh.length, oldestDays, compared),
      withoutSearches: fresh.length + (await countWithoutSearches(pool, siteId, market.place, ids)),
      mostADay: context.sources.clients.engines.mostADay,
    }
  })
  mount(app, createGrouping, input => makeGrouping(context, input))
  mount(app, readGrouping, ({ siteId, groupingId }) => describeGrouping(pool, siteId, groupingId))
  mount(app, changeGrouping, input => editGrouping(context, input))
  mount(app, removeGrouping, ({ siteId, groupingId }) => removeKept(context, siteId, groupingId))
  mount(app, refreshGrouping, async ({ siteId, groupingId, oldestDays }) =>
    runAgain(context, siteId, await needGrouping(pool, siteId, groupingId), oldestDays),
  )
  mount(app, chooseThemes, input => choose(context, input))
  mount(app, listThemes, async ({ siteId, groupingId, ...wanted }) => {
    const looked = await lookAt(pool, siteId, groupingId)
    const of = await themesAt(pool, looked, choiceOf(looked.grouping, wanted))
    return { rows: themeRows(of, { facts: looked.facts, ...(await standingsAt(pool, looked)) }), kept: of.kept }
  })
  mount(app, readTheme, ({ siteId, groupingId, lead, ...wanted }) =>
    describeTheme(pool, siteId, groupingId, lead, {
      ...(wanted.threshold !== undefined && { threshold: wanted.threshold }),
      ...(wanted.method !== undefined && { method: wanted.method }),
    }),
  )
  mount(app, listGroupedKeywords, async ({ siteId, groupingId, ...wanted }) => {
    const looked = await lookAt(pool, siteId, groupingId)
    const of = await themesAt(pool, looked, choiceOf(looked.grouping, wanted))
    return { rows: keywordRows(of, looked.facts, await standingsAt(pool, looked)), kept: of.kept }
  })
  mount(app, moveToTheme, input => moveKeywords(context, input))
  mount(app, mergeThemes, ({ siteId, groupingId, themeId, themeIds }) =>
    merge(context, siteId, groupingId, themeId, themeIds),
  )
  mount(app, changeTheme, input => editTheme(context, input))
  mount(app, planThemes, ({ siteId, groupingId, themeIds }) => putOnPages(context, siteId, groupingId, themeIds))
  mount(app, listCompeting, async ({ siteId, groupingId }) => {
    const looked = await lookAt(pool, siteId, groupingId)
    const { own } = await standingsAt(pool, looked)
    return { rows: competingRows(await themesAt(pool, looked, null), looked.facts, own), logged: own.logged }
  })
  mount(app, checkGrouping, ({ siteId, groupingId, threshold }) => checkKept(pool, siteId, groupingId, threshold))
  mount(app, compareGroupings, ({ siteId, groupingId, besideId }) => besideAnother(pool, siteId, groupingId, besideId))
}
