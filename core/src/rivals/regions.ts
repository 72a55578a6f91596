/** Keywords that the same sites stand for: bit `i` of `mask` is set where the i-th site is among them. */
export type Region = { mask: number; keywords: number; searches: number; unknown: number }

/** Sites at once: 2^10 − 1 regions are still looked through by eye when they are ordered. */
export const mostSites = 10

/** Questions about regions of an own site (bit 0) and its rivals; each is the masks of the regions that answer it. */
export const questionKinds = ['allRivals', 'twoRivals', 'oneRival', 'ownAlone', 'shared'] as const
export type QuestionKind = (typeof questionKinds)[number]

const countBits = (mask: number): number => {
  let count = 0
  for (let rest = mask; rest; rest &= rest - 1) count++
  return count
}

/**
 * Masks of `sites` sites, the own one being bit 0, that answer a question: all rivals but not the own site; at least two rivals but not
 * it; one rival alone; the own site alone; the own site and any rival. O(2^sites).
 */
export function masksOf(question: QuestionKind, sites: number): number[] {
  const all = Array.from({ length: 2 ** sites - 1 }, (_, i) => i + 1)
  const rivals = (mask: number): number => countBits(mask & ~1)
  const own = (mask: number): boolean => (mask & 1) === 1
  switch (question) {
    case 'allRivals':
      return all.filter(mask => !own(mask) && rivals(mask) === sites - 1)
    case 'twoRivals':
      return all.filter(mask => !own(mask) && rivals(mask) >= 2)
    case 'oneRival':
      return all.filter(mask => !own(mask) && rivals(mask) === 1)
    case 'ownAlone':
      return [1]
    case 'shared':
      return all.filter(mask => own(mask) && rivals(mask) >= 1)
  }
}
