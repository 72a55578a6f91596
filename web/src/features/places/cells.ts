import { rankClassOf, type RankClass, rankText } from '@dew-trail/core/places/hexagons'
import type { PointRank } from '@dew-trail/core/places/rank-figures'
import type { Cell } from './TownView.tsx'

/** What the classes of positions mean, in words. */
export const legendOf = (depth: number): Array<{ of: RankClass; text: string; sample: string }> => [
  { of: 'first', text: 'first', sample: '1' },
  { of: 'front', text: '2 and 3', sample: '3' },
  { of: 'page', text: '4 to 10', sample: '7' },
  { of: 'deep', text: `11 to ${depth}`, sample: String(depth - 4) },
  { of: 'missing', text: `not within ${depth}`, sample: `${depth}+` },
  { of: 'unchecked', text: 'not checked', sample: '–' },
  { of: 'leftOut', text: 'left out', sample: '' },
]

export function rankCells(ranks: readonly PointRank[], depth: number, leftOut: readonly number[]): Cell[] {
  const out = new Set(leftOut)
  return ranks.map((rank, at) => ({
    text: rankText(rank, depth, out.has(at)),
    of: rankClassOf(rank, out.has(at)),
    says: out.has(at)
      ? 'left out'
      : rank === null
        ? 'not checked'
        : rank === 0
          ? `not among the first ${depth}`
          : `position ${rank}`,
  }))
}

/** Changes between two runs: the sign is in the text, so that colour says nothing alone. */
export const changeCells = (changes: readonly (number | null)[]): Cell[] =>
  changes.map(change =>
    change === null
      ? { text: '–', of: 'unchecked', says: 'not checked in both runs' }
      : change === 0
        ? { text: '0', of: 'same', says: 'as before' }
        : change > 0
          ? { text: `+${change}`, of: 'better', says: `up ${change}` }
          : { text: `−${-change}`, of: 'worse', says: `down ${-change}` },
  )
