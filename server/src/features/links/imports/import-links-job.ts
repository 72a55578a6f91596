import { AppError } from '@dew-trail/contract/errors'
import { type LinkKind, linkKinds, relCode, seenByBits } from '@dew-trail/core/links/link-codes'
import { pageAddress } from '@dew-trail/core/links/page-address'
import type { Context } from '../../../context.ts'
import type { JobControl } from '../../../platform/jobs/job-control.ts'
import { askForRank } from '../../../domain/graph/ask-for-rank.ts'
import { sumAllLinks } from '../../../domain/graph/rank-job.ts'
import { type FoundLink, restOf } from '../../../domain/graph/link-lines.ts'
import { LinkBatches } from './link-batches.ts'
import { loadOf } from './take-back-links.ts'
import { PlainLinks } from './plain-links.ts'
import { PlainLine } from '../../../platform/files/plain-line.ts'
import { bufferOf } from '../../../platform/files/read-file.ts'
import { openImport, type OpenImport } from '../../../domain/imports/open-import.ts'

const graphId = 1

/** Reads a list of links into the graph, merged with what crawls and feeds know. Wrong lines are listed, the rest is taken. */
export async function importLinksJob(context: Context, control: JobControl): Promise<object> {
  const file = await openImport(context, control)
  const batches = new LinkBatches(context, graphId, await loadOf(context, file.row))
  let lines = 0
  /** Reads a row of texts; what is wrong with it is listed. */
  const take = async (cells: string[], line: number): Promise<void> => {
    if (cells.length === 1 && cells[0]!.trim() === '') return
    lines++
    const link = readLink(file, cells, line)
    if (link) await batches.add(link)
  }
  const plain = plainLinks(file, batches)
  /** The line below the last one read. */
  let next = 1
  for await (const part of partsUntilBroken(file, () => next)) {
    if (part.kind === 'rows') {
      for (const [i, cells] of part.rows.entries()) await take(cells, part.lines[i]!)
      next = (part.lines.at(-1) ?? next - 1) + 1
    } else {
      const before = plain.lines
      await plain.read(bufferOf(part.bytes), (text, number) =>
        take(text.split(file.row.separator), part.firstLine + number),
      )
      lines += plain.lines - before
      next = part.firstLine + plain.lines - before
    }
    await control.step(Math.min(part.byte, file.bytes) * 0.95, file.bytes)
  }
  await batches.finish()
  await sumAllLinks(context, graphId, control.signal)
  await file.finish(lines)
  await askForRank(context)
  await control.step(file.bytes, file.bytes)
  context.events.publish(control.siteId, { type: 'crawls' })
  return { importId: file.row.id, lines, wrong: file.wrong, saved: batches.saved }
}

/**
 * Parts of a file; where it cannot be read on, because it is cut or passes a bound, they end and that is listed with its line: links are
 * saved as they are read, and what is saved must not be called failed. A file of which nothing can be read fails.
 */
export async function* partsUntilBroken(
  file: Pick<OpenImport, 'parts' | 'say'>,
  line: () => number,
): ReturnType<OpenImport['parts']> {
  let begun = false
  try {
    for await (const part of file.parts(true)) {
      begun = true
      yield part
    }
  } catch (error) {
    if (!begun || !(error instanceof AppError)) throw error
    file.say(line(), `${error.message}. Nothing from here on was read`, '')
  }
}

/** The reader of lines that need no parser, straight from their bytes. */
function plainLinks(file: OpenImport, batches: LinkBatches): PlainLinks {
  const { encoding, separator } = file.row
  const { source, target, anchor, rel, linkKind, firstSeen, lastSeen } = file.mapping
  const columns = { source, target, anchor, rel, linkKind, firstSeen, lastSeen }
  const dayIn = (text: string): string | null | undefined => {
    const day = text ? file.day(text) : { value: null }
    return 'value' in day ? day.value : undefined
  }
  return new PlainLinks(batches, columns, new PlainLine(separator, encoding), {
    address: webAddress,
    anchor: text => text.replace(/\s+/g, ' '),
    rest(cells) {
      const [firstSeen, lastSeen] = [dayIn(cells.firstSeen), dayIn(cells.lastSeen)]
      if (firstSeen === undefined || lastSeen === undefined) return null
      const rel = relFrom(cells.rel)
      return restOf({ ...unseen, rel, kind: kindFrom(cells.kind), firstSeen, lastSeen }, seenByBits.file)
    },
  })
}

const kindNames: Record<string, LinkKind> = Object.fromEntries(linkKinds.map(kind => [kind, kind]))

const kindFrom = (text: string): LinkKind => kindNames[text.toLowerCase()] ?? 'text'
/** What a list does not tell of a link. */
const unseen = { region: null, linkedAround: null, around: null, goneOn: null } as const

/** The address that a text is; null when it is no web address. */
function webAddress(text: string): string | null {
  const address = pageAddress(text.includes('://') ? text : `http://${text}`)
  // A name without a dot is no host of the web.
  return address?.slice(0, address.indexOf('/', 8)).includes('.') ? address : null
}

/** Address in a cell; null when it is wrong, which is then listed. */
function readAddress(
  file: OpenImport,
  cells: readonly string[],
  line: number,
  field: string,
  what: string,
): string | null {
  const text = file.cell(cells, field)
  const address = webAddress(text)
  if (address) return address
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
  const day = file.day(text)
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
    kind: kindFrom(file.cell(cells, 'linkKind')),
    firstSeen,
    lastSeen,
    ...unseen,
  }
}
