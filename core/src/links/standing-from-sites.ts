/** What a source of links said of a site: its linking sites, and the day on which it was asked, `null` = never or without an answer. */
export type LinksKnown = { linkingSites: number | null; linksAskedOn: string | null }

/**
 * Level of a site (0–100) by its linking sites; 0 where the source was asked and knows no link to it, `null` where none was asked or none
 * answered.
 */
export const siteLevel = (known: LinksKnown | undefined, referenceSites: number): number | null =>
  standingFromSites(known?.linkingSites ?? (known?.linksAskedOn ? 0 : null), referenceSites)

/**
 * First estimate of a site's standing (0–100) from how many sites link to it: 100·ln(1+n)/ln(1+reference), capped at 100.
 * `referenceSites` is the number of linking sites that counts as 100; it stays fixed so that dates compare. `null` when n is
 * unknown. It stands in until standing is computed over our own link graph. Example: 9 of 99 → 50.
 */
export function standingFromSites(linkingSites: number | null, referenceSites: number): number | null {
  if (!(referenceSites >= 1)) throw new RangeError(`referenceSites must be 1 or more, not ${referenceSites}`)
  if (linkingSites === null) return null
  return Math.min(100, (100 * Math.log1p(linkingSites)) / Math.log1p(referenceSites))
}
