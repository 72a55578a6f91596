import type pg from 'pg'
import type { GroupFacts } from './facts.ts'
import { deleteThemes, insertThemes, manyThemes, setMemberships, updateThemes } from './theme-queries.ts'
import { type ThemesOf, themeNumbers } from './themes-of.ts'

/** Saves themes in the place of those a grouping has: those with an id stay, others are new or go. */
export async function saveThemes(
  db: pg.PoolClient,
  siteId: number,
  groupingId: number,
  facts: GroupFacts,
  of: ThemesOf,
): Promise<void> {
  const leadId = (lead: number): number => facts.keywords[lead]!.id
  const fresh = of.themes.filter(each => each.id === null)
  const freshIds = await insertThemes(
    db,
    siteId,
    groupingId,
    fresh.map(each => ({ leadId: leadId(each.lead), name: each.name })),
  )
  const idOf = new Map(fresh.map((each, i) => [each, freshIds[i]!]))
  const ids = of.themes.map(each => each.id ?? idOf.get(each)!)
  await updateThemes(
    db,
    siteId,
    of.themes.flatMap(({ id, lead, name, locked, leadByHand }) =>
      id === null ? [] : [{ id, leadId: leadId(lead), name, locked, leadByHand }],
    ),
  )
  const numbers = themeNumbers(of, facts.keywords.length)
  await setMemberships(
    db,
    siteId,
    groupingId,
    facts.keywords.map(({ id }, at) => ({
      keywordId: id,
      themeId: numbers[at]! < 0 ? null : ids[numbers[at]!]!,
      byHand: of.byHand[at] === 1,
    })),
  )
  const staying = new Set(ids)
  const gone = (await manyThemes(db, siteId, groupingId)).filter(each => !staying.has(each.id))
  await deleteThemes(
    db,
    siteId,
    gone.map(each => each.id),
  )
}
