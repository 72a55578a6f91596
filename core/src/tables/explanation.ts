/**
 * Why a figure is what it is: what it means, the formula, the inputs of this row, source and date. The one shape in which
 * computations hand their reasons on; the screen shows it as it is. `value` null is an input that is not known.
 */
export type Explanation = {
  /** The figure in words, such as "Searches a month". */
  figure: string
  /** Value as shown; `null` unknown. */
  value: string | null
  /** How it comes about, in words and symbols. */
  formula: string
  inputs: ReadonlyArray<{ name: string; value: string | number | null }>
  source: string
  /** ISO day of the inputs; `null` where there is none. */
  date: string | null
  /** What to know besides, such as how sure it is or how to get it when it is unknown. */
  note?: string
}
