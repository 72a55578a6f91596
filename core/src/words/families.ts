export type FamilyMember = {
  id: number
  family: string
  searches: number | null
  months: ReadonlyArray<number | null> | null
}
export type Family = {
  key: string
  /** The member with the most measured searches; of several, the one that came first. */
  face: number
  members: number[]
  /** All members with figures have the same ones: the source gave one number for the whole family. */
  oneFigure: boolean
  /** Searches a month of the family, counted once where members share one figure; `null` where none is known. */
  searches: number | null
}

/**
 * Families of keywords: members share a family key (see `familyKey`). The face is chosen by measured demand. Where all
 * known monthly figures are identical, the figure is the family's and is counted once, else members add up. O(n).
 */
export function groupFamilies(rows: readonly FamilyMember[]): Map<string, Family> {
  const families = new Map<string, { rows: FamilyMember[] }>()
  for (const row of rows) {
    const known = families.get(row.family)
    if (known) known.rows.push(row)
    else families.set(row.family, { rows: [row] })
  }
  const out = new Map<string, Family>()
  for (const [key, { rows: members }] of families) {
    const known = members.filter(row => row.searches !== null)
    let face = members[0]!
    for (const row of members) if ((row.searches ?? -1) > (face.searches ?? -1)) face = row
    const oneFigure = known.length > 1 && known.every(row => sameFigures(row, known[0]!))
    out.set(key, {
      key,
      face: face.id,
      members: members.map(row => row.id),
      oneFigure,
      searches: !known.length
        ? null
        : oneFigure
          ? known[0]!.searches
          : known.reduce((sum, row) => sum + row.searches!, 0),
    })
  }
  return out
}

const sameFigures = (a: FamilyMember, b: FamilyMember): boolean =>
  a.searches === b.searches &&
  (a.months === null || b.months === null
    ? a.months === b.months
    : a.months.length === b.months.length && a.months.every((value, i) => value === b.months![i]))
