import type { PlannedPage } from '@dew-trail/contract/plan'
import { familyKey } from '@dew-trail/core/words/family-key'
import type pg from 'pg'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'
import { plannedPage } from './page-figures.ts'
import { type Plan, readPlan } from './read-plan.ts'

/** Planned pages with sums over their keywords. A sum counts what is known and says how many are not; nothing known is unknown, not 0. */
export async function listPlannedPages(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  today: string,
): Promise<PlannedPage[]> {
  const [plan, themes] = await Promise.all([
    readPlan(pool, siteId, marketId),
    manyCurrentThemes(pool, siteId, marketId),
  ])
  const elsewhere = formsElsewhere(plan)
  return plan.pages.map(each =>
    plannedPage(each, plan.reader, {
      themes,
      elsewhere: elsewhere(each.page.id),
      today,
      settle: plan.settling.days,
      language: plan.market.language,
    }),
  )
}

/** For a page: the forms of keywords that stand on other planned pages, with the name of one. */
function formsElsewhere({ pages, market }: Plan): (pageId: number) => Map<string, string> {
  const byFamily = new Map<string, Array<{ id: number; title: string }>>()
  for (const { page, keywords } of pages)
    for (const family of new Set(keywords.map(each => familyKey(each.phrase, market.language)))) {
      const list = byFamily.get(family)
      if (list) list.push(page)
      else byFamily.set(family, [page])
    }
  const shared = [...byFamily].filter(([, list]) => list.length > 1)
  return pageId =>
    new Map(
      shared.flatMap(([family, list]) => {
        const other = list.some(each => each.id === pageId) ? list.find(each => each.id !== pageId) : undefined
        return other ? [[family, other.title] as const] : []
      }),
    )
}
