import type { Grouping, GroupMethod } from '@dew-trail/contract/group'
import { groupThemes, type Themes } from '@dew-trail/core/themes/group-themes'
import type { KeywordPages } from '@dew-trail/core/themes/keyword-pages'
import { pagesNeeded } from '@dew-trail/core/themes/preview-themes'
import { freeKeywords, type KeptPosition, type KeptTheme, regroup } from '@dew-trail/core/themes/regroup'
import { groupByWords } from '@dew-trail/core/themes/theme-words'
import type { Db } from '../../platform/db/pool.ts'
import type { GroupFacts } from './facts.ts'
import { type Membership, manyMemberships, manyThemes, type ThemeRecord } from './theme-queries.ts'

/** A theme with the places of its keywords in the facts, in rising order. `id` null: it would be new. */
export type ThemeOf = {
  id: number | null
  lead: number
  members: number[]
  name: string | null
  locked: boolean
  leadByHand: boolean
}
/** The themes of a grouping; `byHand` of each keyword, by its place. */
export type ThemesOf = { themes: ThemeOf[]; byHand: Uint8Array; kept: boolean }

/** What is looked at: themes as they are kept, or as a choice would make them. */
export type Choice = { threshold: number; method: GroupMethod; basis?: 'results' | 'words' }

/** Themes of a grouping as they are kept. */
export async function keptThemes(db: Db, siteId: number, grouping: Grouping, facts: GroupFacts): Promise<ThemesOf> {
  const { records, members } = await readKept(db, siteId, grouping.id)
  const byId = new Map(records.map(record => [record.id, { ...record, members: [] as number[] }]))
  const byHand = new Uint8Array(facts.keywords.length)
  for (const each of members) {
    const at = facts.positionOf.get(each.keywordId)
    if (at === undefined) continue
    if (each.byHand) byHand[at] = 1
    if (each.themeId !== null) byId.get(each.themeId)?.members.push(at)
  }
  const themes = [...byId.values()]
    .filter(each => each.members.length > 0)
    .map(({ leadId, ...each }) => {
      const sorted = each.members.sort((a, b) => a - b)
      const lead = facts.positionOf.get(leadId) ?? sorted[0]!
      return { ...each, members: sorted, lead }
    })
    .sort((a, b) => a.lead - b.lead)
  return { themes, byHand, kept: true }
}
export async function readKept(
  db: Db,
  siteId: number,
  groupingId: number,
): Promise<{ records: ThemeRecord[]; members: Membership[] }> {
  const records = await manyThemes(db, siteId, groupingId)
  return { records, members: await manyMemberships(db, siteId, groupingId) }
}

/** Themes as a choice would make them: what was done by hand stays, and themes that come again keep their ids and names. */
export function chosenThemes(
  facts: GroupFacts,
  { records, members }: { records: readonly ThemeRecord[]; members: readonly Membership[] },
  choice: Choice,
  language: string,
): ThemesOf {
  const positions: KeptPosition[] = facts.keywords.map(() => ({ theme: null, byHand: false }))
  for (const { keywordId, themeId, byHand } of members) {
    const at = facts.positionOf.get(keywordId)
    if (at !== undefined) positions[at] = { theme: themeId, byHand }
  }
  const themes: KeptTheme[] = records.map(({ id, leadId, locked, leadByHand }) => ({
    id,
    lead: facts.positionOf.get(leadId) ?? -1,
    locked,
    leadByHand,
  }))
  const free = freeKeywords(positions, themes)
  const found = groupFree(facts, free, choice, language)
  const byId = new Map(records.map(record => [record.id, record]))
  return {
    themes: regroup(positions, themes, free, found).map(each => {
      const old = each.id === null ? undefined : byId.get(each.id)
      return {
        ...each,
        name: old?.name ?? null,
        locked: old?.locked ?? false,
        leadByHand: (old?.leadByHand ?? false) && facts.keywords[each.lead]!.id === old?.leadId,
      }
    }),
    byHand: Uint8Array.from(positions, each => Number(each.byHand)),
    kept: false,
  }
}

function groupFree(facts: GroupFacts, free: readonly number[], choice: Choice, language: string): Themes {
  if (choice.basis === 'words')
    return groupByWords(
      free.map(i => facts.keywords[i]!.phrase),
      language,
    )
  return groupThemes(free.length === facts.keywords.length ? facts.packed : part(facts.packed, free), {
    method: choice.method,
    threshold: pagesNeeded(choice.threshold, facts.compared),
  })
}

/** The results of some keywords alone. */
function part({ starts, pages, pageCount }: KeywordPages, positions: readonly number[]): KeywordPages {
  const partStarts = new Int32Array(positions.length + 1)
  for (const [at, i] of positions.entries()) partStarts[at + 1] = partStarts[at]! + starts[i + 1]! - starts[i]!
  const partPages = new Int32Array(partStarts[positions.length]!)
  for (const [at, i] of positions.entries()) partPages.set(pages.subarray(starts[i]!, starts[i + 1]!), partStarts[at]!)
  return { starts: partStarts, pages: partPages, pageCount }
}

/** The number of each keyword's theme in the list, −1 = alone. */
export function themeNumbers({ themes }: ThemesOf, keywords: number): Int32Array {
  const numbers = new Int32Array(keywords).fill(-1)
  for (const [number, { members }] of themes.entries()) for (const member of members) numbers[member] = number
  return numbers
}
