import { AppError } from '@dew-trail/contract/errors'
import type { changeTheme, chooseThemes, moveToTheme } from '@dew-trail/contract/group'
import type pg from 'pg'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { touchMembers } from '../../domain/themes/queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lookAt, needGrouping } from './look-at.ts'
import { oneGrouping, updateGrouping } from './queries.ts'
import { saveThemes } from './save-themes.ts'
import {
  deleteThemes,
  insertThemes,
  manyMemberships,
  manyMostSearched,
  manyThemes,
  maybeTheme,
  type Membership,
  setMemberships,
  type ThemeRecord,
  updateThemes,
} from './theme-queries.ts'
import { chosenThemes, readKept } from './themes-of.ts'

export const changedByThemes = ['themes', 'keywords'] as const

/** What a change of themes needs to be undone: where its keywords stood and were put, and the themes it changed, took away or made. */
export type MoveRecord = {
  groupingId: number
  before: Membership[]
  after: Membership[]
  changed: ThemeRecord[]
  gone: ThemeRecord[]
  made: number[]
}

/**
 * Puts keywords where they are wanted and settles what follows: a theme whose lead is gone is led by its most searched keyword, one without
 * keywords goes.
 */
export async function putInThemes(
  db: pg.PoolClient,
  siteId: number,
  groupingId: number,
  after: readonly Membership[],
  made: number[] = [],
): Promise<MoveRecord> {
  const { marketId } = await oneGrouping(db, siteId, groupingId)
  const { place } = await needMarket(db, siteId, marketId)
  const before = await manyMemberships(
    db,
    siteId,
    groupingId,
    after.map(each => each.keywordId),
  )
  await setMemberships(db, siteId, groupingId, after)
  const touched = new Set([...before, ...after].flatMap(each => (each.themeId === null ? [] : [each.themeId])))
  const themes = (await manyThemes(db, siteId, groupingId)).filter(each => touched.has(each.id))
  const ids = themes.map(each => each.id)
  const most = await manyMostSearched(db, siteId, groupingId, place, ids)
  const gone = themes.filter(each => !most.has(each.id))
  const leads = await manyMemberships(
    db,
    siteId,
    groupingId,
    themes.map(each => each.leadId),
  )
  const themeOfLead = new Map(leads.map(each => [each.keywordId, each.themeId]))
  const leaderless = themes.filter(each => most.has(each.id) && themeOfLead.get(each.leadId) !== each.id)
  await updateThemes(
    db,
    siteId,
    leaderless.map(each => ({ ...each, leadId: most.get(each.id)!, leadByHand: false })),
  )
  await deleteThemes(
    db,
    siteId,
    gone.map(each => each.id),
  )
  await updateGrouping(db, siteId, groupingId, {})
  // A theme that is led by another keyword is called otherwise in all its rows.
  await touchMembers(db, siteId, groupingId, leaderless.length ? null : after.map(each => each.keywordId))
  return { groupingId, before, after: [...after], changed: leaderless, gone, made }
}

async function needTheme(db: pg.PoolClient, siteId: number, groupingId: number, themeId: number): Promise<ThemeRecord> {
  const theme = await maybeTheme(db, siteId, groupingId, themeId)
  if (!theme) throw new AppError('notFound', 'There is no such theme any more. Nothing was changed.')
  return theme
}

export async function moveKeywords(context: Context, input: z.output<(typeof moveToTheme)['input']>) {
  const { siteId, groupingId, keywordIds, alone } = input
  await needGrouping(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    const members = await manyMemberships(db, siteId, groupingId, keywordIds)
    if (!members.length) throw new AppError('badInput', 'None of these keywords is in this grouping')
    const made: number[] = []
    let themeId = alone ? null : input.themeId
    if (themeId !== null) await needTheme(db, siteId, groupingId, themeId)
    else if (!alone) {
      ;[themeId] = (await insertThemes(db, siteId, groupingId, [
        { leadId: members[0]!.keywordId, name: input.name ?? null },
      ])) as [number]
      made.push(themeId)
    }
    const moving = members.filter(each => each.themeId !== themeId || !each.byHand)
    const record = await putInThemes(
      db,
      siteId,
      groupingId,
      moving.map(each => ({ keywordId: each.keywordId, themeId, byHand: true })),
      made,
    )
    // A theme that was split off is led by its most searched keyword, whichever was named first.
    if (made.length) await leadByMostSearched(db, siteId, groupingId, themeId!)
    const where = alone ? 'let go from their themes' : made.length ? 'split off' : 'moved to another theme'
    return {
      answer: { moved: moving.length, themeId },
      act: moving.length
        ? { kind: 'moveToTheme', title: `${countOf(moving.length, 'keyword')} ${where}`, data: record }
        : null,
      changed: changedByThemes,
    }
  })
}

async function leadByMostSearched(
  db: pg.PoolClient,
  siteId: number,
  groupingId: number,
  themeId: number,
): Promise<void> {
  const { marketId } = await oneGrouping(db, siteId, groupingId)
  const { place } = await needMarket(db, siteId, marketId)
  const leadId = (await manyMostSearched(db, siteId, groupingId, place, [themeId])).get(themeId)
  const theme = await maybeTheme(db, siteId, groupingId, themeId)
  if (theme && leadId !== undefined) await updateThemes(db, siteId, [{ ...theme, leadId }])
}

/** Puts the keywords of themes into one of them. */
export async function merge(
  context: Context,
  siteId: number,
  groupingId: number,
  themeId: number,
  themeIds: readonly number[],
) {
  await needGrouping(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    await needTheme(db, siteId, groupingId, themeId)
    const others = new Set(themeIds.filter(each => each !== themeId))
    const moving = (await manyMemberships(db, siteId, groupingId)).filter(
      each => each.themeId !== null && others.has(each.themeId),
    )
    const record = await putInThemes(
      db,
      siteId,
      groupingId,
      moving.map(each => ({ keywordId: each.keywordId, themeId, byHand: true })),
    )
    return {
      answer: { moved: moving.length },
      act: moving.length
        ? { kind: 'moveToTheme', title: `${countOf(others.size + 1, 'theme')} merged`, data: record }
        : null,
      changed: changedByThemes,
    }
  })
}

export async function editTheme(context: Context, input: z.output<(typeof changeTheme)['input']>) {
  const { siteId, groupingId, themeId, name, leadId, locked } = input
  await needGrouping(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    const before = await needTheme(db, siteId, groupingId, themeId)
    if (leadId !== undefined) {
      const [place] = await manyMemberships(db, siteId, groupingId, [leadId])
      if (place?.themeId !== themeId)
        throw new AppError('conflict', 'A theme is led by one of its own keywords. Nothing was changed.')
    }
    const after: ThemeRecord = {
      ...before,
      ...(name !== undefined && { name: name || null }),
      ...(leadId !== undefined && { leadId, leadByHand: true }),
      ...(locked !== undefined && { locked }),
    }
    await updateThemes(db, siteId, [after])
    await updateGrouping(db, siteId, groupingId, {})
    await touchMembers(db, siteId, groupingId)
    const what =
      name !== undefined
        ? name
          ? `Theme called "${name}"`
          : 'Theme called as its lead again'
        : leadId !== undefined
          ? 'New lead of a theme'
          : locked
            ? 'Theme locked'
            : 'Theme unlocked'
    return {
      answer: {},
      act: { kind: 'changeTheme', title: what, data: { groupingId, before, after } },
      changed: changedByThemes,
    }
  })
}

/** How a grouping was when its themes were made anew, for undo. */
export type ChosenRecord = {
  groupingId: number
  version: number
  before: {
    threshold: number
    method: 'lead' | 'pairs'
    basis: 'results' | 'words' | 'given'
    records: ThemeRecord[]
    members: Membership[]
  }
}
/** Makes the themes by a threshold and method; what was done by hand is kept. */
export async function choose(context: Context, input: z.output<(typeof chooseThemes)['input']>) {
  const { siteId, groupingId, threshold, method, basis } = input
  const { grouping, facts, market } = await lookAt(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    const kept = await readKept(db, siteId, groupingId)
    const chosen = chosenThemes(facts, kept, { threshold, method, basis }, market.language)
    await saveThemes(db, siteId, groupingId, facts, chosen)
    const version = await updateGrouping(db, siteId, groupingId, { threshold, method, basis, grouped: true })
    await touchMembers(db, siteId, groupingId)
    const before = { threshold: grouping.threshold, method: grouping.method, basis: grouping.basis, ...kept }
    const title =
      basis === 'words'
        ? `"${grouping.name}" grouped by shared words`
        : `"${grouping.name}" grouped by ${countOf(threshold, 'shared page')}`
    return {
      answer: { themes: chosen.themes.length },
      act: { kind: 'chooseThemes', title, data: { groupingId, version, before } satisfies ChosenRecord },
      changed: changedByThemes,
    }
  })
}
