import type { readTheme } from '@dew-trail/contract/group'
import { deepestCompeting } from '@dew-trail/core/themes/competing-pages'
import type { z } from 'zod'
import { bestOwnPage } from '../../domain/chances/own-pages.ts'
import type { GroupFacts } from './facts.ts'
import type { Standings } from './look-at.ts'
import type { ThemeOf } from './themes-of.ts'

export type Proposal = z.output<(typeof readTheme)['output']>['proposal']
/** Pages of the plan by the key of their address. */
export type PlannedByKey = ReadonlyMap<string, { id: number; title: string }>

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** What to call a page whose title is not known: the last part of its path in words. */
function pageTitle(url: string): string {
  const last = new URL(url).pathname.split('/').filter(Boolean).at(-1)
  if (!last) return 'Home page'
  let words = last
  try {
    words = decodeURIComponent(last)
  } catch {
    // A path that is no well-formed encoding is shown as it is.
  }
  return upper(words.replace(/\.[a-z]{2,5}$/i, '').replace(/[-_+]+/g, ' '))
}

/**
 * The page for a theme, with the reason: an own page that stands within 30 for it (where the plan has that page, the planned one), else the
 * planned page on which most of its keywords stand, else a new one. `keyOf`: the key of a page's address.
 */
export function proposePage(
  theme: ThemeOf,
  facts: GroupFacts,
  { own, stateOf }: Standings,
  planned: PlannedByKey,
  keyOf: (address: string) => string | null,
): Proposal {
  const members = new Set(theme.members)
  const best = bestOwnPage(own.all.filter(each => members.has(each.keyword) && each.position <= deepestCompeting))
  const name = theme.name ?? facts.keywords[theme.lead]!.phrase
  if (best) {
    const brings = best.visits === null ? '' : `, about ${Math.round(best.visits).toLocaleString('en')} visits a month`
    const why = `It stands for ${best.keywords === 1 ? 'one' : best.keywords} of its ${theme.members.length} keywords, at best at ${Math.round(best.position)}${brings}`
    const known = planned.get(keyOf(best.page) ?? '')
    return known
      ? { kind: 'planned', pageId: known.id, title: known.title, address: best.page, why }
      : { kind: 'own', pageId: null, title: pageTitle(best.page), address: best.page, why }
  }
  const counts = new Map<number, { title: string; times: number }>()
  for (const at of theme.members) {
    const { pageId, planned: title } = stateOf(facts.keywords[at]!.id)
    if (pageId === null) continue
    const count = counts.get(pageId)
    if (count) count.times++
    else counts.set(pageId, { title: title!, times: 1 })
  }
  const [most] = [...counts].sort((a, b) => b[1].times - a[1].times || a[0] - b[0])
  if (most) {
    const [pageId, { title, times }] = most
    const why = `${times} of its ${theme.members.length} keywords ${times === 1 ? 'stands' : 'stand'} on it already`
    return { kind: 'planned', pageId, title, address: null, why }
  }
  const why = `No page of yours stands within ${deepestCompeting} for it, and none is planned`
  return { kind: 'new', pageId: null, title: upper(name), address: null, why }
}
