/** What is known of the links of one site to another: on how many of its pages they stand, and how. */
export type LinksOfSite = {
  /** Linking pages, and pages known of the linking site. */
  pages: number
  knownPages: number
  /** Linking pages on which the most frequent link (one target and anchor) stands. */
  samePages: number
  links: number
  /** Links in navigation, sidebar or footer, of those whose region is known. */
  framed: number
  placed: number
}

const leastPages = 5
/**
 * Whether a link is site-wide: one and the same link on at least five pages that are either most of what is known of the site, or where it
 * stands in what frames the pages (navigation, sidebar, footer).
 */
export function isSiteWide({ pages, knownPages, samePages, framed, placed }: LinksOfSite): boolean {
  if (samePages < leastPages || samePages < 0.6 * pages) return false
  return samePages >= 0.5 * knownPages || (placed > 0 && framed >= 0.7 * placed)
}
