import type { Terrain } from './first-page.ts'
import type { ResultFacts } from './strength.ts'

const listed = (numbers: readonly number[]): string =>
  numbers.length < 2 ? `${numbers[0] ?? ''}` : `${numbers.slice(0, -1).join(', ')} and ${numbers.at(-1)}`

/** Runs of whole numbers in words: [6,7,8,10] → "6–8 and 10". */
export function placeRuns(positions: readonly number[]): string {
  const runs: string[] = []
  for (let i = 0; i < positions.length; i++) {
    const from = positions[i]!
    while (positions[i + 1] === positions[i]! + 1) i++
    runs.push(from === positions[i] ? `${from}` : `${from}–${positions[i]}`)
  }
  return runs.length < 2 ? (runs[0] ?? '') : `${runs.slice(0, -1).join(', ')} and ${runs.at(-1)}`
}

/** One or two plain sentences that read a terrain: whom the keyword names, what stands above, where it drops, and who is the precedent. */
export function readTerrain(terrain: Terrain, results: readonly ResultFacts[], names: string | null = null): string {
  return names
    ? `The keyword names ${names}, where people want to go: a page of another site gains little by its words, however low the ground.`
    : readGround(terrain, results)
}

function readGround(terrain: Terrain, results: readonly ResultFacts[]): string {
  if (!terrain.positions.length) return 'The engine showed no results, so there is no ground to read.'
  if (terrain.ownLevel === null)
    return 'The level of your site is unknown, since no source of links has answered for it yet: its chance is told as of a site without links, so at least. Weigh again to ask.'
  const { own } = terrain
  const count = terrain.positions.length
  if (own.length === count) return 'All places are yours.'
  const few = results.filter(
    (facts, i) => terrain.openings.includes(i + 1) && facts.linkingSites !== null && facts.linkingSites < 3,
  ).length
  const weakFit = results.filter(
    (facts, i) => terrain.openings.includes(i + 1) && facts.fit !== null && facts.fit < 60,
  ).length
  const many = (count: number, one = 'has', more = 'have'): string =>
    terrain.openings.length === 1 ? `it ${one}` : `${count} of them ${count === 1 ? one : more}`
  const why = [
    few ? `${many(few)} under 3 linking sites` : '',
    weakFit ? `${many(weakFit, 'lacks', 'lack')} the phrase where it counts` : '',
  ]
    .filter(Boolean)
    .join(', ')
  const precedent = terrain.precedents.length
    ? terrain.precedents.length === 1
      ? ` Place ${terrain.precedents[0]} belongs to a site below your level whose words fit: it can be done.`
      : ` Places ${listed(terrain.precedents)} belong to sites below your level whose words fit: it can be done.`
    : ''
  if (!terrain.openings.length)
    return `${own.length ? `All places but your own, ${placeRuns(own)},` : `All ${count} places`} stand above your level${terrain.lockedTop ? `; ${terrain.lockedTop === count ? 'all are' : terrain.lockedTop === 1 ? 'the first is' : `the first ${terrain.lockedTop} are`} far above it` : ''}.${precedent}`
  if (terrain.openings.length + own.length === count)
    return `The whole page lies below your level${why ? `: ${why}` : ''}.${precedent}`
  const first = terrain.openings[0]!
  const drop = terrain.openings.length === count - first + 1
  const above = terrain.positions
    .map(({ position }) => position)
    .filter(position => position < first && !own.includes(position))
  const head =
    above.length > 0
      ? `Place${above.length > 1 ? `s ${placeRuns(above)} stand` : ` ${above[0]} stands`} above your level${terrain.lockedTop > 1 ? `, the first ${terrain.lockedTop} far above` : ''}. `
      : ''
  const tail = drop
    ? `From ${first} on the ground drops`
    : `${terrain.openings.length === 1 ? 'An opening at place' : 'Openings at places'} ${placeRuns(terrain.openings)}`
  return `${head}${tail}${why ? `: ${why}` : ''}.${precedent}`
}
