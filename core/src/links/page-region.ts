export type Region = 'navigation' | 'content' | 'list' | 'sidebar' | 'comment' | 'footer'

const byElement: Record<string, Region> = {
  nav: 'navigation',
  header: 'navigation',
  footer: 'footer',
  aside: 'sidebar',
}
const byRole: Record<string, Region> = {
  navigation: 'navigation',
  banner: 'navigation',
  contentinfo: 'footer',
  complementary: 'sidebar',
  main: 'content',
  article: 'content',
}
// Names that authors of pages commonly give to the parts of a page, as whole words of class and id.
const byName: Array<[RegExp, Region]> = [
  [/(^|[\s_-])(comments?|replies|respond|thread)([\s_-]|$)/, 'comment'],
  [/(^|[\s_-])(nav|navbar|navigation|menu|breadcrumbs?|crumbs|topbar)([\s_-]|$)/, 'navigation'],
  [/(^|[\s_-])(footer|foot|colophon|site-info)([\s_-]|$)/, 'footer'],
  [/(^|[\s_-])(sidebar|side|aside|widgets?|blogroll)([\s_-]|$)/, 'sidebar'],
  [/(^|[\s_-])(main|content|article)([\s_-]|$)/, 'content'],
]

/**
 * The region an element opens by its name, role, class and id, or `null` if it opens none. A header within an article or main part
 * belongs to it.
 */
export function regionOf(name: string, attributes: Record<string, string>, within: Region | null): Region | null {
  const role = attributes.role && byRole[attributes.role]
  if (role) return role
  if (name === 'main' || name === 'article') return 'content'
  if (name === 'header' && within === 'content') return null
  if (name in byElement) return byElement[name]!
  if (name !== 'div' && name !== 'section' && name !== 'ul' && name !== 'ol' && name !== 'table' && name !== 'td')
    return null
  if (!attributes.class && !attributes.id) return null
  return namedRegion(`${attributes.id ?? ''} ${attributes.class ?? ''}`)
}

/** Answers for names met before: a site uses the same few on all its pages. */
const known = new Map<string, Region | null>()
const mostKnown = 5_000
function namedRegion(names: string): Region | null {
  let region = known.get(names)
  if (region === undefined) {
    const lower = names.toLowerCase()
    region = byName.find(([pattern]) => pattern.test(lower))?.[1] ?? null
    if (known.size > mostKnown) known.clear()
    known.set(names, region)
  }
  return region
}
