import type { Assignment } from '@dew-trail/contract/site-map'
import { AppError } from '@dew-trail/contract/errors'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { assignThemes, type OpenTheme, type ThemeAssignment } from '@dew-trail/core/planning/assign-themes'
import { deepestCompeting } from '@dew-trail/core/themes/competing-pages'
import type pg from 'pg'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { bestOwnPage } from '../../domain/chances/own-pages.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { putKeywords } from '../../domain/plans/put-keywords.ts'
import { type Assignment as KeywordAssignment, insertPage, manyPageKeys } from '../../domain/plans/queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { manyKeptKeywords, manyThemeKeywords, maybeCurrentGrouping, type ThemeKeyword } from './assignment-queries.ts'
import { setMapParent } from './map-queries.ts'
import { type Plan, readPlan } from './read-plan.ts'
import { nodeOfPlanned } from './site-map.ts'

type Theme = { id: number; name: string; lead: string; keywords: ThemeKeyword[] }
type Proposed = { theme: Theme; open: OpenTheme; assignment: ThemeAssignment; visits: number | null; done: boolean }

export async function proposedAssignments(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
): Promise<{ grouping: string | null; rows: Assignment[] }> {
  const { grouping, rows } = await propose(pool, siteId, marketId)
  const names = new Map(rows.map(({ theme }) => [theme.id, theme.name]))
  return {
    grouping,
    rows: rows
      .map(({ theme, open, assignment: { id: _, parent, ...to }, visits, done }) => ({
        themeId: theme.id,
        theme: theme.name,
        lead: theme.lead,
        keywords: theme.keywords.length,
        searches: open.searches,
        visits,
        parentTheme: parent === null ? null : names.get(parent)!,
        done,
        ...to,
      }))
      .sort((a, b) => (b.searches ?? -1) - (a.searches ?? -1) || a.themeId - b.themeId),
  }
}

async function propose(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
): Promise<{ grouping: string | null; rows: Proposed[] }> {
  const grouping = await maybeCurrentGrouping(pool, siteId, marketId)
  const plan = await readPlan(pool, siteId, marketId)
  const [keywords, pageKeys] = await Promise.all([
    grouping ? manyThemeKeywords(pool, siteId, grouping.id, plan.market) : manyKeptKeywords(pool, siteId, plan.market),
    manyPageKeys(pool, siteId),
  ])
  const themes = new Map<number, Theme>()
  for (const keyword of keywords) {
    const theme = themes.get(keyword.themeId)
    if (theme) theme.keywords.push(keyword)
    else
      themes.set(keyword.themeId, { id: keyword.themeId, name: keyword.theme, lead: keyword.lead, keywords: [keyword] })
  }
  const all = [...themes.values()]
  const open = all.map(theme => openTheme(theme, plan, pageKeys))
  const assigned = assignThemes(open, freeHome(plan, pageKeys), plan.market.language)
  return {
    grouping: grouping?.name ?? null,
    rows: all.map((theme, i) => {
      const parts = figureParts(theme.keywords)
      const visits = theme.keywords.flatMap((keyword, k) => {
        const each = plan.reader.visits(keyword.searches, keyword, plan.reader.brandOf(keyword.phrase) !== null)
        return each === null ? [] : [each * parts[k]!]
      })
      const { pageId } = assigned[i]!
      return {
        theme,
        open: open[i]!,
        assignment: assigned[i]!,
        visits: visits.length ? visits.reduce((sum, each) => sum + each, 0) : null,
        done: pageId !== null && theme.keywords.every(keyword => keyword.pageId === pageId),
      }
    }),
  }
}

function openTheme(
  { id, name, lead, keywords }: Theme,
  plan: Plan,
  pageKeys: ReadonlyMap<string, { id: number; title: string }>,
): OpenTheme {
  const parts = figureParts(keywords)
  const known = keywords.flatMap(({ searches }, i) => (searches === null ? [] : [searches * parts[i]!]))
  const best = bestOwnPage(
    keywords.flatMap(keyword =>
      (plan.standings.byKeyword.get(keyword.id) ?? []).filter(each => each.position <= deepestCompeting),
    ),
  )
  const onPlan = best && pageKeys.get(pageKey(best.page) ?? '')
  const counts = new Map<number, { title: string; keywords: number }>()
  for (const { pageId, pageTitle } of keywords) {
    if (pageId === null) continue
    const count = counts.get(pageId)
    if (count) count.keywords++
    else counts.set(pageId, { title: pageTitle!, keywords: 1 })
  }
  const [most] = [...counts].sort((a, b) => b[1].keywords - a[1].keywords || a[0] - b[0])
  return {
    id,
    name,
    lead,
    searches: known.length ? known.reduce((sum, each) => sum + each, 0) : null,
    keywords: keywords.length,
    own: best
      ? { ...best, address: best.page, title: onPlan?.title ?? new URL(best.page).pathname, pageId: onPlan?.id ?? null }
      : null,
    planned: most ? { pageId: most[0], ...most[1] } : null,
  }
}

/** The home page where no keyword is planned for it and it stands for none; null where it is taken. */
function freeHome({ site, pages, standings }: Plan, pageKeys: ReadonlyMap<string, { id: number; title: string }>) {
  const address = `https://${site.domain}/`
  const keys = new Set([pageKey(address)!, pageKey(`https://www.${site.domain}/`)!])
  const planned = [...keys].map(key => pageKeys.get(key)).find(Boolean)
  if (planned && pages.find(each => each.page.id === planned.id)!.keywords.length) return null
  for (const [, [best]] of standings.byKeyword)
    if (best && best.position <= deepestCompeting && keys.has(pageKey(best.page) ?? '')) return null
  return { address, title: planned?.title ?? 'Home page', pageId: planned?.id ?? null }
}

/** Puts keywords of themes on the pages proposed for them; new ones come below the page of the theme they go on from. */
export async function acceptThemes(context: Context, siteId: number, marketId: number, themeIds: readonly number[]) {
  const { rows } = await propose(context.pool, siteId, marketId)
  const wanted = new Set(themeIds)
  const chosen = rows.filter(row => wanted.has(row.theme.id))
  if (!chosen.length) throw new AppError('notFound', 'None of these themes is there any more. Nothing was changed.')
  return doAct(context, siteId, async db => {
    const planned = await manyPageKeys(db, siteId)
    const assigned: Array<{ pageId: number; before: KeywordAssignment[] }> = []
    const made: number[] = []
    const pageOf = new Map(
      rows.flatMap(row => (row.assignment.pageId === null ? [] : [[row.theme.id, row.assignment.pageId] as const])),
    )
    let [fresh, keywords, takenOff] = [0, 0, 0]
    for (const { theme, assignment } of chosen) {
      const { to, title, address } = assignment
      const key = address === null ? null : pageKey(address)
      let pageId = assignment.pageId ?? (key === null ? undefined : planned.get(key)?.id) ?? null
      if (pageId === null) {
        pageId = await insertPage(db, siteId, { title, address, kind: to === 'own' ? 'keep' : 'new', deadline: null })
        made.push(pageId)
        if (key !== null) planned.set(key, { id: pageId, title })
        if (to === 'new') fresh++
      }
      pageOf.set(theme.id, pageId)
      const ids = theme.keywords.map(each => each.id)
      const before = await putKeywords(db, siteId, pageId, ids)
      keywords += ids.length
      takenOff += before.filter(each => each.pageId !== null && each.pageId !== pageId).length
      assigned.push({ pageId, before })
    }
    // Sections of the same choice may have come after what stands below them.
    const keyOf = new Map([...planned].map(([key, page]) => [page.id, key]))
    for (const { theme, assignment } of chosen) {
      const parent = assignment.parent === null ? undefined : pageOf.get(assignment.parent)
      if (assignment.to !== 'new' || parent === undefined) continue
      const node = (id: number): string => nodeOfPlanned({ id, pageKey: keyOf.get(id) ?? null })
      await setMapParent(db, siteId, node(pageOf.get(theme.id)!), node(parent))
    }
    const pages = new Set(assigned.map(each => each.pageId)).size
    return {
      answer: { pages, fresh, keywords, takenOff },
      act: {
        kind: 'assignThemes',
        title: `${countOf(chosen.length, 'theme')} put on ${countOf(pages, 'page')}`,
        data: { assigned, made },
      },
      changed: ['plan', 'keywords', 'themes'],
    }
  })
}

/** Keywords of the current grouping's themes that stand on no page, most searched first. */
export async function themeKeywordsLeft(pool: pg.Pool, siteId: number, marketId: number) {
  const [market, grouping] = await Promise.all([
    needMarket(pool, siteId, marketId),
    maybeCurrentGrouping(pool, siteId, marketId),
  ])
  if (!grouping) return []
  return (await manyThemeKeywords(pool, siteId, grouping.id, market))
    .filter(each => each.pageId === null)
    .map(({ phrase, theme, searches, difficulty }) => ({ phrase, theme, searches, difficulty }))
    .sort((a, b) => (b.searches ?? -1) - (a.searches ?? -1))
}
