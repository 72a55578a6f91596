/** What a result page holds besides results, in the order of their bits. */
export const pageFeatures = ['ads', 'answer', 'questions', 'images', 'shopping', 'map'] as const
export type PageFeature = (typeof pageFeatures)[number]
export const pageFeatureNames: Record<PageFeature, string> = {
  ads: 'ads',
  answer: 'answer box',
  questions: 'questions',
  images: 'images',
  shopping: 'shopping',
  map: 'map pack',
}

/** Features as one number, a bit each. */
export const featureBits = (features: Iterable<PageFeature>): number =>
  [...features].reduce((bits, feature) => bits | (1 << pageFeatures.indexOf(feature)), 0)
/** The features of such a number. */
export const featuresOf = (bits: number): PageFeature[] => pageFeatures.filter((_, i) => bits & (1 << i))

/**
 * Which features a page shows, and in which of them a site stands. `reply`: what an engine told of each; `isOwn` says of an address whether
 * it is of the site.
 */
export function seenFeatures(
  reply: Readonly<Record<PageFeature, unknown>>,
  isOwn: (url: string) => boolean,
): { shown: number; held: number } {
  const shown = pageFeatures.filter(feature => {
    const value = reply[feature]
    return Array.isArray(value) ? value.length > 0 : value !== null && value !== undefined
  })
  return {
    shown: featureBits(shown),
    held: featureBits(shown.filter(feature => addressesIn(reply[feature]).some(isOwn))),
  }
}

/** Every address that stands somewhere in a value, three levels down at most. */
function addressesIn(value: unknown, depth = 3): string[] {
  if (typeof value === 'string') return /^https?:\/\//i.test(value) ? [value] : []
  if (depth === 0 || value === null || typeof value !== 'object') return []
  return Object.values(value).flatMap(each => addressesIn(each, depth - 1))
}
