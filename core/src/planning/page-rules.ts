export type RuleKeyword = {
  phrase: string
  family: string
  searches: number | null
  difficulty: number | null
  theme: string | null
  /** The own page that stands for it now, null = none is known to. */
  standing: string | null
}
export type RuleResult = {
  rule: 'oneTheme' | 'leadAndEasier' | 'onePageOnly' | 'rightPage'
  /** Null: it cannot be said. */
  met: boolean | null
  text: string
}

/** "a", "b" and 3 more. */
export function named(phrases: readonly string[], most = 2): string {
  const first = phrases.slice(0, most).map(phrase => `"${phrase}"`)
  const more = phrases.length - first.length
  if (more > 0) return `${first.join(', ')} and ${more} more`
  return first.length > 1 ? `${first.slice(0, -1).join(', ')} and ${first.at(-1)}` : (first[0] ?? '')
}

/**
 * Whether a planned page meets each planning rule, with a sentence; no rule is forced. Its keywords stand in its order, the lead
 * first. `elsewhere`: forms of keywords (by family) that stand on other planned pages, with the page's name; `isOwn`: whether an address
 * is the page's. Nothing is said of a page without keywords. O(keywords).
 */
export function pageRules(
  keywords: readonly RuleKeyword[],
  elsewhere: ReadonlyMap<string, string>,
  isOwn: (address: string) => boolean,
): RuleResult[] {
  const [lead, ...others] = keywords
  if (!lead) return []
  return [
    oneTheme(lead, others),
    leadAndEasier(lead, others),
    onePageOnly(keywords, elsewhere),
    rightPage(keywords, isOwn),
  ]
}

function oneTheme(lead: RuleKeyword, others: readonly RuleKeyword[]): RuleResult {
  const rule = 'oneTheme'
  if (lead.theme === null)
    return {
      rule,
      met: null,
      text: `"${lead.phrase}" is in no theme of the current grouping, so whether one page can answer all is not known`,
    }
  const strangers = others.filter(each => each.theme !== lead.theme).map(each => each.phrase)
  return strangers.length
    ? {
        rule,
        met: false,
        text: `${named(strangers)} ${strangers.length === 1 ? 'is' : 'are'} not in the theme "${lead.theme}" of the lead`,
      }
    : { rule, met: true, text: `All its keywords belong to the theme "${lead.theme}"` }
}

function leadAndEasier(lead: RuleKeyword, others: readonly RuleKeyword[]): RuleResult {
  const rule = 'leadAndEasier'
  const larger = others.filter(each => (each.searches ?? 0) > (lead.searches ?? 0)).map(each => each.phrase)
  if (larger.length)
    return {
      rule,
      met: false,
      text: `${named(larger)} ${larger.length === 1 ? 'is' : 'are'} searched more than the lead`,
    }
  if (lead.difficulty === null)
    return { rule, met: null, text: `"${lead.phrase}" is not weighed, so which keywords are easier is not known` }
  const easier = others.filter(each => each.difficulty !== null && each.difficulty < lead.difficulty!).length
  return easier >= 2
    ? { rule, met: true, text: `The lead is searched most, and ${easier} of the others are easier` }
    : {
        rule,
        met: false,
        text: `Only ${easier || 'none'} of the others ${easier === 1 ? 'is' : 'are'} easier than the lead: two or three easier ones bring visits sooner`,
      }
}

function onePageOnly(keywords: readonly RuleKeyword[], elsewhere: ReadonlyMap<string, string>): RuleResult {
  const rule = 'onePageOnly'
  const twice = keywords.filter(each => elsewhere.has(each.family))
  return twice.length
    ? {
        rule,
        met: false,
        text: `Forms of ${named(twice.map(each => each.phrase))} stand on "${elsewhere.get(twice[0]!.family)}" too`,
      }
    : { rule, met: true, text: 'None of its keywords, nor a form of one, stands on another planned page' }
}

function rightPage(keywords: readonly RuleKeyword[], isOwn: (address: string) => boolean): RuleResult {
  const rule = 'rightPage'
  const wrong = keywords.filter(each => each.standing !== null && !isOwn(each.standing))
  return wrong.length
    ? {
        rule,
        met: false,
        text: `For ${named(wrong.map(each => each.phrase))} another page of the site stands: ${wrong[0]!.standing}`,
      }
    : { rule, met: true, text: 'No other page of the site stands for its keywords' }
}
