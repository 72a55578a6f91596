import type { GroupedKeyword } from '@dew-trail/contract/group'
import { sharedPages } from '@dew-trail/core/themes/keyword-pages'
import { nearestThemes } from '@dew-trail/core/themes/nearest-themes'
import { type GroupFacts, ofTen } from './facts.ts'
import type { Standings } from './look-at.ts'
import { type ThemesOf, themeNumbers } from './themes-of.ts'

/** Keywords of a grouping with their themes, in the order in which they lead. */
export function keywordRows(of: ThemesOf, facts: GroupFacts, { own, stateOf }: Standings): GroupedKeyword[] {
  const { themes, byHand } = of
  const { keywords, packed } = facts
  const numbers = themeNumbers(of, keywords.length)
  const nearest = nearestThemes(
    packed,
    numbers,
    themes.map(each => each.lead),
  )
  const nameOf = (theme: number): string => themes[theme]!.name ?? keywords[themes[theme]!.lead]!.phrase
  const idOf = (theme: number): number => themes[theme]!.id ?? -keywords[themes[theme]!.lead]!.id
  const families = new Map<string, number>()
  const familyOf = (family: string): number => {
    let number = families.get(family)
    if (number === undefined) families.set(family, (number = families.size))
    return number
  }
  return keywords.map((keyword, at) => {
    const theme = numbers[at]!
    const lead = theme < 0 ? -1 : themes[theme]!.lead
    const near = nearest.theme[at]!
    const best = own.bestOf.get(at)
    const state = stateOf(keyword.id)
    return {
      id: keyword.id,
      phrase: keyword.phrase,
      themeId: theme < 0 ? null : idOf(theme),
      theme: theme < 0 ? null : nameOf(theme),
      lead: lead < 0 ? null : keywords[lead]!.phrase,
      isLead: lead === at,
      shared:
        theme < 0 || keyword.day === null || keywords[lead]!.day === null
          ? null
          : ofTen(sharedPages(packed, at, lead), facts),
      searches: keyword.searches,
      family: familyOf(keyword.family),
      own: best?.position ?? null,
      ownPage: best?.page ?? null,
      nearestId: near < 0 ? null : idOf(near),
      nearest: near < 0 ? null : nameOf(near),
      nearestShared: ofTen(nearest.shared[at]!, facts),
      hasResults: keyword.day !== null,
      byHand: byHand[at] === 1,
      planned: state.planned,
      kept: state.kept,
      tracked: state.tracked,
    }
  })
}
