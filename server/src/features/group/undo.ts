import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { takeThemesOff } from '../../domain/plans/put-keywords.ts'
import type { Assignment } from '../../domain/plans/queries.ts'
import { touchMembers } from '../../domain/themes/queries.ts'
import { changedByThemes, type ChosenRecord, type MoveRecord } from './change-themes.ts'
import { type GroupingChange, oneGrouping, setCurrent, updateGrouping } from './queries.ts'
import {
  deleteThemes,
  manyMemberships,
  manyThemes,
  maybeTheme,
  restoreThemes,
  setMemberships,
  type ThemeRecord,
  updateThemes,
} from './theme-queries.ts'

/** Puts keywords back where they stood, those alone that are still where they were put, with the themes that went. */
export const undoMoveToTheme: UndoWork = async (db, siteId, { groupingId, before, after, ...themes }: MoveRecord) => {
  const now = new Map((await manyMemberships(db, siteId, groupingId)).map(each => [each.keywordId, each]))
  const still = new Set(
    after.filter(each => now.get(each.keywordId)?.themeId === each.themeId).map(each => each.keywordId),
  )
  const there = new Set((await manyThemes(db, siteId, groupingId)).map(each => each.id))
  await restoreThemes(
    db,
    siteId,
    groupingId,
    themes.gone.filter(each => !there.has(each.id)),
  )
  for (const { id } of themes.gone) there.add(id)
  await setMemberships(
    db,
    siteId,
    groupingId,
    before.filter(each => still.has(each.keywordId) && (each.themeId === null || there.has(each.themeId))),
  )
  await updateThemes(
    db,
    siteId,
    themes.changed.filter(each => there.has(each.id)),
  )
  const used = new Set((await manyMemberships(db, siteId, groupingId)).map(each => each.themeId))
  await deleteThemes(
    db,
    siteId,
    themes.made.filter(id => !used.has(id)),
  )
  await updateGrouping(db, siteId, groupingId, {})
  await touchMembers(db, siteId, groupingId)
  return changedByThemes
}

export const undoChangeTheme: UndoWork = async (
  db,
  siteId,
  { groupingId, before, after }: { groupingId: number; before: ThemeRecord; after: ThemeRecord },
) => {
  const now = await maybeTheme(db, siteId, groupingId, before.id)
  const same =
    now &&
    now.name === after.name &&
    now.leadId === after.leadId &&
    now.locked === after.locked &&
    now.leadByHand === after.leadByHand
  if (!same) throw new AppError('conflict', 'The theme was changed since. Nothing was undone.')
  await updateThemes(db, siteId, [before])
  await updateGrouping(db, siteId, groupingId, {})
  await touchMembers(db, siteId, groupingId)
  return changedByThemes
}

export const undoChooseThemes: UndoWork = async (db, siteId, { groupingId, version, before }: ChosenRecord) => {
  const now = await oneGrouping(db, siteId, groupingId)
  if (now.version !== version)
    throw new AppError('conflict', 'The grouping was changed since: undo that first. Nothing was undone.')
  const there = await manyThemes(db, siteId, groupingId)
  const wanted = new Set(before.records.map(each => each.id))
  const known = new Set(there.map(each => each.id))
  await restoreThemes(
    db,
    siteId,
    groupingId,
    before.records.filter(each => !known.has(each.id)),
  )
  await updateThemes(db, siteId, before.records)
  await setMemberships(db, siteId, groupingId, before.members)
  await deleteThemes(
    db,
    siteId,
    there.filter(each => !wanted.has(each.id)).map(each => each.id),
  )
  const { threshold, method, basis } = before
  await updateGrouping(db, siteId, groupingId, { threshold, method, basis })
  await touchMembers(db, siteId, groupingId)
  return changedByThemes
}

export const undoChangeGrouping: UndoWork = async (
  db,
  siteId,
  data: { groupingId: number; version: number; before: GroupingChange },
) => {
  const now = await oneGrouping(db, siteId, data.groupingId)
  if (now.version !== data.version)
    throw new AppError('conflict', 'The grouping was changed since. Nothing was undone.')
  await updateGrouping(db, siteId, data.groupingId, data.before)
  return changedByThemes
}
export const undoSetCurrent: UndoWork = async (db, siteId, data: { groupingId: number; before: number | null }) => {
  const now = await oneGrouping(db, siteId, data.groupingId)
  if (!now.current) throw new AppError('conflict', 'Another grouping is the current one now. Nothing was undone.')
  await setCurrent(db, siteId, now.marketId, data.before)
  return changedByThemes
}
export const undoRemoveGrouping: UndoWork = async (db, siteId, data: { groupingId: number; wasCurrent: boolean }) => {
  await updateGrouping(db, siteId, data.groupingId, { removed: false })
  const { marketId } = await oneGrouping(db, siteId, data.groupingId)
  if (data.wasCurrent) {
    const before = await setCurrent(db, siteId, marketId, data.groupingId)
    // Somebody chose another one meanwhile.
    if (before !== null) await setCurrent(db, siteId, marketId, before)
  }
  return changedByThemes
}

export const undoPlanThemes: UndoWork = async (
  db,
  siteId,
  { assigned, made }: { assigned: Array<{ pageId: number; before: Assignment[] }>; made: number[] },
) => {
  await takeThemesOff(db, siteId, assigned, made)
  return ['plan', 'keywords', 'themes']
}
