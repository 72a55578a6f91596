import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { markImported, upsertKeywords } from '../../domain/keywords/queries.ts'
import { describeKeyword } from '../../domain/keywords/describe-keyword.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, oneMarketId, touchKeywords } from '../../domain/sites/queries.ts'
import { askForEveryPlace } from '../../domain/positions/ask-for-every-place.ts'
import { manySlots, setTracked } from '../../domain/positions/slot-queries.ts'
import { type DayFindings, savePositions } from '../../domain/positions/save-positions.ts'
import { keepBefore } from './take-back-positions.ts'
import { openImport } from '../../domain/imports/open-import.ts'
import { noteBrought } from '../../domain/imports/queries.ts'
import { bufferOf } from '../../platform/files/read-file.ts'
import { FindingsReader } from './read-findings.ts'

/** Reads a file of positions; its keywords are kept and tracked, markets it names are made; all is saved in one transaction. */
export async function importPositionsJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const file = await openImport(context, control)
  const { row, mapping, bytes } = file
  const reader = new FindingsReader(file, await needMarket(context.pool, siteId, Number(control.job.payload.marketId)))
  for await (const part of file.parts(true)) {
    if (part.kind === 'plain') reader.readPlain(bufferOf(part.bytes), part.firstLine)
    else for (const [i, cells] of part.rows.entries()) reader.readRow(cells, part.lines[i]!)
    await control.step(Math.min(part.byte, bytes) / 2, bytes)
  }

  let saved = 0
  const tracked = new Set<number>()
  const read = new Set<number>()
  /** Keywords that were not tracked before. */
  const begun: number[] = []
  const total = reader.count
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    for (const findings of reader.markets) {
      const { market } = findings
      const id = await oneMarketId(db, siteId, market)
      const named = new Set<number>()
      reader.each(findings, phrase => named.add(phrase))
      for (const phrase of named) read.add(phrase)
      const names = Array.from(named, phrase => reader.phrases.texts[phrase]!)
      const ids = await upsertKeywords(
        db,
        siteId,
        market.language,
        names.map(phrase => describeKeyword(phrase, market.language, false)),
      )
      await markImported(db, siteId, [...ids.values()], row.id)
      for (const id of await setTracked(db, siteId, [...ids.values()], true)) begun.push(id)
      for (const keywordId of ids.values()) tracked.add(keywordId)
      const slotOf = new Map((await manySlots(db, siteId, { ...market, id })).map(slot => [slot.keywordId, slot.slot]))
      const slots = reader.phrases.texts.map(phrase => slotOf.get(ids.get(phrase)!)!)
      const days = new Map<string, DayFindings>()
      let count = 0
      reader.each(findings, (phrase, date, position, url) => {
        let day = days.get(date)
        if (!day) {
          day = { day: date, positions: new Map(), pages: new Map() }
          days.set(date, day)
        }
        day.positions.set(slots[phrase]!, position)
        if (mapping.url !== undefined) day.pages.set(slots[phrase]!, url)
        count++
      })
      await keepBefore(db, siteId, row.id, id, [...days.values()], () =>
        savePositions(db, siteId, { id, name: null, paused: false, ...market }, [...days.values()]),
      )
      await touchKeywords(db, siteId, [...ids.values()])
      saved += count
      await control.step(Math.round(bytes / 2 + (bytes / 2) * (saved / total)), bytes)
    }
    await noteBrought(db, siteId, row.id, { begun })
  })
  await askForEveryPlace(context, siteId, [...tracked])
  context.events.publish(siteId, { type: 'positions' })
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytes, bytes)
  await file.finish(reader.lines)
  return {
    importId: row.id,
    lines: reader.lines,
    wrong: file.wrong,
    saved,
    keywords: read.size,
  }
}
