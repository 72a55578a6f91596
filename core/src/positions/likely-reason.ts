/**
 * What could have moved a keyword, with what speaks for it. `around`: places the keyword gained (above 0) or lost around its day, null
 * where that is not known.
 */
export type Evidence =
  /** The engine changed how it ranks; `extent`: share of the market's keywords that moved beyond their usual around that day, 0–1. */
  | { kind: 'shift'; day: string; around: number | null; extent: number }
  /** A note tells of it; `touched`, `others`: mean places gained by the keywords it touched and by all others. */
  | { kind: 'ownChange'; day: string; around: number | null; text: string; touched: number; others: number }
  /** Another own page stands for it. */
  | { kind: 'swap'; day: string; around: number | null; from: string; to: string }
  /** Two own pages took turns. */
  | { kind: 'competing'; pages: readonly [string, string] }
  /** Pages of others that were not among the results before and stand above now (`came`), or stood above and are gone. */
  | { kind: 'rivalPage'; pages: ReadonlyArray<{ domain: string; url: string; position: number }>; came: boolean }
  /** Something else on the result page came or went. */
  | { kind: 'feature'; day: string; around: number | null; names: readonly string[]; came: boolean }
  /** Linking sites that the page, or the site, gained and lost. */
  | { kind: 'links'; gained: number; lost: number; ofPage: boolean }
export type ReasonKind = Evidence['kind'] | 'unknown'
export type Reason = { kind: ReasonKind; share: number; evidence: Evidence | null }

/** What stands for "none of these", against which the weights of the others are measured. */
const unknownWeight = 0.5

/**
 * What likely moved a keyword that gained (above 0) or lost so many places: each piece of evidence is weighed by how much of the movement
 * fits its time and extent (0 to about 1), "unknown" by a fixed weight. Likeliest first; the shares sum to 1.
 */
export function likelyReasons(gained: number, evidence: readonly Evidence[]): Reason[] {
  const weighed: Array<{ kind: ReasonKind; weight: number; evidence: Evidence | null }> = evidence
    .map(each => ({ kind: each.kind, weight: weightOf(gained, each), evidence: each }))
    .filter(each => each.weight > 0)
  weighed.push({ kind: 'unknown', weight: unknownWeight, evidence: null })
  const all = weighed.reduce((sum, each) => sum + each.weight, 0)
  return weighed.map(({ weight, ...reason }) => ({ ...reason, share: weight / all })).sort((a, b) => b.share - a.share)
}

function weightOf(gained: number, evidence: Evidence): number {
  switch (evidence.kind) {
    case 'shift':
      return explained(gained, evidence.around) * (0.5 + Math.min(0.7, 2 * evidence.extent))
    case 'ownChange': {
      const effect = evidence.touched - evidence.others
      return explained(gained, effect) * (0.5 + 0.5 * explained(gained, evidence.around))
    }
    case 'swap':
      return 0.9 * explained(gained, evidence.around)
    case 'competing':
      return 0.3
    case 'rivalPage':
      return evidence.came === gained > 0 ? 0 : Math.min(1.2, (1.2 * evidence.pages.length) / Math.abs(gained))
    case 'feature':
      return 0.45 * explained(gained, evidence.around)
    case 'links': {
      const net = evidence.gained - evidence.lost
      if (net === 0 || Math.sign(net) !== Math.sign(gained)) return 0
      return (evidence.ofPage ? 0.6 : 0.3) * Math.min(1, Math.abs(net) / 3)
    }
  }
}

/** What part of a movement another one explains, 0–1: none where it goes the other way. */
const explained = (gained: number, around: number | null): number =>
  around === null || Math.sign(around) !== Math.sign(gained) ? 0 : Math.min(1, around / gained)
