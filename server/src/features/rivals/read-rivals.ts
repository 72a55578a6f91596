import type { RivalSite } from '@dew-trail/contract/rivals'
import { curveShare } from '@dew-trail/core/demand/click-curve'
import { siteKind } from '@dew-trail/core/links/site-kind'
import { readTarget } from '@dew-trail/core/rivals/target'
import type pg from 'pg'
import { manySiteLooks, manyStandings } from '../../domain/graph/queries.ts'
import { manyBeside, manyRivalStates } from './queries.ts'
import type { OpenMarket } from './ranked.ts'

const graphId = 1
const mostListed = 60
const positions = 100

/**
 * Sites that stand beside a site most often: of the own site those that take most visits above it for the keywords it keeps; else, for all it
 * stands for, those that share most visits with it. `reasons` say why each is listed and what kind of site it looks like.
 */
export async function readRivals(pool: pg.Pool, open: OpenMarket, of: string | undefined) {
  const domain = of === undefined ? open.site.domain : readTarget(of)!.domain
  const own = domain === open.site.domain
  const clicks = Array.from({ length: positions }, (_, i) => curveShare(i + 1, open.market.device, open.reader.curve))
  let kept = own
  let found = await manyBeside(pool, open.at, domain, kept, clicks, mostListed)
  if (kept && !found.rows.length) {
    kept = false
    found = await manyBeside(pool, open.at, domain, kept, clicks, mostListed)
  }
  const domains = found.rows.map(row => row.domain)
  const [states, standings, looks] = await Promise.all([
    manyRivalStates(pool, open.at.siteId),
    manyStandings(pool, graphId, domains),
    manySiteLooks(pool, graphId, domains),
  ])
  const standingOf = new Map(standings.map(row => [row.domain, row.standing]))
  const lookOf = new Map(looks.map(look => [look.domain, look]))
  const who = own ? 'you' : domain
  return {
    kept,
    keywords: found.keywords,
    coverage: open.coverage,
    rivals: found.rows.map((row): RivalSite => {
      const look = lookOf.get(row.domain)
      const guess = look && siteKind(look)
      return {
        domain: row.domain,
        keywords: row.keywords,
        above: row.above,
        within10: row.within10,
        visits: row.visits,
        score: row.all ? row.lost / row.all : 0,
        shared: row.ownVisits ? row.shared / row.ownVisits : 0,
        kind: guess?.kind ?? 'unknown',
        reasons: [
          `stands within twenty for ${row.keywords} of ${found.keywords} keywords, above ${who} for ${row.above}`,
          ...(guess?.reasons ?? []),
        ],
        standing: standingOf.get(row.domain) ?? null,
        state: states.get(row.domain) ?? 'proposed',
      }
    }),
  }
}
