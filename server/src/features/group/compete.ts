import type { CompetingRow } from '@dew-trail/contract/group'
import { competingPages } from '@dew-trail/core/themes/competing-pages'
import type { GroupFacts } from './facts.ts'
import type { OwnPage, OwnPages } from '../../domain/chances/own-pages.ts'
import type { ThemesOf } from './themes-of.ts'

/** Own pages that compete for kept themes, those with most at stake first. */
export function competingRows({ themes }: ThemesOf, facts: GroupFacts, own: OwnPages): CompetingRow[] {
  const byKeyword = new Map<number, OwnPage[]>()
  for (const each of own.all) {
    const list = byKeyword.get(each.keyword)
    if (list) list.push(each)
    else byKeyword.set(each.keyword, [each])
  }
  const rows: Array<Omit<CompetingRow, 'id'>> = []
  for (const theme of themes) {
    if (theme.id === null) continue
    const standings = theme.members.flatMap(at => byKeyword.get(at) ?? [])
    const position = (page: string): number =>
      Math.min(...standings.filter(each => each.page === page).map(each => each.position))
    const seenAs = (...pages: string[]): CompetingRow['seen'] => {
      const seen = new Set(standings.filter(each => pages.includes(each.page)).map(each => each.seen))
      return seen.has('both') || seen.size > 1 ? 'both' : [...seen][0]!
    }
    const phrases = (positions: readonly number[]): string[] => positions.map(at => facts.keywords[at]!.phrase)
    for (const pair of competingPages(standings))
      rows.push({
        ...pair,
        themeId: theme.id,
        theme: theme.name ?? facts.keywords[theme.lead]!.phrase,
        keepLeads: phrases(pair.keepLeads),
        giveLeads: phrases(pair.giveLeads),
        keepPosition: position(pair.keep),
        givePosition: position(pair.give),
        seen: seenAs(pair.keep, pair.give),
      })
  }
  rows.sort((a, b) => (b.giveVisits ?? 0) - (a.giveVisits ?? 0) || (a.theme < b.theme ? -1 : 1))
  return rows.map((row, i) => ({ id: i + 1, ...row }))
}
