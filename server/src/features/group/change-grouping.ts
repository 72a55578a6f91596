import type { changeGrouping } from '@dew-trail/contract/group'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { doAct } from '../../domain/acts/do-act.ts'
import { touchMembers } from '../../domain/themes/queries.ts'
import { changedByThemes } from './change-themes.ts'
import { needGrouping } from './look-at.ts'
import { setCurrent, updateGrouping } from './queries.ts'

/** Renames a grouping, makes it the current one of its market, or leaves pages of domains out. */
export async function editGrouping(context: Context, input: z.output<(typeof changeGrouping)['input']>) {
  const { siteId, groupingId, name, current, leftOut } = input
  const grouping = await needGrouping(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    if (current) {
      const before = await setCurrent(db, siteId, grouping.marketId, groupingId)
      return {
        answer: {},
        act:
          before === groupingId
            ? null
            : { kind: 'setCurrentGrouping', title: `"${grouping.name}" is current`, data: { groupingId, before } },
        changed: changedByThemes,
      }
    }
    const change = { ...(name !== undefined && { name }), ...(leftOut && { leftOut: [...new Set(leftOut)].sort() }) }
    const version = await updateGrouping(db, siteId, groupingId, change)
    const before = { ...(name !== undefined && { name: grouping.name }), ...(leftOut && { leftOut: grouping.leftOut }) }
    const title = leftOut ? `Pages left out of "${grouping.name}"` : `"${grouping.name}" is called "${name}"`
    return {
      answer: {},
      act: { kind: 'changeGrouping', title, data: { groupingId, version, before } },
      changed: changedByThemes,
    }
  })
}

export async function removeKept(context: Context, siteId: number, groupingId: number) {
  const grouping = await needGrouping(context.pool, siteId, groupingId)
  return doAct(context, siteId, async db => {
    await touchMembers(db, siteId, groupingId)
    await updateGrouping(db, siteId, groupingId, { removed: true })
    return {
      answer: {},
      act: {
        kind: 'removeGrouping',
        title: `"${grouping.name}" removed`,
        data: { groupingId, wasCurrent: grouping.current },
      },
      changed: changedByThemes,
    }
  })
}
