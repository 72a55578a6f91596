import type { KindGroup } from '@dew-trail/core/words/kind-groups'

const [labelWidth, columnWidth, lineHeight, laneGap, margin] = [132, 262, 22, 12, 16]
const mostColumns = 5

export type PlacedPhrase<T> = { phrase: T; x: number; y: number; bar: number; width: number }
export type Lane<T> = { group: KindGroup<T>; y: number; height: number; phrases: Array<PlacedPhrase<T>> }

/**
 * A lane for each group, one under the other: its word at the left, its phrases in columns beside it, row by row. `bar` is as long as the
 * square root of a phrase's weight, the longest as wide as a column; 0 where it is unknown. Lengths in pixels.
 */
export function layOutLanes<T extends { weight: number | null }>(
  groups: ReadonlyArray<KindGroup<T>>,
  width: number,
): { lanes: Array<Lane<T>>; width: number; height: number } {
  const columns = Math.max(1, Math.min(mostColumns, Math.floor((width - labelWidth - 2 * margin) / columnWidth)))
  const most = Math.max(1, ...groups.flatMap(group => group.phrases.map(each => each.weight ?? 0)))
  const lanes: Array<Lane<T>> = []
  let y = margin
  for (const group of groups) {
    const height = Math.ceil(group.phrases.length / columns) * lineHeight
    lanes.push({
      group,
      y,
      height,
      phrases: group.phrases.map((phrase, i) => ({
        phrase,
        x: margin + labelWidth + (i % columns) * columnWidth,
        y: y + Math.floor(i / columns) * lineHeight,
        bar: Math.round((columnWidth - 14) * ((phrase.weight ?? 0) / most) ** 0.5),
        width: columnWidth - 14,
      })),
    })
    y += height + laneGap
  }
  return { lanes, width: 2 * margin + labelWidth + columns * columnWidth, height: y + margin }
}
