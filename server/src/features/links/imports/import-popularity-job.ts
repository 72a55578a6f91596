import { readTarget } from '@dew-trail/core/rivals/target'
import type { Context } from '../../../context.ts'
import { openImport } from '../../../domain/imports/open-import.ts'
import { noteBrought, setTakenBack } from '../../../domain/imports/queries.ts'
import { needLatest, setAside, swapAside, type Written } from '../../../domain/imports/set-aside.ts'
import type { TakeBackWork } from '../../../domain/imports/take-back-work.ts'
import { readNumber } from '../../../domain/imports/read-cells.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import type { JobControl } from '../../../platform/jobs/job-control.ts'
import { clearPopularity, countPopularity, insertPopularity } from '../lists/popularity-queries.ts'

const popularity: Written = { table: 'popularity', where: 'true', values: [] }
const [mostSites, savedTogether] = [5_000_000, 20_000]

/**
 * Reads a list of sites by popularity (rank, domain), which takes the place of the one before as a whole. Of a site that comes twice the better
 * rank counts; what cannot be read is listed with its line. Where the file breaks off or nothing of it can be read, the list before stays.
 */
export async function importPopularityJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const file = await openImport(context, control)
  let [lines, taken] = [0, 0]
  const sites = await inTransaction(context.pool, async db => {
    let batch = new Map<string, number>()
    await setAside(db, siteId, file.row.id, popularity)
    await clearPopularity(db, siteId)
    const save = async (): Promise<void> => {
      await insertPopularity(db, siteId, batch)
      batch = new Map()
    }
    const takeRow = (cells: string[], line: number): void => {
      if (cells.length === 1 && cells[0]!.trim() === '') return
      lines++
      const rank = readNumber(file.cell(cells, 'rank'), true, 1)
      const target = readTarget(file.cell(cells, 'domain'))
      if ('wrong' in rank || rank.value === null)
        file.say(line, `The rank ${'wrong' in rank ? rank.wrong : 'is missing'}`, file.cell(cells, 'rank'))
      else if (!target) file.say(line, 'This names no site', file.cell(cells, 'domain'))
      else if (taken >= mostSites)
        file.say(line, `At most ${mostSites.toLocaleString('en')} sites are taken`, target.domain)
      else {
        taken++
        batch.set(target.domain, Math.min(rank.value, batch.get(target.domain) ?? Number.POSITIVE_INFINITY))
      }
    }
    for await (const part of file.parts()) {
      if (part.kind === 'rows') for (const [i, cells] of part.rows.entries()) takeRow(cells, part.lines[i]!)
      if (batch.size >= savedTogether) await save()
      await control.step(Math.min(part.byte, file.bytes), file.bytes)
    }
    await save()
    const saved = await countPopularity(db, siteId)
    if (!saved) throw new NothingRead()
    await noteBrought(db, siteId, file.row.id, { sites: saved })
    return saved
  }).catch(error => {
    if (error instanceof NothingRead) return 0
    throw error
  })
  await file.finish(lines)
  context.events.publish(siteId, { type: 'crawls' })
  return { importId: file.row.id, lines, wrong: file.wrong, sites }
}
/** Puts the list before an import in its place, or the import's again. */
export const takeBackPopularity: TakeBackWork = async (context, _control, row, on) => {
  const { siteId, id: importId } = row
  if (row.takenBack === on) return {}
  const sites = await inTransaction(context.pool, async db => {
    await needLatest(db, row, 'true')
    await swapAside(db, siteId, importId, popularity)
    await setTakenBack(db, siteId, importId, on)
    return countPopularity(db, siteId)
  })
  context.events.publish(siteId, { type: 'crawls' })
  return { sites }
}

/** Thrown to take back that the list before was cleared. */
class NothingRead extends Error {}
