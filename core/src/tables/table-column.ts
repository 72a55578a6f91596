/** A column of a table: what it is called and means, wherever it is shown or written to a file. */
export type TableColumn = {
  key: string
  label: string
  kind: 'text' | 'number' | 'code' | 'flag' | 'series'
  /** What a number counts or measures, and its range where it has one; 'day' of a code that is a day (YYYY-MM-DD). */
  unit?: string
  /** One sentence on what the figure is. */
  explain: string
  /** What a file has in its place where its cells show more than its own value, such as both ends of a range. */
  exports?: ReadonlyArray<{ key: string; label: string }>
}
