import { type LinkKind, linkKinds, relCode } from '@dew-trail/core/links/link-codes'
import { pageAddress } from '@dew-trail/core/links/page-address'
import type { Context } from '../context.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { askForRank } from '../links/ask-for-rank.ts'
import { sumAllLinks } from '../links/rank-job.ts'
import type { FoundLink } from '../links/save-links.ts'
import { LinkBatches } from './link-batches.ts'
import { openImport, type OpenImport } from './open-import.ts'
import { readDate } from './read-cells.ts'
import { readRows } from './read-table.ts'

const graphId = 1

/** Reads a list of links into the graph, merged with what crawls and feeds know. Wrong lines are listed, the rest is taken. */
export async function importLinksJob(context: Context, control: JobControl): Promise<object> {
  const file = await openImport(context, control)
  const batches = new LinkBatches(context, graphId)
  let [lines, readBytes] = [0, 0]
  for await (const { firstLine, rows, bytes } of readRows(file.row.filePath, file.row.encoding, file.row.separator)) {
    for (const [i, cells] of rows.entries()) {
      if (cells.length === 1 && cells[0]!.trim() === '') continue
      lines++
      const link = readLink(file, cells, firstLine + i)
      const full = link && batches.add(link)
      if (full) await full
    }
    readBytes += bytes
    await control.step(Math.min(readBytes, file.bytes) * 0.95, file.bytes)
  }
  await batches.finish()
  await sumAllLinks(context, graphId, control.signal)
  await file.finish()
  await askForRank(context, control.job.siteId)
  await control.step(file.bytes, file.bytes)
  context.events.publish(control.job.siteId, { type: 'crawls' })
  return { importId: file.row.id, lines, wrong: file.wrong, saved: batches.saved }
}

/** Days as they are written: a list has few of them, each thousands of times. */
const days = new Map<string, ReturnType<typeof readDate>>()
function dayFrom(text: string): ReturnType<typeof readDate> {
  const known = days.get(text)
  if (known) return known
  if (days.size > 10_000) days.clear()
  const day = readDate(text)
  days.set(text, day)
  return day
}

const kindNames: Record<string, LinkKind> = Object.fromEntries(linkKinds.map(kind => [kind, kind]))

/** Address in a cell; null when it is wrong, which is then listed. */
function readAddress(
  file: OpenImport,
  cells: readonly string[],
  line: number,
  field: string,
  what: string,
): string | null {
  const text = file.cell(cells, field)
  const address = pageAddress(text.includes('://') ? text : `http://${text}`)
  // A name without a dot is no host of the web.
  if (address?.slice(0, address.indexOf('/', 8)).includes('.')) return address
  file.say(line, text ? `The ${what} is no web address` : `The ${what} is empty`, text)
  return null
}

/** Day in a cell: null where it is empty, undefined when it is wrong, which is then listed. */
function readDay(
  file: OpenImport,
  cells: readonly string[],
  line: number,
  field: string,
  what: string,
): string | null | undefined {
  const text = file.cell(cells, field)
  if (!text) return null
  const day = dayFrom(text)
  if ('value' in day) return day.value
  file.say(line, `${what} ${day.wrong}`, text)
  return undefined
}

/** Codes of rel values as they are written: a list has few different ones. */
const relCodes = new Map<string, number>()
function relFrom(text: string): number {
  let code = relCodes.get(text)
  if (code === undefined) {
    code = relCode(text.toLowerCase().split(/[\s,]+/))
    if (relCodes.size > 10_000) relCodes.clear()
    relCodes.set(text, code)
  }
  return code
}

function readLink(file: OpenImport, cells: readonly string[], line: number): FoundLink | null {
  const source = readAddress(file, cells, line, 'source', 'linking page')
  const target = source && readAddress(file, cells, line, 'target', 'linked page')
  if (!source || !target) return null
  const firstSeen = readDay(file, cells, line, 'firstSeen', 'First seen')
  const lastSeen = firstSeen === undefined ? undefined : readDay(file, cells, line, 'lastSeen', 'Last seen')
  if (firstSeen === undefined || lastSeen === undefined) return null
  return {
    source,
    target,
    anchor: file.cell(cells, 'anchor').replace(/\s+/g, ' '),
    rel: relFrom(file.cell(cells, 'rel')),
    kind: kindNames[file.cell(cells, 'linkKind').toLowerCase()] ?? 'text',
    region: null,
    density: null,
    around: null,
    firstSeen,
    lastSeen,
    goneOn: null,
  }
}
