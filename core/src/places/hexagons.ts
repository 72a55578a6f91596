/** A hexagon round a point of a grid, in units of the grid's spacing from its north-west point, as an SVG path's corners. */
export type Hexagon = { at: number; x: number; y: number; corners: string }

/** The radius of a hexagon in units of spacing: neighbours touch but do not cover each other. */
const radius = 0.54

/** Hexagons of a grid, row by row: pure, so that screen, print, picture and report draw the same. */
export function hexagons(size: number): Hexagon[] {
  return Array.from({ length: size * size }, (_, at) => {
    const [x, y] = [at % size, Math.floor(at / size)]
    const corners = Array.from({ length: 6 }, (_, i) => {
      const turn = (i / 6) * 2 * Math.PI + Math.PI / 6
      return `${(x + radius * Math.cos(turn)).toFixed(3)},${(y + radius * Math.sin(turn)).toFixed(3)}`
    })
    return { at, x, y, corners: corners.join(' ') }
  })
}

export const rankClasses = ['first', 'front', 'page', 'deep', 'missing', 'unchecked', 'leftOut'] as const
/** Class of a position in the teal scale: 1, up to 3, up to 10, deeper, not found; not checked and left out are none of these. */
export type RankClass = (typeof rankClasses)[number]
export const rankClassOf = (rank: number | null, leftOut = false): RankClass =>
  leftOut
    ? 'leftOut'
    : rank === null
      ? 'unchecked'
      : rank === 0
        ? 'missing'
        : rank === 1
          ? 'first'
          : rank <= 3
            ? 'front'
            : rank <= 10
              ? 'page'
              : 'deep'
/** What stands in a hexagon: the position, "20+" where it is not found within 20, a dash where it was not checked. */
export const rankText = (rank: number | null, depth: number, leftOut = false): string =>
  leftOut ? '' : rank === null ? '–' : rank === 0 ? `${depth}+` : String(rank)
