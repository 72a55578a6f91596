import type { readVoices, VoicePart } from '@dew-trail/contract/track'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { shareOfVoice, type VoiceResult } from '@dew-trail/core/positions/share-of-voice'
import type pg from 'pg'
import type { z } from 'zod'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { manyRowFacts } from '../../domain/positions/queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'

type Voices = z.output<(typeof readVoices)['output']>
/** Deeper results give next to nothing. */
const deepest = 20
const mostSites = 30

type Keyword = {
  id: number
  phrase: string
  family: string
  searches: number | null
  organicShare: number | null
  day: string | null
  compared: boolean
}
type Result = { keyword: number; domain: string; now: number | null; before: number | null }

/** Who gets the visits of tracked keywords: rivals are read off the results that were fetched for the own positions. */
export async function readShareOfVoice(pool: pg.Pool, siteId: number, marketId: number): Promise<Voices> {
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const [reader, themes, facts, { rows: tracked }, { rows: results }] = await Promise.all([
    visitReader(pool, siteId, market),
    manyCurrentThemes(pool, siteId, marketId),
    manyRowFacts(pool, siteId),
    pool.query<Keyword>(
      `select k.id, k.phrase, k.family, d.searches, w.organic_share "organicShare", h.day::text "day",
         h.before_day is not null compared
       from tracked_keyword t join keyword k on k.site_id = $1 and k.id = t.keyword_id and k.language = $4
       left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $3
       left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2
       left join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = k.id
       where t.site_id = $1 and t.active and (t.market_ids is null or $2 = any(t.market_ids))`,
      [siteId, market.id, market.place, market.language],
    ),
    pool.query<Result>(
      `select r.keyword_id keyword, s.domain, r.now, r.before from tracked_keyword t
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = t.keyword_id
         and (r.now <= $3 or r.before <= $3)
       join result_site s on s.site_id = $1 and s.id = r.on_site
       where t.site_id = $1 and t.active`,
      [siteId, market.id, deepest],
    ),
  ])
  const labels = new Map(facts.map(fact => [fact.keywordId, fact.labels?.split('|') ?? []]))
  const known = tracked.filter(each => each.day !== null && each.searches !== null)
  const parts = figureParts(known)
  const byId = new Map(known.map((each, i) => [each.id, { ...each, part: parts[i]! }]))
  /** The results of one time that fall to keywords, with the visits each gives. */
  const resultsAt = (when: 'now' | 'before', only: (keyword: Keyword) => boolean): VoiceResult[] =>
    results.flatMap(({ keyword: id, domain, [when]: position }) => {
      const keyword = byId.get(id)
      if (!keyword || position === null || position > deepest || !only(keyword)) return []
      const brand = reader.brandOf(keyword.phrase) !== null
      const visits = reader.visitsAt(position, keyword.searches, keyword.organicShare, brand)
      return visits === null ? [] : [{ keyword: id, site: domain, position, visits: visits * keyword.part }]
    })
  const now = resultsAt('now', () => true)
  const voices = shareOfVoice(now)
  // Like is compared with like: both shares over the keywords of which the results before are known.
  const shares = (when: 'now' | 'before') =>
    new Map(shareOfVoice(resultsAt(when, keyword => keyword.compared)).map(each => [each.site, each.share]))
  const [sharesNow, sharesBefore] = [shares('now'), shares('before')]
  const compared = known.filter(each => each.compared).length
  const own = voices.findIndex(each => each.site === site.domain)
  const shown = voices.filter((_, i) => i < mostSites || i === own)
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
