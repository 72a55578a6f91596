import type { KindGroup } from '@dew-trail/core/words/kind-groups'

const [labelWidth, leastColumn, lineHeight, laneGap, margin] = [132, 250, 22, 12, 16]
const mostColumns = 5
/** Lines of a lane that is not open. */
const linesAtFirst = 4

export type PlacedPhrase<T> = { phrase: T; x: number; y: number; bar: number; width: number }
/** `more`: how many phrases are not shown before it is open. */
export type Lane<T> = { group: KindGroup<T>; y: number; height: number; phrases: Array<PlacedPhrase<T>>; more: number }

/**
 * A lane for each group, one under the other: its word at the left, its phrases in columns beside it, row by row, the first few lines unless it is
 * open. `bar` is as long as the
 * square root of a phrase's weight, the longest as wide as a column; 0 where it is unknown. Lengths in pixels.
 */
export function layOutLanes<T extends { weight: number | null }>(
  groups: ReadonlyArray<KindGroup<T>>,
  width: number,
  open: ReadonlySet<string>,
): { lanes: Array<Lane<T>>; width: number; height: number } {
  const room = width - labelWidth - 2 * margin
  const columns = Math.max(1, Math.min(mostColumns, Math.floor(room / leastColumn)))
  const columnWidth = Math.max(leastColumn, Math.floor(room / columns))
  const highest = Math.max(1, ...groups.flatMap(group => group.phrases.map(each => each.weight ?? 0)))
  const lanes: Array<Lane<T>> = []
  let y = margin
  for (const group of groups) {
    const most = open.has(group.word) ? group.phrases.length : linesAtFirst * columns
    // A line for one more would say no less than itself.
    const shown = group.phrases.length <= most + 1 ? group.phrases : group.phrases.slice(0, most)
    const more = group.phrases.length - shown.length
    const height = Math.max(more ? 3 : 1, Math.ceil(shown.length / columns)) * lineHeight
    lanes.push({
      group,
      y,
      height,
      more,
      phrases: shown.map((phrase, i) => ({
        phrase,
        x: margin + labelWidth + (i % columns) * columnWidth,
        y: y + Math.floor(i / columns) * lineHeight,
        bar: Math.round((columnWidth - 14) * ((phrase.weight ?? 0) / highest) ** 0.5),
        width: columnWidth - 14,
      })),
    })
    y += height + laneGap
  }
  return { lanes, width: 2 * margin + labelWidth + columns * columnWidth, height: y + margin }
}
