import type { Region } from './page-region.ts'

/** Kinds of links by their code. */
export const linkKinds = ['text', 'image', 'redirect', 'frame'] as const
export type LinkKind = (typeof linkKinds)[number]
/** Regions of a page by their code. */
export const linkRegions: readonly Region[] = ['navigation', 'content', 'list', 'sidebar', 'comment', 'footer']
/** Bits of what a link's rel says to engines. */
export const relBits = { nofollow: 1, sponsored: 2, ugc: 4 } as const
/** Bits of where a link is known from; the others are of link feeds, in the order in which they were first met. */
export const seenByBits = { crawl: 1, file: 8 } as const
/** Bits that link feeds take: as many as a small integer has left. */
export const feedBits = [2, 4, 16, 32, 64, 128, 256, 512, 1024, 2048, 4096, 8192, 16384] as const

/**
 * The code of rel tokens; tokens that say nothing to engines are left out. Beside "sponsored" or "ugc" a "nofollow" says nothing more, and
 * sources differ in naming it, so it is left out there: else one link would count as two.
 */
export function relCode(tokens: readonly string[]): number {
  let code = 0
  for (const token of tokens) code |= relBits[token as keyof typeof relBits] ?? 0
  return code > relBits.nofollow ? code & ~relBits.nofollow : code
}
/** The tokens of a code. 0 is an ordinary link that engines follow. */
export const relTokens = (code: number): string[] =>
  Object.entries(relBits)
    .filter(([, bit]) => code & bit)
    .map(([token]) => token)
/** Whether engines count the link: none of the three tokens takes it back. */
export const isFollowed = (code: number): boolean => code === 0
/** How many sources a code of `seen_by` names. */
export function bitsIn(code: number): number {
  let count = 0
  for (let rest = code; rest; rest &= rest - 1) count++
  return count
}
