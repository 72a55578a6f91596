import { isoOf } from '../calendar.ts'
import { rankOn, positionsOfSite } from '../rank/rank.ts'
import { planRanking } from '../rank/candidates.ts'
import { type Query, understand } from '../rank/understand.ts'
import { places } from '../world/vocabulary.ts'
import { addressOf, type World } from '../world/world.ts'
import { planFor } from './engines.ts'

/** Daily positions of a site's best page for its strongest keywords, as a rank history file has them. */
export function* positionHistory(
  world: World,
  domain: string,
  count: number,
  fromDay: number,
  toDay: number,
): Generator<string> {
  const site = world.byDomain.get(domain)
  if (!site) return
  const place = places.find(candidate => candidate.language === site.language)!.code
  yield 'Date,Keyword,Search engine,Country,Language,Device,Rank,Landing page\n'
  for (const { query } of strongestKeywords(world, domain, count)) {
    for (const engine of ['lantern', 'plover'] as const)
      for (const device of ['desktop', 'mobile'] as const) {
        const plan = planFor(world, query, { engine, device, place })
        let rows = ''
        for (let day = fromDay; day <= toDay; day++) {
          const found = positionsOfSite(world, plan, day, site.id)[0]
          const seen = found && found.position <= 100
          rows += `${isoOf(day)},${query.phrase},${engine},${place},${site.language},${device},${seen ? found.position : '>100'},${seen ? addressOf(world, found.page) : ''}\n`
        }
        yield rows
      }
  }
}

/** The keywords that bring a site most, by demand and by where it stands today. */
export function strongestKeywords(
  world: World,
  domain: string,
  count: number,
): Array<{ query: Query; position: number }> {
  const site = world.byDomain.get(domain)
  if (!site) return []
  const place = places.find(candidate => candidate.language === site.language)!.code
  return world.keywords
    .filter(
      keyword =>
        keyword.language === site.language &&
        (site.groups.includes(world.heads[keyword.head]!.group) || world.heads[keyword.head]!.site === site.id),
    )
    .sort((a, b) => b.base - a.base || a.id - b.id)
    .slice(0, count * 5)
    .map(keyword => {
      const query = understand(world, keyword.phrase, site.language)!
      const plan = planRanking(world, query, { engine: 'lantern', device: 'desktop', place })
      const position = rankOn(world, plan, world.today, 100, true).findIndex(page => page.site === site.id) + 1
      return { query, position, worth: position ? keyword.base / (position + 2) ** 0.8 : 0 }
    })
    .filter(item => item.position > 0)
    .sort((a, b) => b.worth - a.worth || a.query.id - b.query.id)
    .slice(0, count)
}

/** What the own site's people wrote down of their changes since a day, with those of its strongest keywords that each was about. */
export function ownDiary(world: World, count: number, fromDay: number): object[] {
  const keywords = strongestKeywords(world, world.own.domain, count)
  return world.changes
    .filter(change => change.day >= fromDay && change.day <= world.today)
    .map(({ day, note, group }) => ({
      date: isoOf(day),
      text: note,
      keywords: keywords
        .filter(({ query }) => world.heads[query.head]!.group === group)
        .map(({ query }) => query.phrase),
    }))
}
