import type { readVoices, VoicePart } from '@dew-trail/contract/track'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { shareOfVoice, visitShares, type VoiceResult } from '@dew-trail/core/positions/share-of-voice'
import type pg from 'pg'
import type { z } from 'zod'
import type { Market } from '@dew-trail/contract/sites'
import { type VisitReader, visitReader } from '../../domain/chances/visits-of.ts'
import { manyRowFacts } from '../../domain/positions/slot-queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'

type Voices = z.output<(typeof readVoices)['output']>
/** Deeper results give next to nothing. */
const deepest = 20
/** Sites whose share is told and noted. */
export const mostVoiceSites = 30

type Keyword = {
  id: number
  phrase: string
  family: string
  searches: number | null
  organicShare: number | null
  day: string | null
  compared: boolean
}
/** A result within the deepest; 0 = not there. */
type Result = { keyword: number; site: string; now: number; before: number }
const bytesOfResult = 12

/** The latest results of tracked keywords and those before. In one packed answer: there are twenty a keyword. */
async function manyResults(pool: pg.Pool, siteId: number, marketId: number): Promise<Result[]> {
  const { rows: packed } = await pool.query<{ all: Buffer | null }>(
    `select string_agg(int4send(r.keyword_id) || int4send(r.on_site) || int2send(coalesce(r.now, 0::smallint))
       || int2send(coalesce(r.before, 0::smallint)), '') "all"
     from tracked_keyword t join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = t.keyword_id
       and (r.now <= $3 or r.before <= $3)
     where t.site_id = $1 and t.active`,
    [siteId, marketId, deepest],
  )
  const all = packed[0]!.all ?? Buffer.alloc(0)
  const sites = new Set<number>()
  for (let at = 0; at < all.length; at += bytesOfResult) sites.add(all.readInt32BE(at + 4))
  const { rows: names } = await pool.query<{ id: number; domain: string }>(
    'select id, domain from result_site where site_id = $1 and id = any($2)',
    [siteId, [...sites]],
  )
  const domainOf = new Map(names.map(each => [each.id, each.domain]))
  return Array.from({ length: all.length / bytesOfResult }, (_, i) => {
    const at = i * bytesOfResult
    return {
      keyword: all.readInt32BE(at),
      site: domainOf.get(all.readInt32BE(at + 4))!,
      now: all.readInt16BE(at + 8),
      before: all.readInt16BE(at + 10),
    }
  })
}

/** Tracked keywords of a market with known searches: `visits` a month by position, forms of one keyword once, null = unknown. */
export async function readVoiceKeywords(
  pool: pg.Pool,
  site: { id: number },
  market: Market,
): Promise<Map<number, { visits: Array<number | null> }>> {
  const [reader, tracked] = await Promise.all([
    visitReader(pool, site.id, market),
    manyVoiceKeywords(pool, site.id, market),
  ])
  return visitsByPosition(
    tracked.filter(each => each.searches !== null),
    reader,
  )
}

function manyVoiceKeywords(pool: pg.Pool, siteId: number, market: Market): Promise<Keyword[]> {
  return pool
    .query<Keyword>(
      `select k.id, k.phrase, k.family, d.searches, w.organic_share "organicShare", h.day::text "day",
         h.before_day is not null compared
       from tracked_keyword t join keyword k on k.site_id = $1 and k.id = t.keyword_id and k.language = $4
       left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $3
       left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2
       left join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = k.id
       where t.site_id = $1 and t.active and (t.market_ids is null or $2 = any(t.market_ids))`,
      [siteId, market.id, market.place, market.language],
    )
    .then(({ rows }) => rows)
}

function visitsByPosition(
  known: readonly Keyword[],
  reader: VisitReader,
): Map<number, { compared: boolean; visits: Array<number | null> }> {
  const parts = figureParts(known)
  return new Map(
    known.map((each, i) => {
      // Looked up once a keyword: it has twenty results, and whether it names a brand takes longest.
      const brand = reader.brandOf(each.phrase) !== null
      const visits = Array.from({ length: deepest + 1 }, (_, position) =>
        position ? reader.visitsAt(position, each.searches, each.organicShare, brand) : null,
      )
      return [each.id, { compared: each.compared, visits: visits.map(value => value && value * parts[i]!) }]
    }),
  )
}

/** Who gets the visits of tracked keywords: rivals are read off the results that were fetched for the own positions. */
export async function readShareOfVoice(pool: pg.Pool, siteId: number, marketId: number): Promise<Voices> {
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const [reader, themes, facts, tracked, results] = await Promise.all([
    visitReader(pool, siteId, market),
    manyCurrentThemes(pool, siteId, marketId),
    manyRowFacts(pool, siteId),
    manyVoiceKeywords(pool, siteId, market),
    manyResults(pool, siteId, market.id),
  ])
  const labels = new Map(facts.map(fact => [fact.keywordId, fact.labels?.split('|') ?? []]))
  const known = tracked.filter(each => each.day !== null && each.searches !== null)
  const byId = visitsByPosition(known, reader)
  /** The results of one time that fall to keywords, with the visits each gives. */
  const resultsAt = (when: 'now' | 'before', onlyCompared: boolean): VoiceResult[] => {
    const list: VoiceResult[] = []
    for (const { keyword: id, site, [when]: position } of results) {
      const keyword = byId.get(id)
      const visits = keyword?.visits[position]
      if (visits != null && (!onlyCompared || keyword!.compared)) list.push({ keyword: id, site, position, visits })
    }
    return list
  }
  const now = resultsAt('now', false)
  const voices = shareOfVoice(now)
  // Like is compared with like: both shares over the keywords of which the results before are known.
  const compared = known.filter(each => each.compared).length
  const shares = (when: 'now' | 'before') => (compared ? visitShares(resultsAt(when, true)) : new Map<string, number>())
  const [sharesNow, sharesBefore] = [shares('now'), shares('before')]
  const own = voices.findIndex(each => each.site === site.domain)
  const shown = voices.filter((_, i) => i < mostVoiceSites || i === own)
  const days = known.flatMap(each => each.day ?? []).sort()
  return {
    keywords: known.length,
    left: tracked.length - known.length,
    compared,
    from: days[0] ?? null,
    to: days.at(-1) ?? null,
    sites: shown.map(({ site: domain, ...voice }) => ({
      domain,
      own: domain === site.domain,
      ...voice,
      change: compared ? (sharesNow.get(domain) ?? 0) - (sharesBefore.get(domain) ?? 0) : null,
    })),
    themes: voicesBy(
      now,
      keyword => {
        const theme = themes.get(keyword)
        return theme === undefined ? [] : [theme]
      },
      site.domain,
    ),
    labels: voicesBy(now, keyword => labels.get(keyword) ?? [], site.domain),
  }
}

/** By name of a part the own share and who gets most, those with most visits first; keywords in no part are left out. */
function voicesBy(
  results: readonly VoiceResult[],
  namesOf: (keyword: number) => readonly string[],
  own: string,
): VoicePart[] {
  const byName = new Map<string, VoiceResult[]>()
  for (const result of results)
    for (const name of namesOf(result.keyword)) {
      const list = byName.get(name)
      if (list) list.push(result)
      else byName.set(name, [result])
    }
  return [...byName]
    .flatMap(([name, list]) => {
      const voices = shareOfVoice(list)
      const [leader] = voices
      if (!leader) return []
      return [
        {
          name,
          keywords: new Set(list.map(each => each.keyword)).size,
          visits: voices.reduce((sum, each) => sum + each.visits, 0),
          own: voices.find(each => each.site === own)?.share ?? 0,
          leader: leader.site,
          leaderShare: leader.share,
        },
      ]
    })
    .sort((a, b) => b.visits - a.visits)
}
