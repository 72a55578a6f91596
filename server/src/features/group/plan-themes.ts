import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { putKeywords } from '../../domain/plans/put-keywords.ts'
import { type Assignment, insertPage, manyPageKeys } from '../../domain/plans/queries.ts'
import { lookAt, standingsAt, themesAt } from './look-at.ts'
import { proposePage } from './proposals.ts'

/** Puts kept themes on the pages proposed for them: planned ones, own ones that the plan does not have yet, or new ones. */
export async function putOnPages(context: Context, siteId: number, groupingId: number, themeIds: readonly number[]) {
  const looked = await lookAt(context.pool, siteId, groupingId)
  const wanted = new Set(themeIds)
  const themes = (await themesAt(context.pool, looked, null)).themes.filter(
    each => each.id !== null && wanted.has(each.id),
  )
  if (!themes.length) throw new AppError('notFound', 'None of these themes is there any more. Nothing was changed.')
  const standings = await standingsAt(context.pool, looked)
  return doAct(context, siteId, async db => {
    const planned = await manyPageKeys(db, siteId)
    const assigned: Array<{ pageId: number; before: Assignment[] }> = []
    const made: number[] = []
    let [fresh, keywords, takenOff] = [0, 0, 0]
    for (const theme of themes) {
      const { kind, pageId: known, title, address } = proposePage(theme, looked.facts, standings, planned, pageKey)
      let pageId = known
      if (pageId === null) {
        pageId = await insertPage(db, siteId, { title, address, kind: kind === 'own' ? 'keep' : 'new', deadline: null })
        made.push(pageId)
        const key = address === null ? null : pageKey(address)
        if (key !== null) planned.set(key, { id: pageId, title })
        if (kind === 'new') fresh++
      }
      const ids = theme.members.map(at => looked.facts.keywords[at]!.id)
      const before = await putKeywords(db, siteId, pageId, ids)
      keywords += ids.length
      takenOff += before.filter(each => each.pageId !== null && each.pageId !== pageId).length
      assigned.push({ pageId, before })
    }
    const pages = new Set(assigned.map(each => each.pageId)).size
    return {
      answer: { pages, fresh, keywords, takenOff },
      act: {
        kind: 'planThemes',
        title: `${countOf(themes.length, 'theme')} put on ${countOf(pages, 'page')}`,
        data: { assigned, made },
      },
      changed: ['plan', 'keywords', 'themes'],
    }
  })
}
