import { AppError } from '@dew-trail/contract/errors'
import {
  listDisavowed,
  listLinkSources,
  listLinkedPages,
  listLinkingSites,
  listSiteRanking,
  listTargetAnchors,
  listTargetLinks,
  readLinkFigures,
  readLinkKinds,
  readNeighbourhood,
  setCleared,
  setDisavowed,
} from '@dew-trail/contract/link-lists'
import {
  addProspects,
  changeProspect,
  listProspects,
  type ProspectState,
  removeProspects,
} from '@dew-trail/contract/prospects'
import type { Router } from 'express'
import type { Context } from '../../../context.ts'
import { countOf, doAct, type UndoWork } from '../../../domain/acts/do-act.ts'
import { needSite } from '../../../domain/sites/need-market.ts'
import { mount } from '../../../platform/http/mount.ts'
import { manySources, needTarget } from './link-scope.ts'
import {
  deleteProspects,
  insertProspects,
  manyDisavowed,
  manyProspectDomains,
  manyProspects,
  maybeProspect,
  type ProspectChange,
  type ProspectRow,
  restoreProspects,
  setClearedSites,
  setDisavowedSites,
  updateProspect,
} from './mark-queries.ts'
import { verifyPlaced } from './verify-placed.ts'
import { readFigures } from './read-figures.ts'
import { readAnchors } from './read-anchors.ts'
import { readKinds, readLinkingSites } from './read-linking-sites.ts'
import { readTargetLinks } from './read-links.ts'
import { readLinkedPages, readNeighbours, readRanking } from './read-lists.ts'

const stateWords: Record<ProspectState, string> = {
  toAsk: 'to ask',
  asked: 'asked',
  promised: 'promised',
  placed: 'placed',
  refused: 'refused',
}
const today = (): string => new Date().toISOString().slice(0, 10)

export function mountLinkLists(router: Router, context: Context): void {
  const { pool } = context
  mount(router, readLinkFigures, async input => {
    await needSite(pool, input.siteId)
    return readFigures(pool, { ...input, today: today() })
  })
  mount(router, listLinkSources, async ({ siteId }) => {
    await needSite(pool, siteId)
    return (await manySources(pool)).map(({ name, label }) => ({ name, label }))
  })
  mount(router, readLinkKinds, async input => {
    await needSite(pool, input.siteId)
    return readKinds(pool, { ...input, today: today() })
  })
  mount(router, listLinkingSites, async input => {
    await needSite(pool, input.siteId)
    return readLinkingSites(pool, { ...input, today: today() })
  })
  mount(router, listTargetLinks, async ({ from = null, ...input }) => {
    await needSite(pool, input.siteId)
    return readTargetLinks(pool, { ...input, from, today: today() })
  })
  mount(router, listTargetAnchors, async input => {
    await needSite(pool, input.siteId)
    const { classes: _, ...answer } = await readAnchors(pool, { ...input, today: today() })
    return answer
  })
  mount(router, listLinkedPages, async input => {
    await needSite(pool, input.siteId)
    return readLinkedPages(pool, { ...input, today: today() })
  })
  mount(router, readNeighbourhood, async input => {
    await needSite(pool, input.siteId)
    return readNeighbours(pool, { ...input, today: today() })
  })
  mount(router, listSiteRanking, async ({ siteId, contains, beside }) => {
    await needSite(pool, siteId)
    return readRanking(pool, siteId, contains, beside)
  })
  mount(router, listDisavowed, ({ siteId }) => manyDisavowed(pool, siteId))
  mount(router, setDisavowed, ({ siteId, domains, on }) =>
    doAct(context, siteId, async db => {
      const changed = await setDisavowedSites(db, siteId, [...new Set(domains.map(tidyDomain))], on)
      const title = `${countOf(changed.length, 'site')} ${on ? 'disavowed' : 'no longer disavowed'}`
      return {
        answer: { changed: changed.length },
        act: changed.length ? { kind: 'disavow', title, data: { domains: changed, on } } : null,
        changed: ['disavowed'],
      }
    }),
  )
  mount(router, setCleared, ({ siteId, domains, on }) =>
    doAct(context, siteId, async db => {
      const changed = await setClearedSites(db, siteId, [...new Set(domains.map(tidyDomain))], on)
      const title = `${countOf(changed.length, 'site')} ${on ? 'said to be of no network' : 'judged by the program again'}`
      return {
        answer: { changed: changed.length },
        act: changed.length ? { kind: 'clearSites', title, data: { domains: changed, on } } : null,
        changed: ['disavowed'],
      }
    }),
  )
  mountProspects(router, context)
}

/** The site that a text names. Throws `badInput` where it names none. */
const tidyDomain = (text: string): string => needTarget(text).domain

function mountProspects(router: Router, context: Context): void {
  const { pool } = context
  mount(router, listProspects, async ({ siteId }) => manyProspects(pool, siteId, (await needSite(pool, siteId)).domain))
  mount(router, addProspects, ({ siteId, sites }) =>
    doAct(context, siteId, async db => {
      const wanted = new Map(sites.map(({ domain, page }) => [tidyDomain(domain), page]))
      const before = await manyProspectDomains(db, siteId)
      const added = await insertProspects(
        db,
        siteId,
        [...wanted].map(([domain, page]) => ({ domain, page })),
      )
      const title = `${countOf(added.length, 'prospect')} added`
      return {
        answer: { added: added.length, known: [...wanted.keys()].filter(domain => before.has(domain)) },
        act: added.length ? { kind: 'addProspects', title, data: { prospectIds: added.map(each => each.id) } } : null,
        changed: ['prospects'],
      }
    }),
  )
  mount(router, changeProspect, async ({ siteId, prospectId, version, ...change }) => {
    const done = await doAct(context, siteId, async db => {
      const before = await maybeProspect(db, siteId, prospectId)
      if (!before) throw new AppError('notFound', 'This prospect is no longer there')
      const next = await updateProspect(db, siteId, prospectId, version, change as ProspectChange)
      if (next === undefined)
        throw new AppError(
          'conflict',
          'Somebody changed this prospect meanwhile. Nothing was saved; look at it again first.',
        )
      // A contact that is taken away is forgotten for good: not even undo knows it.
      const kept = Object.keys(change).filter(key => key !== 'contact' || change.contact !== null)
      const old = Object.fromEntries(kept.map(key => [key, before[key as keyof ProspectRow]]))
      const title = change.state
        ? `${before.domain} is ${stateWords[change.state]}`
        : `Prospect ${before.domain} changed`
      return {
        answer: { version: next },
        act: { kind: 'changeProspect', title, data: { prospectId, version: next, change: old } },
        changed: ['prospects'],
      }
    })
    if (change.state === 'placed') await verifyPlaced(context, await needSite(pool, siteId))
    return done
  })
  mount(router, removeProspects, ({ siteId, prospectIds }) =>
    doAct(context, siteId, async db => {
      const rows = await deleteProspects(db, siteId, prospectIds)
      return {
        answer: { changed: rows.length },
        act: rows.length
          ? { kind: 'removeProspects', title: `${countOf(rows.length, 'prospect')} removed`, data: { rows } }
          : null,
        changed: ['prospects'],
      }
    }),
  )
}

export const undoDisavow: UndoWork = async (db, siteId, { domains, on }: { domains: string[]; on: boolean }) => {
  await setDisavowedSites(db, siteId, domains, !on)
  return ['disavowed']
}
export const undoClearSites: UndoWork = async (db, siteId, { domains, on }: { domains: string[]; on: boolean }) => {
  await setClearedSites(db, siteId, domains, !on)
  return ['disavowed']
}
export const undoAddProspects: UndoWork = async (db, siteId, { prospectIds }: { prospectIds: number[] }) => {
  await deleteProspects(db, siteId, prospectIds)
  return ['prospects']
}
export const undoChangeProspect: UndoWork = async (
  db,
  siteId,
  { prospectId, version, change }: { prospectId: number; version: number; change: ProspectChange },
) => {
  if ((await updateProspect(db, siteId, prospectId, version, change)) === undefined)
    throw new AppError('conflict', 'The prospect was changed or removed since. Nothing was undone.')
  return ['prospects']
}
export const undoRemoveProspects: UndoWork = async (db, siteId, { rows }: { rows: ProspectRow[] }) => {
  await restoreProspects(db, siteId, rows)
  return ['prospects']
}
