import { type LevelScale, onScale } from './level-scale.ts'
import type { PhraseFit } from './phrase-fit.ts'
import type { SiteResult } from './strength.ts'

/** What is counted of the first ten results, in the order in which the counts are kept. */
export const lackKinds = ['title', 'links', 'level', 'age', 'small'] as const
export type LackKind = (typeof lackKinds)[number]

/** Fewer links than these to a page are few. */
export const fewLinks = 30
/** A site is small when it stands below this share of the market's sites. */
export const smallBelow = 25
const first = 10

/**
 * How many of the first ten results lack something, in the order of `lackKinds`: the whole phrase in their title; 30 links to the page; a level as
 * high as the own one; a year of age; a level of 25 or more on the market's scale. `null`: not known of any of them. Of what is not known of
 * a result nothing is counted, so each is at least so many.
 */
export function whatLacks(
  results: ReadonlyArray<
    Pick<SiteResult, 'siteStanding' | 'ageYears'> & { links: number | null; fields: PhraseFit['fields'] }
  >,
  ownLevel: number | null,
  scale: LevelScale,
): Array<number | null> {
  const ten = results.slice(0, first)
  const count = <T>(of: (result: (typeof ten)[number]) => T | null, lacks: (value: T) => boolean): number | null => {
    const known = ten.flatMap(result => of(result) ?? [])
    return known.length ? (known as T[]).filter(lacks).length : null
  }
  const counts: Record<LackKind, number | null> = {
    title: count(
      result => result.fields.title?.match ?? null,
      match => match !== 'phrase',
    ),
    links: count(
      result => result.links,
      links => links < fewLinks,
    ),
    level:
      ownLevel === null
        ? null
        : count(
            result => result.siteStanding,
            level => level < ownLevel,
          ),
    age: count(
      result => result.ageYears,
      years => years < 1,
    ),
    small: count(
      result => result.siteStanding,
      level => onScale(level, scale) < smallBelow,
    ),
  }
  return lackKinds.map(kind => counts[kind])
}
