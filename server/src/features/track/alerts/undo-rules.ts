import type { AlertRule } from '@dew-trail/contract/alerts'
import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../../domain/acts/do-act.ts'
import { deleteRule, insertRule, maybeRule, updateRule } from './queries.ts'

export const undoAddRule: UndoWork = async (db, siteId, { ruleId }: { ruleId: number }) => {
  const rule = await maybeRule(db, siteId, ruleId)
  if (rule && rule.version !== 1) throw new AppError('conflict', 'The rule was changed since. Nothing was undone.')
  await deleteRule(db, siteId, ruleId)
  return ['alerts']
}
export const undoChangeRule: UndoWork = async (db, siteId, before: AlertRule) => {
  if (!(await updateRule(db, siteId, before)))
    throw new AppError('conflict', 'The rule was changed or removed since. Nothing was undone.')
  return ['alerts']
}
/** The rule comes back; what it told is gone. */
export const undoRemoveRule: UndoWork = async (db, siteId, rule: AlertRule) => {
  await insertRule(db, siteId, rule)
  return ['alerts']
}
