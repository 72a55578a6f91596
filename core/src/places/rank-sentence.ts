import { directions, type Direction, type RankFigures } from './rank-figures.ts'

/** Rounded as one says it: to 50 metres below a kilometre, to 100 above. */
export const metresText = (metres: number): string =>
  metres < 1_000
    ? `${Math.max(50, Math.round(metres / 50) * 50)} m`
    : `${(Math.round(metres / 100) / 10).toFixed(1)} km`

/** One sentence that reads a picture of positions over a town. `ahead`: who leads where the business is weakest, by direction. */
export function rankSentence(
  figures: RankFigures,
  ahead: (direction: Direction) => string | null,
  spacing: number,
): string {
  const { checked, found, first3, firstThreeRadius, sectors } = figures
  if (!checked) return 'Nothing was checked.'
  if (!found) return 'It is found at no point.'
  const near =
    first3 === checked
      ? 'Among the first three at every point'
      : !first3
        ? 'Nowhere among the first three'
        : firstThreeRadius! >= spacing - 1
          ? `Among the first three within ${metresText(firstThreeRadius!)}`
          : `Among the first three at ${first3} of ${checked} points`
  const weakest = [...sectors]
    .filter(each => each.checked > 0)
    .sort((a, b) => b.mean! - a.mean! || directions.indexOf(a.direction) - directions.indexOf(b.direction))[0]
  const strongest = Math.min(...sectors.map(each => each.mean!))
  // Where it stands alike everywhere there is nothing to say of directions.
  if (!weakest || weakest.mean! - strongest < 2 || first3 === checked) return `${near}.`
  const who = ahead(weakest.direction)
  return who ? `${near}; behind ${who} in the ${weakest.direction}.` : `${near}; weakest in the ${weakest.direction}.`
}
