import { mix, type Stream, unit } from '../random.ts'

const starts = 'b br c cl d dr f fl g gr h j k kr l m n p pr qu r s sk st t th tr v w y z'.split(' ')
const middles = 'a e i o u ae ai ea ee ie oa ou'.split(' ')
const joins = 'l m n r s t v d k ll nn rr st nd rk lm'.split(' ')
const ends: Record<Kind, string[]> = {
  person: ['a', 'en', 'in', 'o', 'el', 'ie', 'an', 'is', 'or', 'wen'],
  family: ['ford', 'sby', 'well', 'mere', 'lock', 'den', 'vey', 'more', 'rick', 'ham', 'stead', 'low'],
  village: ['ton', 'wick', 'hollow', 'combe', 'bay', 'reach', 'stow', 'brook', 'moor', 'gate', 'fell', 'quay'],
  make: ['ax', 'on', 'ix', 'ora', 'um', 'elle', 'ane', 'ero', 'ik', 'us'],
}
type Kind = 'person' | 'family' | 'village' | 'make'

/** The invented name of a rank; low ranks are met often, and there is no last one. */
export function nameOf(kind: Kind, rank: number): string {
  const code = { person: 1, family: 2, village: 3, make: 4 }[kind]
  const pick = (list: string[], at: number): string => list[Math.floor(unit(rank, code, at) * list.length)]!
  const long = rank > 400 || unit(rank, code, 9) < 0.25
  const word =
    pick(starts, 1) +
    pick(middles, 2) +
    (long ? pick(joins, 3) + pick(middles, 4) : '') +
    (kind === 'person' || kind === 'make' ? pick(joins, 5) : '') +
    pick(ends[kind], 6)
  return word.charAt(0).toUpperCase() + word.slice(1)
}

/** A rank from an endless power law (weight ∝ rank^−1.35), so that a growing text keeps meeting new names. */
export const endlessRank = (draw: number): number => Math.min(2_000_000, Math.floor((1 - draw) ** (-1 / 0.35)))

export const personOf = (stream: Stream): string =>
  `${nameOf('person', endlessRank(stream.next()))} ${nameOf('family', endlessRank(stream.next()))}`
/** A product's model, such as "Torvane K-240". */
export const modelOf = (make: string, stream: Stream): string => {
  const rank = endlessRank(stream.next())
  return `${make} ${'ABCDEFGHKLMNPRSTVWX'[mix(rank, 5) % 19]}-${10 + (mix(rank, 6) % 990)}`
}
