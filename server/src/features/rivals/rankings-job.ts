import type { Market } from '@dew-trail/contract/sites'
import { manyFigures } from '../../domain/keywords/phrase-figures.ts'
import { averageSearches } from '@dew-trail/core/demand/average-searches'
import { readTarget } from '@dew-trail/core/rivals/target'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { type VisitReader, visitReader } from '../../domain/chances/visits-of.ts'
import { numberPages } from '../../domain/results/result-numbers.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { figureKey } from '@dew-trail/core/words/family-key'
import {
  type KnownRow,
  manyWithoutFigures,
  replaceKnown,
  setFigures,
  upsertKnown,
  upsertLoad,
  upsertMonth,
  maybeNewestMonth,
} from './known-queries.ts'
import { replacePaid, upsertPaidMonth } from './paid-queries.ts'
import { type InMarket, maybeTargetRows } from './queries.ts'
import { type Ranking, readEdition } from './read-edition.ts'

const phrasesAtATime = 1_000
/** Most keywords that are kept of what a site pays for, those it spends most on. */
const mostPaid = 100_000

/**
 * Loads for which keywords sites stand by the rankings feed: both editions of now, the newer counting where both have a keyword, then
 * figures of keywords that nobody gathered, then the months before. Each site and month is a step that is not done twice.
 */
export async function rankingsJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const at: InMarket = { siteId, marketId: market.id, place: market.place }
  const domains = payload.domains as string[]
  const parts = (payload.parts as string[] | undefined) ?? []
  const count = Number(payload.months ?? 0)
  const finished = new Set((control.progress.finished as string[] | undefined) ?? [])
  control.clearWarnings()
  const total = domains.length * 2 * (1 + count) + parts.length + 1
  let done = 0
  const step = async (name: string, work: () => Promise<void>): Promise<void> => {
    await control.step(done++, total)
    if (finished.has(name)) return
    try {
      await work()
      finished.add(name)
      control.progress.finished = [...finished]
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      control.warn(error.message)
      if (error.kind === 'quotaUsed') throw error
    }
  }
  for (const domain of domains) {
    await step(`now ${domain}`, () => loadNow(context, at, market, domain, control.signal))
    await step(`paid ${domain}`, () => loadPaid(context, at, market, domain, null, control.signal))
  }
  for (const part of parts) await step(`now ${part}`, () => loadPart(context, at, market, part, control.signal))
  await step('figures', () => loadFigures(context, at, market, control))
  const reader = await visitReader(context.pool, siteId, market)
  // Counted from the newest that the sources have: on the first days of a month they have nothing of it yet.
  const newest = (await maybeNewestMonth(context.pool, at)) ?? new Date().toISOString().slice(0, 7)
  const months = monthsBefore(newest, count)
  for (const month of months)
    for (const domain of domains) {
      await step(`${month} ${domain}`, () => loadMonth(context, at, market, reader, domain, month, control.signal))
      await step(`paid ${month} ${domain}`, () => loadPaid(context, at, market, domain, month, control.signal))
    }
  await control.step(total, total)
  context.events.publish(siteId, { type: 'rivals' })
  return { sites: domains.length, months: months.length }
}

/** A month (YYYY-MM) and those before it, latest first. */
function monthsBefore(newest: string, count: number): string[] {
  const [year, month] = newest.split('-').map(Number) as [number, number]
  return Array.from({ length: count }, (_, i) => new Date(Date.UTC(year, month - 1 - i, 1)).toISOString().slice(0, 7))
}

/** Both editions of now for what the feed is asked about, merged: for a keyword the newer one counts. */
async function readNow(context: Context, market: Market, target: string, signal: AbortSignal) {
  const full = await readEdition(context, market, target, 'full', null, signal)
  const weekly = await readEdition(context, market, target, 'weekly', null, signal)
  const merged = new Map(full.rows.map(row => [row.phrase, row]))
  if (weekly.asOf >= full.asOf) for (const row of weekly.rows) merged.set(row.phrase, row)
  return { editions: { weekly, full }, rows: [...merged.values()] }
}

async function loadNow(
  context: Context,
  at: InMarket,
  market: Market,
  domain: string,
  signal: AbortSignal,
): Promise<void> {
  const { editions, rows } = await readNow(context, market, domain, signal)
  await inTransaction(context.pool, async db => {
    const onSite = await siteNumber(db, at, domain, rows)
    if (onSite === null) return
    await replaceKnown(db, at, onSite, await numbered(db, at, market, rows))
    for (const [edition, { asOf, keywords, rows: found }] of Object.entries(editions))
      await upsertLoad(db, at, onSite, { edition: edition as 'weekly' | 'full', asOf, keywords, found: found.length })
  })
}

/** The same for a host, folder or page: of a keyword for which another page of its site stands higher, the feed tells it only when asked. */
async function loadPart(
  context: Context,
  at: InMarket,
  market: Market,
  text: string,
  signal: AbortSignal,
): Promise<void> {
  const target = readTarget(text)!
  const { rows } = await readNow(context, market, target.kind === 'folder' ? `${target.match}*` : target.match, signal)
  await inTransaction(context.pool, async db => {
    const onSite = await siteNumber(db, at, target.domain, rows)
    if (onSite === null) return
    const known = await numbered(db, at, market, rows)
    const pages = (await maybeTargetRows(db, at.siteId, target))?.pages ?? []
    await replaceKnown(db, at, onSite, known, [...pages])
  })
}

/** Rows of the feed with the numbers of their keywords and pages. */
async function numbered(db: Db, at: InMarket, market: Market, rows: readonly Ranking[]): Promise<KnownRow[]> {
  const ids = await knownIds(
    db,
    at,
    market,
    rows.map(row => row.phrase),
  )
  const pages = await numberPages(db, at.siteId, new Map(rows.map(row => [pageKey(row.url)!, row.url])))
  return rows.map(({ phrase, position, url }) => ({
    knownId: ids.get(phrase)!,
    pageId: pages.get(pageKey(url)!)!.pageId,
    position,
  }))
}

/** Asks what a site advertised on in a month (null: the newest, of which the keywords are kept too) and what it spent. */
async function loadPaid(
  context: Context,
  at: InMarket,
  market: Market,
  domain: string,
  month: string | null,
  signal: AbortSignal,
): Promise<void> {
  const reply = await context.sources.advertised(domain, market, mostPaid, month, signal)
  const rows = new Map<string, { position: number; spend: number }>()
  for (const { text, position, spend } of reply.rows) {
    const phrase = normalForm(text)
    if (!phrase || phrase.length > 200) continue
    const known = rows.get(phrase)
    rows.set(phrase, { position: Math.min(position, known?.position ?? position), spend: spend + (known?.spend ?? 0) })
  }
  await inTransaction(context.pool, async db => {
    const onSite = (await siteNumber(db, at, domain, []))!
    await upsertPaidMonth(db, at, onSite, {
      month: `${reply.month}-01`,
      keywords: rows.size,
      spend: [...rows.values()].reduce((sum, row) => sum + row.spend, 0),
    })
    if (month !== null) return
    const found = rows.size
    await upsertLoad(db, at, onSite, { edition: 'paid', asOf: `${reply.month}-01`, keywords: found, found })
    const ids = await knownIds(db, at, market, [...rows.keys()])
    await replacePaid(
      db,
      at,
      onSite,
      [...rows].map(([phrase, row]) => ({ knownId: ids.get(phrase)!, ...row })),
    )
  })
}

/** Ids of known keywords by their phrases; those that were not known are added. */
async function knownIds(
  db: Db,
  at: InMarket,
  market: Market,
  phrases: readonly string[],
): Promise<Map<string, number>> {
  const ids = new Map<string, number>()
  for (let from = 0; from < phrases.length; from += phrasesAtATime) {
    const part = phrases.slice(from, from + phrasesAtATime)
    for (const [phrase, id] of await upsertKnown(db, at.siteId, at.place, market.language, part)) ids.set(phrase, id)
  }
  return ids
}

/** Number of a site among results; null where nothing is known of it at all. */
async function siteNumber(
  db: Db,
  { siteId }: InMarket,
  domain: string,
  rows: readonly Ranking[],
): Promise<number | null> {
  const [first] = rows
  // The number of a site comes with that of a page of it.
  const url = first?.url ?? `https://${domain}/`
  const key = pageKey(url)!
  return (await numberPages(db, siteId, new Map([[key, url]]))).get(key)?.onSite ?? null
}

/** Asks the ads data about known keywords, a thousand at a time. */
async function loadFigures(context: Context, at: InMarket, market: Market, control: JobControl): Promise<void> {
  for (;;) {
    const rows = await manyWithoutFigures(context.pool, at.siteId, at.place, market.language, phrasesAtATime)
    if (!rows.length) return
    const figures = await context.sources.figures(
      market,
      rows.map(row => row.phrase),
      control.signal,
    )
    const byPhrase = new Map(figures.map(figure => [normalForm(figure.text), figure]))
    const { averageMonths: period } = await needSite(context.pool, at.siteId)
    await setFigures(
      context.pool,
      at.siteId,
      rows.map(({ id, phrase }) => {
        const figure = byPhrase.get(phrase)
        const months = figure?.monthly.map(month => month.searches) ?? []
        return {
          id,
          searches: averageSearches(months, period) ?? figure?.average ?? null,
          cpc: figure?.cpc_micros == null ? null : figure.cpc_micros / 1e6,
        }
      }),
    )
    await control.save()
  }
}

async function loadMonth(
  context: Context,
  at: InMarket,
  market: Market,
  reader: VisitReader,
  domain: string,
  month: string,
  signal: AbortSignal,
): Promise<void> {
  const { rows } = await readEdition(context, market, domain, 'full', month, signal)
  const figures = await manyFigures(
    context.pool,
    at.siteId,
    at.place,
    market.language,
    rows.map(row => row.phrase),
  )
  let [visits, worth, known] = [0, 0, 0]
  const parts = figureParts(
    rows.map(({ phrase }) => ({
      family: figureKey(phrase, market.language),
      searches: figures.get(phrase)?.searches ?? null,
    })),
  )
  for (const [i, { phrase, position }] of rows.entries()) {
    const figure = figures.get(phrase)
    const brings = reader.visitsAt(position, figure?.searches ?? null, null, reader.brandOf(phrase) !== null)
    if (brings === null) continue
    known++
    visits += brings * parts[i]!
    worth += brings * parts[i]! * (figure?.cpc ?? 0)
  }
  const within = (most: number): number => rows.filter(row => row.position <= most).length
  await inTransaction(context.pool, async db => {
    const onSite = await siteNumber(db, at, domain, rows)
    if (onSite === null) return
    await upsertMonth(db, at, onSite, {
      month: `${month}-01`,
      within3: within(3),
      within10: within(10),
      within30: within(30),
      keywords: rows.length,
      visits: known || !rows.length ? visits : null,
      worth: known || !rows.length ? worth : null,
    })
  })
}
