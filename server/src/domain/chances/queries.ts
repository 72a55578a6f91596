import { pageKey } from '../pages/page-key.ts'
import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { SearchReply } from '../../sources/source-replies.ts'

/** `marked`: the words the engine marked in the snippet; pages kept before they were read lack it. */
export type Organic = { position: number; url: string; title: string; snippet: string; marked?: string[] }
export type PageFeatures = {
  firstPage: number
  answer: boolean
  questions: string[]
  images: boolean
  shopping: number
  map: number
  ads: number
  /** How many results the engine reports, which is rough; not there on pages of before this was kept. */
  results?: number | null
  /** Sites shown in the answer, among the images and the products; not there on pages of before this was kept. */
  holders?: { answer: string[]; images: string[]; shopping: string[] }
}
/** Facts are kept however old; `linksKnown`, `registryKnown`: young enough not to be asked for again. */
export type SiteFact = {
  domain: string
  linkingSites: number | null
  links: number | null
  registeredOn: string | null
  linksKnown: boolean
  /** The day on which a source last answered what links to it, YYYY-MM-DD. */
  linksAskedOn: string | null
  registryKnown: boolean
}
export type PageFact = { url: string; linkingSites: number | null; links: number | null; linksKnown: boolean }
export type WeighingRow = {
  state: 'known' | 'nothing' | 'failed'
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  likelyFrom: number | null
  likelyTo: number | null
  /** Of the page of the site that stands already: its place, and its chances of the first page and of standing higher. */
  pagePosition: number | null
  pageChance: number | null
  pageHigher: number | null
  lacking: Array<number | null>
  reported: number | null
  levels: number[]
  ownLevel: number | null
  /** Shares of searches with a click on a result and on an advertisement. */
  organicShare: number | null
  paidShare: number | null
  reason: string | null
  fetchedOn: string | null
}

/**
 * Keywords to weigh, the given ones or all kept, those of most value first: searches × CPC, an unknown CPC counting as their mean; those with
 * unknown searches last. `fresh`: weighed since `freshAfter`.
 */
export async function manyToWeigh(
  db: Db,
  siteId: number,
  marketId: number,
  place: string,
  keywordIds: number[] | null,
  freshAfter: Date,
): Promise<Array<{ id: number; phrase: string; fresh: boolean }>> {
  const { rows } = await db.query<{ id: number; phrase: string; fresh: boolean }>(
    `select k.id, k.phrase, coalesce(w.state <> 'failed' and w.weighed_at >= $5, false) fresh from keyword k
     left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2 left
       join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $3
     where k.site_id = $1 and k.language = (select language from market where site_id = $1 and id = $2)
       and case when $4::bigint[] is null then k.kept_at is not null else k.id = any($4) end
       order by d.searches * coalesce(d.cpc, avg(d.cpc) over (), 1) desc nulls last, d.searches desc nulls last, k.id`,
    [siteId, marketId, place, keywordIds, freshAfter],
  )
  return rows
}
/** Kept keywords of a market that were weighed, but not since a moment. */
export async function manyOldWeighings(db: Db, siteId: number, marketId: number, before: Date): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select k.id from weighing w join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
     where w.site_id = $1 and w.market_id = $2 and w.weighed_at < $3 and k.kept_at is not null
       order by w.weighed_at, k.id limit 20000`,
    [siteId, marketId, before],
  )
  return rows.map(row => row.id)
}
export async function upsertResultPage(
  db: Db,
  key: { siteId: number; keywordId: number; marketId: number },
  reply: SearchReply,
  features: PageFeatures,
  organic: Organic[],
): Promise<void> {
  await db.query(
    `insert into result_page (site_id, keyword_id, market_id, fetched_on, fetched_at, organic, features,
      related) values ($1, $2, $3, $4, now(), $5, $6, $7)
     on conflict (site_id, keyword_id, market_id, fetched_on) do update
       set fetched_at = now(), organic = excluded.organic, features = excluded.features, related = excluded.related`,
    [key.siteId, key.keywordId, key.marketId, reply.date, JSON.stringify(organic), features, reply.related],
  )
}
/**
 * Removes texts and features of first pages older than a day, but for the newest of each keyword and market; positions are kept elsewhere. At
 * most `most` at once; gives how many.
 */
export async function pruneResultPages(db: Db, before: string, most: number): Promise<number> {
  const { rowCount } = await db.query(
    `delete from result_page r using (
       select site_id, keyword_id, market_id, fetched_on from result_page o
       where fetched_on < $1 and exists (select from result_page n where n.site_id = o.site_id
         and n.keyword_id = o.keyword_id and n.market_id = o.market_id and n.fetched_on > o.fetched_on)
       limit $2
     ) old
     where r.site_id = old.site_id and r.keyword_id = old.keyword_id and r.market_id = old.market_id
       and r.fetched_on = old.fetched_on`,
    [before, most],
  )
  return rowCount ?? 0
}
export async function maybeResultPage(
  db: Db,
  siteId: number,
  keywordId: number,
  marketId: number,
  date: string | null = null,
): Promise<
  { phrase: string; fetchedOn: string; organic: Organic[]; features: PageFeatures; related: string[] } | undefined
> {
  const { rows } = await db.query<{
    phrase: string
    fetchedOn: string
    organic: Organic[]
    features: PageFeatures
    related: string[]
  }>(
    `select k.phrase, r.fetched_on "fetchedOn", r.organic, r.features, r.related from result_page r
      join keyword k on k.site_id = r.site_id and k.id = r.keyword_id
     where r.site_id = $1 and r.keyword_id = $2 and r.market_id = $3 and ($4::date is null or r.fetched_on = $4)
       order by r.fetched_on desc limit 1`,
    [siteId, keywordId, marketId, date],
  )
  return rows[0]
}
/** Days of which a result page is kept, newest first. */
export async function manyResultDates(db: Db, siteId: number, keywordId: number, marketId: number): Promise<string[]> {
  const { rows } = await db.query<{ day: string }>(
    `select fetched_on::text "day" from result_page where site_id = $1 and keyword_id = $2 and market_id = $3
      order by 1 desc limit 400`,
    [siteId, keywordId, marketId],
  )
  return rows.map(row => row.day)
}
/** Titles and snippets of results of other keywords of a market, for what is said everywhere. */
export async function manyOtherResults(
  db: Db,
  siteId: number,
  keywordId: number,
  marketId: number,
  most: number,
): Promise<string[]> {
  const { rows } = await db.query<{ words: string }>(
    `select o->>'title' || E'\n' || (o->>'snippet') words from (select organic from result_page
      where site_id = $1 and market_id = $3 and keyword_id <> $2 order by fetched_on desc, keyword_id limit $4) r
     cross join jsonb_array_elements(r.organic) o`,
    [siteId, keywordId, marketId, most],
  )
  return rows.map(row => row.words)
}
export type LongerRow = {
  keywordId: number
  phrase: string
  searches: number | null
  cpc: number | null
  difficulty: number | null
  kept: boolean
}
/** Keywords of a site's language that may be longer forms of a head: those with all of the given beginnings of words, most searched first. */
export async function manyLonger(
  db: Db,
  siteId: number,
  market: { id: number; place: string; language: string },
  beginnings: string[],
  most: number,
): Promise<LongerRow[]> {
  const { rows } = await db.query<LongerRow>(
    `select k.id "keywordId", k.phrase, d.searches, d.cpc, w.difficulty, k.kept_at is not null kept
      from keyword k
     left join demand d on d.site_id = k.site_id and d.keyword_id = k.id and d.place = $3 left
       join weighing w on w.site_id = k.site_id and w.keyword_id = k.id and w.market_id = $2
     where k.site_id = $1 and k.language = $4 and (select bool_and(strpos(' ' || k.phrase, ' ' || b) > 0)
       from unnest($5::text[]) b) order by d.searches desc nulls last, k.id limit $6`,
    [siteId, market.id, market.place, market.language, beginnings, most],
  )
  return rows
}
/** Keywords of a market with their chance of the first page; of more than `most` some, whichever their ids' hashes begin with. */
export async function manyChances(
  db: Db,
  siteId: number,
  marketId: number,
  most: number,
): Promise<Array<{ id: number; phrase: string; chance: number }>> {
  const { rows } = await db.query<{ id: number; phrase: string; chance: number }>(
    `select k.id, k.phrase, w.chance10 chance from weighing w
     join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
     where w.site_id = $1 and w.market_id = $2 and w.chance10 is not null order by hashint8(k.id), k.id limit $3`,
    [siteId, marketId, most],
  )
  return rows
}
/** A failed weighing never takes the place of a known one. */
export async function upsertWeighing(
  db: Db,
  key: { siteId: number; keywordId: number; marketId: number },
  row: WeighingRow,
): Promise<void> {
  await db.query(
    `insert into weighing (site_id, keyword_id, market_id, state, difficulty, chance3, chance10, chance20,
      likely_from, likely_to, levels,
       own_level, organic_share, paid_share, reason, fetched_on, page_position, page_chance, page_higher, lacking,
       reported, weighed_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, now())
     on conflict (site_id, keyword_id, market_id) do update
       set state = excluded.state, difficulty = excluded.difficulty, chance3 = excluded.chance3,
       chance10 = excluded.chance10, chance20 = excluded.chance20,
       likely_from = excluded.likely_from, likely_to = excluded.likely_to, levels = excluded.levels,
         own_level = excluded.own_level, organic_share = excluded.organic_share,
         paid_share = excluded.paid_share, reason = excluded.reason, fetched_on = excluded.fetched_on,
         page_position = excluded.page_position, page_chance = excluded.page_chance,
         page_higher = excluded.page_higher,
         lacking = excluded.lacking, reported = excluded.reported, weighed_at = excluded.weighed_at
     where excluded.state <> 'failed' or weighing.state = 'failed'`,
    [
      key.siteId,
      key.keywordId,
      key.marketId,
      row.state,
      row.difficulty,
      row.chance3,
      row.chance10,
      row.chance20,
      row.likelyFrom,
      row.likelyTo,
      row.levels,
      row.ownLevel,
      row.organicShare,
      row.paidShare,
      row.reason,
      row.fetchedOn,
      row.pagePosition,
      row.pageChance,
      row.pageHigher,
      row.lacking,
      row.reported,
    ],
  )
  await noteFiguresChange(db, key.siteId)
}
export async function manySiteFacts(db: Db, domains: string[]): Promise<SiteFact[]> {
  const { rows } = await db.query<SiteFact>(
    `select domain, known_linking_sites(linking_sites, domain) "linkingSites", links, registered_on "registeredOn",
      links_at::date::text "linksAskedOn",
       links_at is not null and links_at > now() - interval '30 days' "linksKnown", registry_at is not null
       and registry_at > now() - interval '180 days' "registryKnown"
     from site_fact where domain = any($1)`,
    [domains],
  )
  return rows
}
export async function manyPageFacts(db: Db, urls: string[]): Promise<PageFact[]> {
  const { rows } = await db.query<PageFact>(
    `select u.url, linking_sites "linkingSites", links, links_at > now() - interval '30 days' "linksKnown"
     from unnest($1::text[], $2::uuid[]) u (url, key) join page_fact f on f.key = u.key`,
    [urls, urls.map(pageKey)],
  )
  return rows
}
export async function upsertSiteLinks(
  db: Db,
  rows: Array<{ domain: string; linkingSites: number | null; links: number | null }>,
): Promise<void> {
  await db.query(
    `insert into site_fact (domain, linking_sites, links, links_at) select *, now()
      from unnest($1::text[], $2::integer[], $3::integer[])
     on conflict (domain) do update set linking_sites = excluded.linking_sites, links = excluded.links,
       links_at = excluded.links_at`,
    [rows.map(r => r.domain), rows.map(r => r.linkingSites), rows.map(r => r.links)],
  )
}
export async function upsertPageLinks(
  db: Db,
  rows: Array<{ url: string; linkingSites: number | null; links: number | null }>,
): Promise<void> {
  await db.query(
    `insert into page_fact (key, url, linking_sites, links, links_at)
     select distinct on (key) *, now() from unnest($1::uuid[], $2::text[], $3::integer[], $4::integer[]) p (key)
     where key is not null
     on conflict (key) do update
       set linking_sites = excluded.linking_sites, links = excluded.links, links_at = excluded.links_at`,
    [rows.map(r => pageKey(r.url)), rows.map(r => r.url), rows.map(r => r.linkingSites), rows.map(r => r.links)],
  )
}
export async function upsertRegistration(db: Db, domain: string, registeredOn: string | null): Promise<void> {
  await db.query(
    `insert into site_fact (domain, registered_on, registry_at) values ($1, $2, now()) on conflict (domain)
      do update set registered_on = excluded.registered_on, registry_at = now()`,
    [domain, registeredOn],
  )
}
/** Mean share of searches that click a result, over the weighed keywords of a market; `null` while none is weighed. */
export async function maybeMeanOrganic(db: Db, siteId: number, marketId: number): Promise<number | null> {
  const { rows } = await db.query<{ mean: number | null }>(
    'select avg(organic_share)::real mean from weighing where site_id = $1 and market_id = $2',
    [siteId, marketId],
  )
  return rows[0]!.mean
}

/** A keyword's searches a month, and the share of them that click a result; null what is not known. */
export async function oneClicked(
  db: Db,
  siteId: number,
  keywordId: number,
  market: { id: number; place: string },
): Promise<{ searches: number | null; organicShare: number | null }> {
  const { rows } = await db.query<{ searches: number | null; organicShare: number | null }>(
    `select (select searches from demand where site_id = $1 and keyword_id = $2 and place = $4) searches,
       (select organic_share from weighing where site_id = $1 and keyword_id = $2 and market_id = $3) "organicShare"`,
    [siteId, keywordId, market.id, market.place],
  )
  return rows[0]!
}

/** Shares of searches that click a result, of the weighed keywords of a market or of some of them. */
export async function manyOrganicShares(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[] | null = null,
): Promise<Map<number, number>> {
  const { rows } = await db.query<{ id: number; share: number }>(
    `select keyword_id id, organic_share share from weighing
     where site_id = $1 and market_id = $2 and organic_share is not null
       and ($3::bigint[] is null or keyword_id = any($3))`,
    [siteId, marketId, keywordIds],
  )
  return new Map(rows.map(row => [row.id, row.share]))
}
