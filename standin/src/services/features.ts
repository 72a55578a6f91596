import { monthOf } from '../calendar.ts'
import { unit } from '../random.ts'
import type { Features } from '../rank/clicks.ts'
import type { Query } from '../rank/understand.ts'
import { advertisersOf } from '../world/advertisers.ts'
import type { Engine } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'

/** What a result page shows besides results, for a query on a day; the same for all who ask that day. */
export function featuresOf(
  world: World,
  query: Query,
  engine: Engine,
  day: number,
): Features & { questions: boolean; advertisers: ReturnType<typeof advertisersOf> } {
  const [learn, , buy, , near] = query.intent as [number, number, number, number, number]
  // Features of a need come and go by the quarter.
  const chance = (at: number): number =>
    0.8 * unit(world.seed, query.need, engine === 'lantern' ? 1 : 2, at) +
    0.2 * unit(world.seed, query.need, Math.floor(day / 90), at)
  const advertisers = query.keyword
    ? advertisersOf(world, query.keyword, monthOf(day)).filter(
        each => unit(world.seed, each.site.id, query.id, day) < each.share,
      )
    : []
  return {
    answer: learn > 0.6 && chance(61) < 0.45,
    shopping: buy > 0.45 && chance(62) < 0.6,
    map: near > 0.4,
    questions: chance(63) < 0.55,
    images: chance(64) < 0.3,
    advertisers: advertisers.slice(0, 4),
    ads: Math.min(4, advertisers.length),
  }
}
