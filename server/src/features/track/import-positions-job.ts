import type { Market } from '@dew-trail/contract/sites'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { markImported, upsertKeywords } from '../../domain/keywords/queries.ts'
import { describeKeyword } from '../../domain/keywords/describe-keyword.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, oneMarketId, touchKeywords } from '../../domain/sites/queries.ts'
import { askForEveryPlace } from '../../domain/positions/ask-for-every-place.ts'
import { manySlots, setTracked } from '../../domain/positions/queries.ts'
import { type DayFindings, savePositions } from '../../domain/positions/save-positions.ts'
import { keepBefore } from './take-back-positions.ts'
import { openImport } from '../../domain/imports/open-import.ts'
import { noteBrought } from '../../domain/imports/queries.ts'
import { readPosition } from '../../domain/imports/read-cells.ts'

type Finding = { phrase: string; day: string; position: number; url: string | null }

/** Reads a file of positions; its keywords are kept and tracked, markets it names are made; all is saved in one transaction. */
export async function importPositionsJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const file = await openImport(context, control)
  const { row, mapping, bytes } = file
  const fallback = await needMarket(context.pool, siteId, Number(payload.marketId))
  const byMarket = new Map<string, { market: Omit<Market, 'id' | 'name' | 'paused'>; findings: Finding[] }>()
  const phrases = new Map<string, string>()
  const urls = new Map<string, string>()
  let lines = 0
  for await (const part of file.parts()) {
    if (part.kind !== 'rows') continue
    part.rows.forEach((cells, i) => {
      if (cells.length === 1 && cells[0]!.trim() === '') return
      lines++
      const cellOf = (field: string): string => file.cell(cells, field)
      const say = (what: string, value: string): void => file.say(part.lines[i]!, what, value)
      const text = normalForm(cellOf('phrase'))
      if (!text || text.length > 200) {
        say(text ? 'The keyword has over 200 characters' : 'The keyword is empty', cellOf('phrase'))
        return
      }
      const day = file.day(cellOf('date'))
      if ('wrong' in day) {
        say(`The date ${day.wrong}`, cellOf('date'))
        return
      }
      const position = readPosition(cellOf('position'))
      if ('wrong' in position) {
        say(`The position ${position.wrong}`, cellOf('position'))
        return
      }
      if (position.value === 0) return
      const device = cellOf('device').toLowerCase() || fallback.device
      if (device !== 'desktop' && device !== 'mobile') {
        say('The device is neither desktop nor mobile', device)
        return
      }
      const market = {
        engine: cellOf('engine').toLowerCase() || fallback.engine,
        place: cellOf('country').toLowerCase() || fallback.place,
        language: cellOf('language').toLowerCase() || fallback.language,
        device: device as 'desktop' | 'mobile',
      }
      const key = `${market.engine}|${market.place}|${market.language}|${market.device}`
      // One copy of each text: a year of positions repeats the same few.
      const phrase = phrases.get(text) ?? text
      phrases.set(text, phrase)
      const address = cellOf('url')
      const url = address ? (urls.get(address) ?? address) : null
      if (address) urls.set(address, url!)
      const group = byMarket.get(key) ?? { market, findings: [] }
      byMarket.set(key, group)
      group.findings.push({ phrase, day: day.value, position: position.value, url })
    })
    await control.step(Math.min(part.byte, bytes) / 2, bytes)
  }

  let saved = 0
  const tracked = new Set<number>()
  /** Keywords that were not tracked before. */
  const begun: number[] = []
  const total = [...byMarket.values()].reduce((sum, group) => sum + group.findings.length, 0)
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    for (const { market, findings } of byMarket.values()) {
      const id = await oneMarketId(db, siteId, market)
      const names = [...new Set(findings.map(finding => finding.phrase))]
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
      const days = new Map<string, DayFindings>()
      for (const finding of findings) {
        const day = days.get(finding.day) ?? { day: finding.day, positions: new Map(), pages: new Map() }
        days.set(finding.day, day)
        const slot = slotOf.get(ids.get(finding.phrase)!)!
        day.positions.set(slot, finding.position)
        if (mapping.url !== undefined) day.pages.set(slot, finding.url)
      }
      await keepBefore(db, siteId, row.id, id, [...days.values()], () =>
        savePositions(db, siteId, { id, name: null, paused: false, ...market }, [...days.values()]),
      )
      await touchKeywords(db, siteId, [...ids.values()])
      saved += findings.length
      await control.step(Math.round(bytes / 2 + (bytes / 2) * (saved / total)), bytes)
    }
    await noteBrought(db, siteId, row.id, { begun })
  })
  await askForEveryPlace(context, siteId, [...tracked])
  context.events.publish(siteId, { type: 'positions' })
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytes, bytes)
  await file.finish(lines)
  return { importId: row.id, lines, wrong: file.wrong, saved, keywords: phrases.size }
}
