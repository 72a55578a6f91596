import { AppError } from '@dew-trail/contract/errors'
import type { ListKind } from '@dew-trail/contract/lists'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { touchKeywords } from '../../domain/sites/queries.ts'
import { manyKeywordsOn, maybeListById, restoreList, setOnList, updateListName, updateListWorth } from './queries.ts'

const gone = (): AppError => new AppError('conflict', 'The list is no longer there, so this cannot be undone')

export const undoChangeList: UndoWork = async (
  db,
  siteId,
  { listId, keywordIds, on }: { listId: number; keywordIds: number[]; on: boolean },
) => {
  if (!(await maybeListById(db, siteId, listId))) throw gone()
  await touchKeywords(db, siteId, await setOnList(db, siteId, listId, keywordIds, !on))
  return ['lists', 'keywords']
}
export const undoRenameList: UndoWork = async (
  db,
  siteId,
  { listId, from, to }: { listId: number; from: string; to: string },
) => {
  const list = await maybeListById(db, siteId, listId)
  if (!list) throw gone()
  if (list.name !== to)
    throw new AppError(
      'conflict',
      `It was renamed again meanwhile and is called "${list.name}" now. Nothing was changed.`,
    )
  if (!(await updateListName(db, siteId, listId, from)))
    throw new AppError('conflict', `Another one is called "${from}" now. Nothing was changed.`)
  await touchKeywords(db, siteId, await manyKeywordsOn(db, siteId, listId))
  return ['lists', 'keywords']
}
export const undoValueLabel: UndoWork = async (
  db,
  siteId,
  { listId, from }: { listId: number; from: number | null },
) => {
  if (!(await maybeListById(db, siteId, listId))) throw gone()
  await updateListWorth(db, siteId, listId, from)
  await touchKeywords(db, siteId, await manyKeywordsOn(db, siteId, listId))
  return ['lists', 'keywords']
}
export const undoRemoveList: UndoWork = async (
  db,
  siteId,
  {
    keywordIds,
    ...list
  }: { id: number; kind: ListKind; name: string; visitWorth?: number | null; keywordIds: number[] },
) => {
  const listId = await restoreList(db, siteId, list)
  await touchKeywords(db, siteId, await setOnList(db, siteId, listId, keywordIds, true))
  return ['lists', 'keywords']
}
