import type { AnchorClass } from './anchor-class.ts'

/** An anchor of links to a target: by how many sites it is used, how many of these are of suspected networks, and of how many sites in all. */
export type AnchorUse = {
  kind: AnchorClass
  /** It has the site's name in it, perhaps beside other words. */
  named: boolean
  sites: number
  networkSites: number
  ofSites: number
  /** Its language, and how many of its links stand on pages in which other one, of how many whose language is known; null = not told. */
  foreign: { language: string; pages: string; links: number; of: number } | null
}

const leastSites = 5
const leastForeign = 3
const percent = (part: number, all: number): string => `${Math.round((100 * part) / all)} %`
/**
 * What is unusual about an anchor, in words; null where nothing is. Who links of his own accord names a page by its site or in his own words:
 * the exact keyword on many sites, one text used mostly by sites of suspected networks, or words in another language than their pages, were likely asked
 * for.
 */
export function oddAnchor({ kind, named, sites, networkSites, ofSites, foreign }: AnchorUse): string | null {
  if (networkSites >= 3 && networkSites >= 0.5 * sites)
    return `${networkSites} of its ${sites} sites are of suspected networks`
  if (
    !named &&
    (kind === 'exact' || kind === 'partial' || kind === 'other') &&
    sites >= leastSites &&
    sites >= 0.1 * ofSites
  )
    return `${percent(sites, ofSites)} of the linking sites use these same words, which are not the site's name`
  if (foreign && !named && foreign.links >= leastForeign && foreign.links >= 0.5 * foreign.of)
    return `in ${languageName(foreign.language)} on ${foreign.links} pages in ${languageName(foreign.pages)}`
  return null
}

const names = new Intl.DisplayNames('en', { type: 'language' })
/** English name of a language by its ISO 639-1 code. */
export const languageName = (code: string): string => names.of(code) ?? code
