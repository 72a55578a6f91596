/** Height of a row that is not unfolded, in pixels. */
export const rowHeight = 33

/** A row that is higher than the others by `extra` pixels. */
export type HigherRow = { index: number; extra: number }

/**
 * Where the rows of a long list stand, in pixels from its top: all are equally high but for the few that are unfolded. Takes no memory
 * for the others, and each question takes as long as there are unfolded rows.
 */
export class RowOffsets {
  readonly count: number
  readonly #rowHeight: number
  /** In order of `index`, one a row, all below `count`. */
  readonly #higher: readonly HigherRow[]

  constructor(count: number, rowHeight: number, higher: readonly HigherRow[] = []) {
    this.count = count
    this.#rowHeight = rowHeight
    this.#higher = higher.filter(({ index }) => index < count).sort((a, b) => a.index - b.index)
  }

  /** Height of the whole list. */
  get height(): number {
    return this.startOf(this.count)
  }

  /** Where a row begins; of the row after the last: where the list ends. */
  startOf(index: number): number {
    let start = index * this.#rowHeight
    for (const row of this.#higher) {
      if (row.index >= index) break
      start += row.extra
    }
    return start
  }

  /** The row that stands at a height: the first one above the list, the last one below it, 0 in an empty list. */
  rowAt(offset: number): number {
    let passed = 0
    for (const { index, extra } of this.#higher) {
      const end = (index + 1) * this.#rowHeight + passed + extra
      if (offset < end) return Math.max(0, Math.min(index, Math.floor((offset - passed) / this.#rowHeight)))
      passed += extra
    }
    return Math.max(0, Math.min(this.count - 1, Math.floor((offset - passed) / this.#rowHeight)))
  }

  /** How far to scroll, at least, so that a row is wholly in sight in a window of some height; the top of a row that does not fit. */
  scrollFor(index: number, top: number, height: number): number {
    const start = this.startOf(index)
    const end = this.startOf(index + 1)
    if (start < top || end - start > height) return start
    return Math.max(top, end - height)
  }
}
