import type { ThemeRow } from '@dew-trail/contract/group'
import { sharedPages } from '@dew-trail/core/themes/keyword-pages'
import { competingPages } from '@dew-trail/core/themes/competing-pages'
import { intents } from '@dew-trail/core/words/intent'
import { bestOwnPage, type OwnPage, type OwnPages } from '../../domain/chances/own-pages.ts'
import type { VisitReader } from '../../domain/chances/visits-of.ts'
import { type GroupFacts, ofTen } from './facts.ts'
import type { KeywordState } from './keyword-states.ts'

import type { ThemeOf, ThemesOf } from './themes-of.ts'

type Known = {
  facts: GroupFacts
  own: OwnPages
  stateOf(keywordId: number): KeywordState
  reader: VisitReader
}

/** Rows of themes with sums over their keywords, in order of searches. A theme that is not kept yet has the negative id of its lead. */
export function themeRows({ themes, byHand }: ThemesOf, known: Known): ThemeRow[] {
  const byKeyword = new Map<number, OwnPage[]>()
  for (const each of known.own.all) {
    const list = byKeyword.get(each.keyword)
    if (list) list.push(each)
    else byKeyword.set(each.keyword, [each])
  }
  return themes.map(theme => themeRow(theme, byHand, byKeyword, known))
}

function themeRow(
  theme: ThemeOf,
  byHand: Uint8Array,
  ownByKeyword: ReadonlyMap<number, OwnPage[]>,
  { facts, stateOf, reader }: Known,
): ThemeRow {
  const { packed, parts } = facts
  const lead = facts.keywords[theme.lead]!
  let [searches, unknown, visits, visitsUnknown] = [0, 0, 0, 0]
  let [shared, others, cpc, cpcWeight, chance, chanceWeight] = [0, 0, 0, 0, 0, 0]
  let [from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  let [onPlan, tracked, hand] = [0, 0, 0]
  const pages = new Map<number, { title: string; times: number }>()
  const byIntent = intents.map(() => 0)
  const countByIntent = intents.map(() => 0)
  for (const at of theme.members) {
    const keyword = facts.keywords[at]!
    const own = keyword.searches === null ? null : keyword.searches * parts[at]!
    if (own === null) unknown++
    else searches += own
    const intent = intents.indexOf(keyword.intent as (typeof intents)[number])
    byIntent[intent]! += own ?? 0
    countByIntent[intent]!++
    const expected = reader.visits(keyword.searches, keyword, reader.brandOf(keyword.phrase) !== null)
    if (expected === null) visitsUnknown++
    else visits += expected * parts[at]!
    if (at !== theme.lead && keyword.day !== null && lead.day !== null) {
      shared += sharedPages(packed, at, theme.lead)
      others++
    }
    if (keyword.difficulty !== null) {
      from = Math.min(from, keyword.difficulty)
      to = Math.max(to, keyword.difficulty)
    }
    if (keyword.cpc !== null && own) {
      cpc += keyword.cpc * own
      cpcWeight += own
    }
    if (keyword.chance10 !== null && own) {
      chance += keyword.chance10 * own
      chanceWeight += own
    }
    const state = stateOf(keyword.id)
    if (state.tracked) tracked++
    if (state.pageId !== null) {
      onPlan++
      const page = pages.get(state.pageId)
      if (page) page.times++
      else pages.set(state.pageId, { title: state.planned!, times: 1 })
    }
    hand += byHand[at]!
  }
  const size = theme.members.length
  const standings = theme.members.flatMap(at => ownByKeyword.get(at) ?? [])
  const best = bestOwnPage(standings)
  const planned = [...pages].sort((a, b) => b[1].times - a[1].times || a[0] - b[0])[0]
  const counted = searches > 0 ? byIntent : countByIntent
  const all = counted.reduce((sum, each) => sum + each, 0)
  const shares = counted.map(each => (all > 0 ? each / all : 0))
  return {
    id: theme.id ?? -lead.id,
    leadId: lead.id,
    lead: lead.phrase,
    name: theme.name,
    keywords: size,
    searches: unknown === size ? null : searches,
    searchesUnknown: unknown,
    together: others ? ofTen(shared / others, facts) : null,
    difficultyFrom: to >= from ? from : null,
    difficultyTo: to >= from ? to : null,
    chance: chanceWeight > 0 ? chance / chanceWeight : null,
    cpc: cpcWeight > 0 ? cpc / cpcWeight : null,
    intents: shares,
    intent: intents[shares.indexOf(Math.max(...shares))]!,
    visits: visitsUnknown === size ? null : visits,
    visitsUnknown,
    ownPage: best?.page ?? null,
    ownPosition: best?.position ?? null,
    competing: competingSites(standings),
    planned: planned?.[1].title ?? null,
    plannedId: planned?.[0] ?? null,
    onPlan: onPlan / size,
    tracked: tracked / size,
    byHand: hand,
    locked: theme.locked,
  }
}

/** How many own pages fight for a theme; 0 where at most one leads. */
function competingSites(standings: readonly OwnPage[]): number {
  const pairs = competingPages(standings)
  return new Set(pairs.flatMap(pair => [pair.keep, pair.give])).size
}
