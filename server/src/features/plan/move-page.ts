import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { doAct } from '../../domain/acts/do-act.ts'
import { manyMapParents, setMapParent } from './map-queries.ts'

/** Puts a page of the map below another, or back where its address says. One that would stand below itself is refused. */
export function moveOnMap(context: Context, siteId: number, node: string, under: string | null) {
  return doAct(context, siteId, async db => {
    if (node.startsWith('folder:'))
      throw new AppError('badInput', 'A folder stands where its pages do; move these instead.')
    const parents = await manyMapParents(db, siteId)
    for (
      let at = under ?? undefined, steps = 0;
      at !== undefined && steps <= parents.size;
      at = parents.get(at), steps++
    )
      if (at === node) throw new AppError('conflict', 'A page cannot stand below itself. Nothing was moved.')
    const before = await setMapParent(db, siteId, node, under)
    return {
      answer: {},
      act: { kind: 'movePage', title: 'A page of the site map moved', data: { node, under, before } },
      changed: ['plan'],
    }
  })
}
