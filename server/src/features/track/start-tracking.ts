import { AppError } from '@dew-trail/contract/errors'
import type { startTracking as endpoint } from '@dew-trail/contract/track'
import { nextRun } from '@dew-trail/core/days/next-run'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type pg from 'pg'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { countOf, doAct, type UndoWork } from '../../domain/acts/do-act.ts'
import { describeKeyword } from '../../domain/keywords/describe-keyword.ts'
import { upsertKeywords } from '../../domain/keywords/queries.ts'
import { askForEveryPlace } from '../../domain/positions/ask-for-every-place.ts'
import { setTracked, setTrackedMarkets } from '../../domain/positions/slot-queries.ts'
import { oneTimeZone, upsertSchedule } from '../../domain/schedules/queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { touchKeywords } from '../../domain/sites/queries.ts'
import { checkKind } from './scheduled-check.ts'

type Input = z.output<(typeof endpoint)['input']>
type Before = Array<{ id: number; active: boolean; marketIds: number[] | null }>

/**
 * Tracks phrases in chosen markets of one language: in those beside the ones where they are tracked already. Phrases that nobody gathered
 * yet are made keywords. Throws `badInput` where the markets are of several languages or a phrase says nothing.
 */
export async function trackPhrases(context: Context, { siteId, marketIds, phrases, label, rhythm }: Input) {
  const site = await needSite(context.pool, siteId)
  const markets = site.markets.filter(market => marketIds.includes(market.id))
  const { language } = markets[0]!
  if (markets.some(market => market.language !== language))
    throw new AppError('badInput', 'marketIds: these markets are of several languages; track each by itself')
  const names = [...new Set(phrases.map(normalForm))].filter(Boolean)
  if (!names.length) throw new AppError('badInput', 'phrases: none of these says anything')
  const ofLanguage = site.markets.filter(market => market.language === language).map(market => market.id)
  const done = await doAct(context, siteId, async db => {
    const known = await manyKnown(db, siteId, language, names)
    const described = names.map(phrase => describeKeyword(phrase, language, false))
    const ids = [...(await upsertKeywords(db, siteId, language, described)).values()]
    const before = await manyTracked(db, siteId, ids)
    await setTracked(db, siteId, ids, true)
    const wasActive = new Set(before.filter(each => each.active).map(each => each.id))
    const changed = new Set(ids.filter(id => !wasActive.has(id)))
    for (const [key, group] of byMarkets(ids, before, marketIds, ofLanguage))
      for (const id of await setTrackedMarkets(db, siteId, group, key)) changed.add(id)
    if (label) await putLabel(db, siteId, label, ids)
    await touchKeywords(db, siteId, ids)
    if (rhythm) {
      const nextAt = nextRun(rhythm, await oneTimeZone(db, siteId), new Date())
      for (const { id } of markets) await upsertSchedule(db, siteId, checkKind, { marketId: id }, rhythm, nextAt)
    }
    const title = `${countOf(changed.size, 'keyword')} tracked in ${countOf(markets.length, 'market')}`
    const wasThere = new Set(before.map(each => each.id))
    const stopped = ids.filter(id => !wasThere.has(id))
    return {
      answer: { tracked: changed.size, made: ids.length - known, ids },
      act: changed.size ? { kind: 'startTracking', title, data: { before, stopped } } : null,
      changed: ['positions', 'keywords', 'lists', 'schedules'],
    }
  })
  await askForEveryPlace(context, siteId, done.ids)
  return { tracked: done.tracked, made: done.made, actId: done.actId }
}

/** Keywords by the markets they are tracked in from now on: all of the language as null. */
function byMarkets(ids: number[], before: Before, added: number[], all: number[]): Array<[number[] | null, number[]]> {
  const groups = new Map<string, [number[] | null, number[]]>()
  const activeOf = new Map(before.filter(each => each.active).map(each => [each.id, each]))
  for (const id of ids) {
    const was = activeOf.get(id)
    const next = was?.marketIds === null ? all : [...new Set([...(was?.marketIds ?? []), ...added])]
    const markets = all.every(each => next.includes(each)) ? null : next.sort((a, b) => a - b)
    const group = groups.get(String(markets)) ?? [markets, []]
    groups.set(String(markets), group)
    group[1].push(id)
  }
  return [...groups.values()]
}

async function manyKnown(db: pg.PoolClient, siteId: number, language: string, phrases: string[]): Promise<number> {
  const { rows } = await db.query<{ known: number }>(
    `select count(*)::integer known from keyword where site_id = $1 and language = $2 and phrase = any($3)`,
    [siteId, language, phrases],
  )
  return rows[0]!.known
}
async function manyTracked(db: pg.PoolClient, siteId: number, ids: number[]): Promise<Before> {
  const { rows } = await db.query<Before[number]>(
    `select keyword_id id, active, market_ids "marketIds" from tracked_keyword
      where site_id = $1 and keyword_id = any($2)`,
    [siteId, ids],
  )
  return rows.map(row => ({ ...row, marketIds: row.marketIds?.map(Number) ?? null }))
}
async function putLabel(db: pg.PoolClient, siteId: number, name: string, ids: number[]): Promise<void> {
  const { rows } = await db.query<{ id: number }>(
    `insert into list (site_id, kind, name) values ($1, 'label', $2)
     on conflict (site_id, kind, name) do update set name = excluded.name returning id`,
    [siteId, name],
  )
  await db.query(
    `insert into list_keyword (site_id, list_id, keyword_id) select $1, $2, unnest($3::bigint[])
      on conflict do nothing`,
    [siteId, rows[0]!.id, ids],
  )
}

/** Tracks as before; keywords that were made, and their label, stay. */
export const undoStartTracking: UndoWork = async (
  db,
  siteId,
  { before, stopped }: { before: Before; stopped: number[] },
) => {
  const were = before.filter(each => !each.active).map(each => each.id)
  await setTracked(db, siteId, [...stopped, ...were], false)
  for (const { id, marketIds } of before) await setTrackedMarkets(db, siteId, [id], marketIds)
  await touchKeywords(db, siteId, [...stopped, ...before.map(each => each.id)])
  return ['positions', 'keywords']
}
