/** A theme of one side with the themes of the other in which its keywords stand, the largest part first. */
export type Parts = { theme: number; parts: Array<{ theme: number; keywords: number }> }
export type Comparison = {
  /** Themes that have the same keywords on both sides. */
  same: number
  /** Themes of the first side whose keywords stand in several themes of the second, largest first. */
  split: Parts[]
  /** Themes of the second side that hold keywords of several themes of the first. */
  merged: Parts[]
  /** Keywords that stand otherwise: not in the theme of the second side that most of their theme went to. By place, in rising order. */
  moved: number[]
}

/** Two groupings of the same keywords side by side; −1 = alone. O(n log n). */
export function compareThemes(a: Int32Array, b: Int32Array): Comparison {
  const there = partsOf(a, b)
  const here = partsOf(b, a)
  const mainOf = new Map(there.map(({ theme, parts }) => [theme, parts[0]?.theme ?? -1]))
  const sizeOfB = sizes(b)
  const sizeOfA = sizes(a)
  const same = there.filter(
    ({ theme, parts }) =>
      parts.length === 1 &&
      parts[0]!.keywords === sizeOfA.get(theme) &&
      parts[0]!.keywords === sizeOfB.get(parts[0]!.theme),
  ).length
  const moved: number[] = []
  for (let i = 0; i < a.length; i++) {
    const expected = a[i]! < 0 ? -1 : mainOf.get(a[i]!)!
    if (b[i] !== expected) moved.push(i)
  }
  const several = (list: Parts[]): Parts[] => list.filter(each => each.parts.length > 1)
  return { same, split: several(there), merged: several(here), moved }
}

function sizes(of: Int32Array): Map<number, number> {
  const counts = new Map<number, number>()
  for (const theme of of) if (theme >= 0) counts.set(theme, (counts.get(theme) ?? 0) + 1)
  return counts
}
function partsOf(from: Int32Array, to: Int32Array): Parts[] {
  const counts = new Map<number, Map<number, number>>()
  for (let i = 0; i < from.length; i++) {
    if (from[i]! < 0) continue
    let parts = counts.get(from[i]!)
    if (!parts) counts.set(from[i]!, (parts = new Map()))
    if (to[i]! >= 0) parts.set(to[i]!, (parts.get(to[i]!) ?? 0) + 1)
  }
  const total = ({ parts }: Parts): number => parts.reduce((sum, each) => sum + each.keywords, 0)
  return [...counts]
    .map(([theme, parts]) => ({
      theme,
      parts: [...parts]
        .map(([other, keywords]) => ({ theme: other, keywords }))
        .sort((x, y) => y.keywords - x.keywords || x.theme - y.theme),
    }))
    .sort((x, y) => total(y) - total(x) || x.theme - y.theme)
}
