export const siteKinds = [
  'school',
  'public',
  'news',
  'forum',
  'directory',
  'marketplace',
  'shop',
  'blog',
  'magazine',
  'parked',
  'other',
] as const
export type SiteKind = (typeof siteKinds)[number]
export type SiteKindGuess = { kind: SiteKind; reasons: string[] }

/** What is known of a site: its domain, the title and text of its home page, and addresses of its pages. */
export type SiteLook = { domain: string; title: string; text: string; paths: readonly string[] }

type Rule = {
  kind: SiteKind
  where: 'domain' | 'title' | 'text' | 'paths'
  pattern: RegExp
  weight: number
  says: string
}
// Words by which kinds of sites give themselves away, in English and German. Data, not code; weights add up.
const rules: Rule[] = [
  {
    kind: 'school',
    where: 'domain',
    pattern: /(school|college|university|academy|institute|schule|hochschule)|\.edu(\.|$)|\.ac\./,
    weight: 4,
    says: 'domain names a school',
  },
  {
    kind: 'school',
    where: 'title',
    pattern: /\b(school|college|university|academy|institute of|schule|hochschule)\b/i,
    weight: 3,
    says: 'title names a school',
  },
  {
    kind: 'public',
    where: 'domain',
    pattern: /(council|ministry|museum|library|heritage|office|gemeinde|behoerde|rathaus)|\.gov(\.|$)|\.mil(\.|$)/,
    weight: 4,
    says: 'domain names a public body',
  },
  {
    kind: 'public',
    where: 'title',
    pattern: /\b(council|ministry|museum|library|heritage|office|gemeinde|rathaus|amt)\b/i,
    weight: 3,
    says: 'title names a public body',
  },
  {
    kind: 'news',
    where: 'domain',
    pattern: /(daily|gazette|news|times|herald|tribune|courier|observer|zeitung|post\b|bote\b)/,
    weight: 3,
    says: 'domain names a newspaper',
  },
  {
    kind: 'news',
    where: 'title',
    pattern: /\b(daily|gazette|news|times|herald|tribune|courier|zeitung|tagblatt)\b/i,
    weight: 2,
    says: 'title names a newspaper',
  },
  { kind: 'forum', where: 'domain', pattern: /(forum|board|community|talk)/, weight: 3, says: 'domain names a forum' },
  {
    kind: 'forum',
    where: 'paths',
    pattern: /\/(thread|topic|forum|board|t)s?[/-]/,
    weight: 3,
    says: 'pages are threads',
  },
  {
    kind: 'directory',
    where: 'domain',
    pattern: /(directory|list|index|finder|suche|verzeichnis|links)/,
    weight: 3,
    says: 'domain names a directory',
  },
  {
    kind: 'directory',
    where: 'paths',
    pattern: /\/(directory|listings?|list|category|categories|verzeichnis|entry|entries)\//,
    weight: 2,
    says: 'pages are entries',
  },
  {
    kind: 'marketplace',
    where: 'domain',
    pattern: /(bazaar|basar|market(place)?|auction|mart\b|markt)/,
    weight: 3,
    says: 'domain names a marketplace',
  },
  {
    kind: 'shop',
    where: 'text',
    pattern: /\b(basket|add to cart|checkout|warenkorb)\b/i,
    weight: 1,
    says: 'it has a basket',
  },
  {
    kind: 'shop',
    where: 'paths',
    pattern: /\/(shop|product|products|item|items|store|artikel|sortiment|produkte?)\//,
    weight: 3,
    says: 'pages are products',
  },
  {
    kind: 'blog',
    where: 'domain',
    pattern: /(blog|diary|journal|notes|tagebuch)/,
    weight: 3,
    says: 'domain names a blog',
  },
  { kind: 'blog', where: 'paths', pattern: /\/(blog|posts?|\d{4}\/\d{2})\//, weight: 2, says: 'pages are posts' },
  {
    // Who writes and sells nothing has a blog, unless the name says more.
    kind: 'blog',
    where: 'paths',
    pattern:
      /\/(guides?|articles?|stories|story|tutorials?|how-to|recipes?|ratgeber|anleitung(en)?|beitraege?|beitrag)\//,
    weight: 2,
    says: 'pages are articles',
  },
  {
    kind: 'magazine',
    where: 'domain',
    pattern: /(magazine|weekly|monthly|quarterly|review|almanac|magazin|blatt)/,
    weight: 3,
    says: 'domain names a magazine',
  },
  {
    kind: 'magazine',
    where: 'title',
    pattern: /\b(magazine|weekly|monthly|quarterly|review|almanac|magazin)\b/i,
    weight: 2,
    says: 'title names a magazine',
  },
  {
    kind: 'parked',
    where: 'text',
    pattern:
      /\b((domain|address|name) (is|may be) for sale|buy this (domain|address)|parked (domain|page)|domain zu verkaufen)\b/i,
    weight: 5,
    says: 'it is for sale',
  },
]
/** Below this no kind is told. */
const least = 2

/** Guesses the kind of a site from words that give it away; the kind with the largest sum of weights, with its reasons. `other` when none speaks. */
export function siteKind(look: SiteLook): SiteKindGuess {
  const sums = new Map<SiteKind, { weight: number; reasons: string[] }>()
  for (const rule of rules) {
    let weight = 0
    if (rule.where === 'paths') {
      const share = look.paths.length
        ? look.paths.filter(path => rule.pattern.test(path)).length / look.paths.length
        : 0
      weight = share > 0.3 ? rule.weight : 0
    } else if (rule.pattern.test(rule.where === 'domain' ? look.domain.toLowerCase() : look[rule.where]))
      weight = rule.weight
    if (!weight) continue
    const sum = sums.get(rule.kind) ?? { weight: 0, reasons: [] }
    sum.weight += weight
    sum.reasons.push(rule.says)
    sums.set(rule.kind, sum)
  }
  const best = [...sums].sort((a, b) => b[1].weight - a[1].weight)[0]
  return best && best[1].weight >= least ? { kind: best[0], reasons: best[1].reasons } : { kind: 'other', reasons: [] }
}
