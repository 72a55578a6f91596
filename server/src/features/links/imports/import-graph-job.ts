import { stat } from 'node:fs/promises'
import { AppError } from '@dew-trail/contract/errors'
import { namesReversed, vertexAddress } from '@dew-trail/core/links/vertex-name'
import type { Context } from '../../../context.ts'
import { fileBounds } from '../../../platform/files/file-bounds.ts'
import { readFileParts } from '../../../platform/files/read-file.ts'
import type { JobControl } from '../../../platform/jobs/job-control.ts'
import { askForRank } from '../../../domain/graph/ask-for-rank.ts'
import { sumAllLinks } from '../../../domain/graph/rank-job.ts'
import { fetchUpload, removeUpload } from '../../../domain/imports/uploads.ts'
import { LinkBatches } from './link-batches.ts'
import { loadOf } from './take-back-links.ts'
import { openImport, type OpenImport } from '../../../domain/imports/open-import.ts'

const graphId = 1
/** Addresses are held while edges are read: about 150 bytes each. */
const mostVertices = 5_000_000
const largestNumber = 100_000_000
const sampled = 2_000

/** Lines of a text file, with what passes a bound listed; `step` hears after each part how far the file has been read. */
async function* linesOf(
  context: Context,
  control: JobControl,
  file: OpenImport,
  path: string,
  name: string,
  step: (share: number) => Promise<void>,
): AsyncGenerator<{ line: number; text: string }> {
  for await (const part of readFileParts('lines', { path }, fileBounds(context.config), control.signal)) {
    for (const { line, what, value } of part.problems) file.say(line, `${name}: ${what}`, value)
    for (let i = 0; i < part.lines.length; i++) {
      const text = part.lines[i]!
      if (text.trim() && !text.startsWith('#')) yield { line: part.firstLine + i, text }
    }
    await step(part.byte / Math.max(1, part.bytes))
  }
}

const numberOf = (text: string): number | null => {
  const value = /^\d{1,9}$/.test(text) ? Number(text) : Number.NaN
  return value <= largestNumber ? value : null
}

/**
 * Reads a web graph from two text files, line by line: vertices ("number, tab, address or host name"; host names may begin with the
 * top-level domain) and edges ("number, tab, number", from the linking to the linked one). Each edge becomes a link without anchor,
 * merged with what crawls, feeds and lists know. Wrong lines of either file are listed, the rest is taken.
 */
export async function importGraphJob(context: Context, control: JobControl): Promise<object> {
  const file = await openImport(context, control)
  const verticesPath = await fetchUpload(context, String(control.job.payload.verticesPath))
  if (!verticesPath) throw new AppError('notFound', 'The uploaded file is no longer there; upload both files again')
  const { size: verticesBytes } = await stat(verticesPath)
  const allBytes = verticesBytes + file.bytes
  // Both are read to their ends before anything is written: a file that is cut or a bomb must not leave half a graph.
  for (const path of [verticesPath, file.row.filePath])
    for await (const _ of readFileParts('lines', { path }, fileBounds(context.config), control.signal))
      await control.step(0, allBytes)
  const vertices = linesOf(context, control, file, verticesPath, 'Vertices', share =>
    control.step(verticesBytes * share * 0.95, allBytes),
  )
  const names = await readVertices(file, vertices)
  const edges = linesOf(context, control, file, file.row.filePath, 'Edges', share =>
    control.step((verticesBytes + file.bytes * share) * 0.95, allBytes),
  )
  const batches = new LinkBatches(context, graphId, await loadOf(context, file.row))
  let [lastLine, same] = [0, 0]
  for await (const { line, text } of edges) {
    lastLine = line
    const [from = '', to = ''] = text.split(/[\t ,;]/, 2)
    const ends = [from, to].map(numberOf)
    const unknown = ends.findIndex(end => end === null || names[end] === undefined)
    if (unknown >= 0) {
      const what =
        ends[unknown] === null
          ? 'Edges: this is not two numbers'
          : `Edges: there is no vertex ${ends[unknown]} with an address`
      file.say(line, what, text)
      continue
    }
    const [source, target] = ends.map(end => names[end!]!) as [string, string]
    if (source === target) {
      same++
      continue
    }
    const full = batches.add({
      source,
      target,
      anchor: '',
      rel: 0,
      kind: 'text',
      region: null,
      linkedAround: null,
      around: null,
      firstSeen: null,
      lastSeen: null,
      goneOn: null,
    })
    if (full) await full
  }
  await batches.finish()
  if (same) control.warn(`Edges from a vertex to itself, left out: ${same}`)
  await sumAllLinks(context, graphId, control.signal)
  await file.finish(lastLine)
  await removeUpload(context.pool, verticesPath)
  await askForRank(context)
  await control.step(allBytes, allBytes)
  context.events.publish(control.siteId, { type: 'crawls' })
  const known = names.reduce(count => count + 1, 0)
  return { importId: file.row.id, vertices: known, lines: lastLine, wrong: file.wrong, saved: batches.saved }
}

/** Addresses by the number of their vertex; a number without one is a hole. */
async function readVertices(file: OpenImport, lines: AsyncIterable<{ line: number; text: string }>): Promise<string[]> {
  const names: string[] = []
  /** The first vertices, kept until the direction of their names is told from them. */
  let waiting: Array<{ line: number; id: number; name: string }> | null = []
  let reversed = false
  let count = 0
  const take = (at: number, id: number, name: string): void => {
    const address = vertexAddress(name, reversed)
    if (address === null) file.say(at, 'Vertices: this is neither a web address nor a host name', name)
    else if (names[id] !== undefined && names[id] !== address)
      file.say(at, `Vertices: number ${id} already stands for ${names[id]}`, name)
    else names[id] = address
  }
  const decide = (): void => {
    reversed = namesReversed(waiting!.map(each => each.name))
    for (const each of waiting!) take(each.line, each.id, each.name)
    waiting = null
  }
  for await (const { line, text } of lines) {
    const [number = '', name = ''] = text.split(/[\t ]/, 2)
    const id = numberOf(number)
    if (id === null || !name) {
      file.say(line, 'Vertices: this is not a number, a tab and a name', text)
      continue
    }
    if (++count > mostVertices)
      throw new AppError(
        'tooLarge',
        `The graph has over ${mostVertices.toLocaleString('en')} vertices, more than are held at a time. Nothing was imported; use a graph of hosts or of domains.`,
      )
    if (waiting) {
      waiting.push({ line, id, name })
      if (waiting.length >= sampled) decide()
    } else take(line, id, name)
  }
  if (waiting) decide()
  if (!names.length)
    throw new AppError('badInput', 'The file of vertices names no address or host; is it the right one?')
  return names
}
