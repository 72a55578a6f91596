/**
 * What part of a sum each keyword is: 1, or where n forms of one keyword (equal `family`) have the same searches, 1/n each, since the ads
 * data has one figure for them together. Unknown and zero searches are nobody's. Parts are in the order of the rows. O(rows).
 */
export function figureParts(rows: ReadonlyArray<{ family: string | number; searches: number | null }>): number[] {
  // Most pages stand for one keyword.
  if (rows.length < 2) return rows.map(() => 1)
  const keyOf = (row: { family: string | number; searches: number | null }): string => `${row.searches} ${row.family}`
  const forms = new Map<string, number>()
  for (const row of rows) if (row.searches) forms.set(keyOf(row), (forms.get(keyOf(row)) ?? 0) + 1)
  return rows.map(row => (row.searches ? 1 / forms.get(keyOf(row))! : 1))
}
