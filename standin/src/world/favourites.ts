import type { Stream } from '../random.ts'
import type { Site } from './sites.ts'

/** Whom each site links to at all: few sites link to everybody. Drawn once, the appealing and the often chosen first. */
export class FavouriteSites {
  readonly #sets: Site[][] = []
  readonly #ids: Array<Set<number>> = []

  constructor(sites: Site[], generous: Record<Site['kind'], number>, stream: Stream) {
    const urn: number[] = []
    for (const site of sites) for (let i = 0; i < 1 + Math.round(6 * site.appeal); i++) urn.push(site.id)
    for (const from of sites) {
      const size = Math.round((4 + generous[from.kind] * 1.6) * (0.6 + 0.8 * stream.next()))
      const set: Site[] = []
      const ids = new Set<number>()
      for (let tries = 0; set.length < size && tries < size * 60; tries++) {
        const drawn = stream.chance(0.3) ? stream.pick(sites) : sites[urn[stream.int(urn.length)]!]!
        if (drawn.id === from.id || drawn.kind === 'parked' || ids.has(drawn.id)) continue
        const same = drawn.language === from.language || drawn.alsoLanguage === from.language ? 1 : 0.08
        if (stream.next() < drawn.appeal ** 1.6 * same * (drawn.kind === 'network' ? 0.2 : 1)) {
          set.push(drawn)
          ids.add(drawn.id)
          urn.push(drawn.id)
        }
      }
      this.#sets.push(set)
      this.#ids.push(ids)
    }
  }
  /** One of a site's favourites; the first of them get most of its links. */
  of(from: Site, stream: Stream): Site | undefined {
    const set = this.#sets[from.id]!
    return set[Math.floor(set.length * stream.next() ** 1.6)]
  }
  has(from: Site, site: number): boolean {
    return this.#ids[from.id]!.has(site)
  }
}
