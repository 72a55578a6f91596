import { contentStems } from '../words/coverage.ts'

/**
 * A theme with what stands for it. `own`: the own page that brings most of it within 30; `planned`: the planned page with most of its
 * keywords.
 */
export type OpenTheme = {
  id: number
  name: string
  lead: string
  searches: number | null
  keywords: number
  own: {
    address: string
    title: string
    position: number
    visits: number | null
    keywords: number
    pageId: number | null
  } | null
  planned: { pageId: number; title: string; keywords: number } | null
}
export type ThemeAssignment = {
  id: number
  level: 'home' | 'section' | 'article'
  to: 'planned' | 'own' | 'new'
  pageId: number | null
  title: string
  address: string | null
  /** The theme under whose page a new one would stand; null = under the home page. */
  parent: number | null
  why: string
}
/** So many other themes must narrow a theme down for it to be a section, and for one to be what the whole site is about. */
const [leastUnderSection, leastUnderHome] = [2, 3]

/**
 * A page for each theme, with the reason. A page that stands within 30 for it is kept, then one on which its keywords are planned. Of the
 * rest the home page, where nothing of it is known to stand or planned (`home`), takes the theme whose words most demand goes on from;
 * themes that two or more others go on from are sections, the rest articles under the section whose words are the most of theirs. A theme
 * goes on from another when it has all content words of its lead and more. O(themes²).
 */
export function assignThemes(
  themes: readonly OpenTheme[],
  home: { address: string; title: string; pageId: number | null } | null,
  language: string,
): ThemeAssignment[] {
  const stems = themes.map(theme => contentStems(theme.lead, language))
  const under = themes.map((_, i) => themes.flatMap((__, j) => (goesOn(stems[j]!, stems[i]!) ? [j] : [])))
  const searchesOf = (i: number): number =>
    under[i]!.reduce((sum, j) => sum + (themes[j]!.searches ?? 0), themes[i]!.searches ?? 0)
  const isSection = themes.map((_, i) => under[i]!.length >= leastUnderSection)
  let broadest = -1
  if (home)
    for (let i = 0; i < themes.length; i++)
      if (
        !themes[i]!.own &&
        !themes[i]!.planned &&
        under[i]!.length >= leastUnderHome &&
        (broadest < 0 || searchesOf(i) > searchesOf(broadest))
      )
        broadest = i
  return themes.map((theme, i) => {
    const level = i === broadest ? 'home' : isSection[i] ? 'section' : 'article'
    const parent = parentOf(i, stems, isSection, broadest)
    const at = { id: theme.id, level, parent: parent < 0 ? null : themes[parent]!.id } as const
    if (theme.own) {
      const { pageId, title, address } = theme.own
      return {
        ...at,
        to: pageId === null ? 'own' : 'planned',
        pageId,
        title,
        address,
        why: standsWhy(theme, theme.own),
      }
    }
    if (theme.planned) {
      const { pageId, title, keywords } = theme.planned
      const why = `${keywords} of its ${theme.keywords} keywords ${keywords === 1 ? 'stands' : 'stand'} on it already`
      return { ...at, to: 'planned', pageId, title, address: null, why }
    }
    if (i === broadest) {
      const why = `The broadest demand without a page: ${under[i]!.length} other themes go on from its words, and the home page is not planned for any`
      const { pageId, title, address } = home!
      return { ...at, to: pageId === null ? 'own' : 'planned', pageId, title, address, why }
    }
    const title = theme.name.charAt(0).toUpperCase() + theme.name.slice(1)
    const why = isSection[i]
      ? `${under[i]!.length} other themes go on from its words, and no page of yours stands for it: a section of its own`
      : parent < 0
        ? 'No page of yours stands for it, none is planned, and no section has its words'
        : `No page of yours stands for it; it goes on from the words of "${themes[parent]!.name}"`
    return { ...at, to: 'new', pageId: null, title, address: null, why }
  })
}

/** Whether `stems` are all of `from` and more. */
const goesOn = (stems: readonly string[], from: readonly string[]): boolean =>
  from.length > 0 && stems.length > from.length && from.every(each => stems.includes(each))

/** The section with most of a theme's words; −1 = none. What the home page stands for is no section. */
function parentOf(i: number, stems: readonly string[][], isSection: readonly boolean[], broadest: number): number {
  let best = -1
  for (let j = 0; j < stems.length; j++)
    if (
      isSection[j] &&
      j !== broadest &&
      goesOn(stems[i]!, stems[j]!) &&
      (best < 0 || stems[j]!.length > stems[best]!.length)
    )
      best = j
  return best
}

function standsWhy({ keywords }: OpenTheme, own: NonNullable<OpenTheme['own']>): string {
  const brings = own.visits === null ? '' : `, about ${Math.round(own.visits).toLocaleString('en')} visits a month`
  return `It stands for ${own.keywords === 1 ? 'one' : own.keywords} of its ${keywords} keywords, at best at ${Math.round(own.position)}${brings}`
}
