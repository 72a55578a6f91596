import type { Market } from '@dew-trail/contract/sites'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { notFound } from '@dew-trail/core/positions/day-vector'
import { seenFeatures } from '@dew-trail/core/positions/page-features'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { askEach } from '../../platform/jobs/ask-each.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { analyzeResults, type ResultPage } from '../../domain/results/queries.ts'
import { saveResults } from '../../domain/results/save-results.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { lockSite, touchKeywords } from '../../domain/sites/queries.ts'
import { beginRun, type Checked, type Failure, manyOpen, noteChecked, noteFailures, noteRun } from './check-runs.ts'
import { raiseAlerts } from './alerts/raise-alerts.ts'
import { saveVoices } from './voice-days.ts'
import { isCheckedIn, manyToCheck } from '../../domain/positions/slot-queries.ts'
import { type DayFindings, savePositions } from '../../domain/positions/save-positions.ts'

const atOnce = 8
const saveEvery = 40
const pairKey = ({ marketId, keywordId }: Checked): string => `${marketId}:${keywordId}`
type Waiting = { market: Market; findings: DayFindings; keywordIds: number[]; names: string[]; pages: ResultPage[] }

/** Checks tracked keywords in every market of their language. A request that fails leaves the day unchecked: it is never recorded as not found. */
export async function checkJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const site = await needSite(context.pool, siteId)
  const keywords = await manyToCheck(context.pool, siteId, (payload.keywordIds as number[] | undefined) ?? null)
  const finished = new Set((control.progress.finished as string[] | undefined) ?? [])
  const only = payload.marketId as number | undefined
  /** The run whose failures are asked for again. */
  const again = payload.again as number | undefined
  const open = again === undefined ? null : new Set((await manyOpen(context.pool, siteId, again)).map(pairKey))
  const markets = site.markets.filter(market =>
    only === undefined ? again !== undefined || !market.paused : market.id === only,
  )
  const work = markets.flatMap(market =>
    keywords
      .filter(keyword => isCheckedIn(keyword, market))
      .filter(({ keywordId }) => !open || open.has(pairKey({ marketId: market.id, keywordId })))
      .map(keyword => ({ market, keyword, name: `${market.id}:${keyword.slot}` })),
  )
  const total = work.length
  control.clearWarnings()
  let done = finished.size
  let failed = 0
  const failedOf = new Map<number, number>()
  const failures: Failure[] = []
  const runId =
    again ??
    (await beginRun(
      context.pool,
      siteId,
      control.job.id,
      { marketId: only ?? null, scheduled: payload.scheduled === true, late: payload.late === true },
      total,
    ))
  await control.step(done, total)

  const waiting = new Map<string, Waiting>()
  let unsaved = 0
  let saving = Promise.resolve()
  const flush = (): Promise<void> => {
    const batches = [...waiting.values()]
    waiting.clear()
    unsaved = 0
    saving = saving.then(async () => {
      for (const batch of batches) {
        const of = { siteId, marketId: batch.market.id, source: 'engines' }
        await saveResults(context.pool, of, batch.pages)
        await inTransaction(context.pool, async db => {
          await lockSite(db, siteId)
          await savePositions(db, siteId, batch.market, [batch.findings])
          await touchKeywords(db, siteId, batch.keywordIds)
        })
        for (const name of batch.names) finished.add(name)
        const checked = batch.keywordIds.map(keywordId => ({ marketId: batch.market.id, keywordId }))
        await noteChecked(context.pool, siteId, runId, checked)
      }
      control.progress.finished = [...finished]
      await control.save()
      context.events.publish(siteId, { type: 'positions' })
      context.events.publish(siteId, { type: 'keywords' })
    })
    return saving
  }

  const missing = work.filter(({ name }) => !finished.has(name))
  const halted = await askEach(
    control,
    missing,
    atOnce,
    async ({ market, keyword, name }) => {
      const reply = await context.sources.search(market, keyword.phrase, context.config.CHECK_DEPTH, control.signal)
      const hit = reply.organic.find(result => registrableDomain(result.url) === site.domain)
      const key = `${market.id}:${reply.date}`
      const batch: Waiting = waiting.get(key) ?? {
        market,
        findings: { day: reply.date, positions: new Map(), pages: new Map(), features: new Map() },
        keywordIds: [],
        names: [],
        pages: [],
      }
      waiting.set(key, batch)
      batch.findings.positions.set(keyword.slot, hit ? hit.position : notFound(context.config.CHECK_DEPTH))
      batch.findings.pages.set(keyword.slot, hit?.url ?? null)
      const isOwn = (url: string): boolean => registrableDomain(url) === site.domain
      batch.findings.features!.set(keyword.slot, seenFeatures(reply, isOwn))
      batch.keywordIds.push(keyword.keywordId)
      batch.names.push(name)
      const { CHECK_DEPTH: depth } = context.config
      batch.pages.push({ keywordId: keyword.keywordId, day: reply.date, depth, results: reply.organic })
      done++
      if (++unsaved >= saveEvery) await flush()
      await control.step(done, total)
    },
    ({ market, keyword }, { message }) => {
      failed++
      failures.push({ marketId: market.id, keywordId: keyword.keywordId, what: message })
      failedOf.set(market.id, (failedOf.get(market.id) ?? 0) + 1)
    },
  )
  await flush()
  if (failures.length) await noteFailures(context.pool, siteId, runId, failures)
  if (again === undefined) await noteRun(context.pool, siteId, runId, finished.size, !halted)
  for (const market of markets) {
    const of = work.filter(each => each.market.id === market.id).length
    // A check that was stopped says nothing of the rest; it goes on later and tells then.
    if (!of || halted) continue
    await saveVoices(context.pool, siteId, market.id)
    // Failures of a retry were reported by the first run already.
    const failedHere = again === undefined ? (failedOf.get(market.id) ?? 0) : 0
    await raiseAlerts(context, siteId, market.id, { failed: failedHere, of })
  }
  if (halted) throw halted
  await analyzeResults(context.pool)
  return { checked: done, failed }
}
