import { listCheckSchedules, setCheckSchedule, setTimeZone } from '@dew-trail/contract/schedules'
import { AppError } from '@dew-trail/contract/errors'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { nextRun } from '@dew-trail/core/days/next-run'
import {
  checkNow,
  keywordHistory,
  listCandidates,
  listGlances,
  listPositions,
  listVisibility,
  readKeptResults,
  listVoiceDays,
  readKeptVoices,
  pageHistory,
  readVoices,
  resultHistory,
  startTracking,
  trackKeywords,
} from '@dew-trail/contract/track'
import { checkAgain, listCheckFailures, listCheckRuns } from '@dew-trail/contract/check-runs'
import { listShifts, readChanges as changesSince, readEffect } from '@dew-trail/contract/track-changes'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { askForEveryPlace } from '../../domain/positions/ask-for-every-place.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { mount } from '../../platform/http/mount.ts'
import { maySee } from '../../platform/http/who.ts'
import { deleteSchedule, manySchedules, oneTimeZone, upsertSchedule } from '../../domain/schedules/queries.ts'
import { setSiteTimeZone } from '../../domain/schedules/set-time-zone.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { manyFailures, manyRuns, startAgain } from './check-runs.ts'
import { checkKind } from './scheduled-check.ts'
import { changeTracked } from './undo.ts'
import { manyCandidates } from './candidate-queries.ts'
import { startCheck } from './start-check.ts'
import { trackPhrases } from './start-tracking.ts'
import { manyVisibility } from '../../domain/positions/day-queries.ts'
import { readChanges } from './read-changes.ts'
import { readNoteEffect } from './read-effect.ts'
import { readGlances } from './read-glances.ts'
import { readPageHistory } from './read-page-history.ts'
import { readHistory, readPositions } from './read-positions.ts'
import { readKeptPage, readResultHistory } from './read-results.ts'
import { readShifts } from './read-shifts.ts'
import { readVoiceDays } from './voice-days.ts'
import { readShareOfVoice } from './read-voices.ts'

export function mountTrack(router: Router, context: Context): void {
  mount(router, trackKeywords, async ({ siteId, keywordIds, tracked }) => {
    const done = await doAct(context, siteId, async db => {
      const changed = await changeTracked(db, siteId, keywordIds, tracked)
      const title = `${countOf(changed.length, 'keyword')} ${tracked ? 'sent to tracking' : 'no longer tracked'}`
      return {
        answer: { changed },
        act: changed.length ? { kind: 'track', title, data: { keywordIds: changed, tracked } } : null,
        changed: ['positions', 'keywords'],
      }
    })
    // What is watched is weighed by its searches, so those nobody has asked about are asked for now.
    if (tracked && done.changed.length) await askForEveryPlace(context, siteId, done.changed)
    return done
  })
  mount(router, listCandidates, async ({ siteId, marketId, from, of }) => {
    if ((from === 'rival') !== (of !== undefined))
      throw new AppError('badInput', 'of: name the site whose keywords these are, and only with from=rival')
    const domain = of === undefined ? null : registrableDomain(of.includes('://') ? of : `https://${of}`)
    return manyCandidates(context.pool, siteId, await needMarket(context.pool, siteId, marketId), from, domain)
  })
  mount(router, startTracking, input => trackPhrases(context, input))
  mount(router, listCheckRuns, ({ siteId }) => manyRuns(context.pool, siteId))
  mount(router, listCheckFailures, ({ siteId, checkRunId }) => manyFailures(context.pool, siteId, checkRunId))
  mount(router, checkAgain, ({ siteId, checkRunId }) => startAgain(context, siteId, checkRunId))
  mount(router, checkNow, ({ siteId, keywordIds }) => startCheck(context, siteId, { keywordIds }))
  mount(router, listCheckSchedules, async ({ siteId }) => ({
    timeZone: await oneTimeZone(context.pool, siteId),
    schedules: (await manySchedules(context.pool, siteId, checkKind)).map(row => ({
      marketId: row.subject.marketId!,
      rhythm: row.rhythm,
      nextAt: row.nextAt.toISOString(),
      lastAt: row.lastAt?.toISOString() ?? null,
      wasLate: row.wasLate,
      lastError: row.lastError,
    })),
  }))
  mount(router, setCheckSchedule, async ({ siteId, marketId, rhythm }) => {
    const subject = { marketId }
    if (rhythm) {
      const nextAt = nextRun(rhythm, await oneTimeZone(context.pool, siteId), new Date())
      await upsertSchedule(context.pool, siteId, checkKind, subject, rhythm, nextAt)
    } else await deleteSchedule(context.pool, siteId, checkKind, subject)
    context.events.publish(siteId, { type: 'schedules' })
    return {}
  })
  mount(router, setTimeZone, async ({ siteId, timeZone }) => {
    await setSiteTimeZone(context.pool, siteId, timeZone)
    context.events.publish(siteId, { type: 'schedules' })
    return {}
  })
  mount(router, listPositions, ({ siteId, marketId, compareDays, most }) =>
    readPositions(context.pool, siteId, marketId, compareDays, most),
  )
  mount(router, listVisibility, async ({ siteId, marketId, days }) => {
    await needMarket(context.pool, siteId, marketId)
    return manyVisibility(context.pool, siteId, marketId, days)
  })
  mount(router, listVoiceDays, ({ siteId, marketId, days, sites }) =>
    readVoiceDays(context.pool, siteId, marketId, days, sites.map(registrableDomain)),
  )
  mount(router, readKeptVoices, async ({ siteId, marketId, sites }) => {
    await needMarket(context.pool, siteId, marketId)
    const { id } = await context.jobs.add(siteId, 'voices', 'Shares of voice off kept pages', {
      marketId,
      // A host that is named stands for its site: of itself no page would be found, which is not the same as none.
      sites: [...new Set(sites.map(registrableDomain))],
    })
    return { jobId: id }
  })
  mount(router, readVoices, ({ siteId, marketId }) => readShareOfVoice(context.pool, siteId, marketId))
  mount(router, listGlances, async () =>
    (await readGlances(context.pool, new Date().toISOString().slice(0, 10))).filter(({ siteId }) => maySee(siteId)),
  )
  mount(router, resultHistory, input => readResultHistory(context.pool, input))
  mount(router, readKeptResults, input => readKeptPage(context.pool, input))
  mount(router, changesSince, ({ siteId, marketId, since }) => readChanges(context.pool, siteId, marketId, since))
  mount(router, listShifts, ({ siteId, days }) =>
    readShifts(context.pool, siteId, days, new Date().toISOString().slice(0, 10)),
  )
  mount(router, readEffect, ({ siteId, noteId, marketId }) => readNoteEffect(context.pool, siteId, noteId, marketId))
  mount(router, pageHistory, ask => readPageHistory(context.pool, ask))
  mount(router, keywordHistory, ({ siteId, keywordId, days }) => readHistory(context.pool, siteId, keywordId, days))
}
