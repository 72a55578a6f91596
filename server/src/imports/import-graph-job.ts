import { createReadStream } from 'node:fs'
import { open, rm, stat } from 'node:fs/promises'
import { pipeline } from 'node:stream'
import { StringDecoder } from 'node:string_decoder'
import { createGunzip } from 'node:zlib'
import { AppError } from '@dew-trail/contract/errors'
import { namesReversed, vertexAddress } from '@dew-trail/core/links/vertex-name'
import type { Context } from '../context.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { askForRank } from '../links/ask-for-rank.ts'
import { sumAllLinks } from '../links/rank-job.ts'
import { LinkBatches } from './link-batches.ts'
import { openImport, type OpenImport } from './open-import.ts'

const graphId = 1
/** Addresses are held while edges are read: about 150 bytes each. */
const mostVertices = 5_000_000
const largestNumber = 100_000_000
const sampled = 2_000
const linesBetweenSteps = 20_000

type TextLines = { lines: AsyncGenerator<string>; bytesRead(): number; bytes: number }

/** Lines of a text file, plain or gzip; `bytesRead` tells how far the file on disk has been read. */
async function openLines(filePath: string): Promise<TextLines> {
  const file = await open(filePath).catch(() => {
    throw new AppError('notFound', 'The uploaded file is no longer there; upload both files again')
  })
  const { buffer } = await file.read(Buffer.alloc(2), 0, 2, 0)
  await file.close()
  const { size } = await stat(filePath)
  const isGzip = buffer[0] === 0x1f && buffer[1] === 0x8b
  let bytesRead = 0
  async function* lines(): AsyncGenerator<string> {
    const stream = createReadStream(filePath)
    const unpacked = isGzip ? pipeline(stream, createGunzip(), () => undefined) : stream
    const decoder = new StringDecoder('utf8')
    let rest = ''
    try {
      for await (const chunk of unpacked) {
        bytesRead = stream.bytesRead
        const parts = (rest + decoder.write(chunk as Buffer)).split('\n')
        rest = parts.pop()!
        for (const line of parts) yield line.endsWith('\r') ? line.slice(0, -1) : line
      }
    } catch (error) {
      // A cut or spoilt gzip file ends its lines early: that must not look like its end.
      if ((error as NodeJS.ErrnoException).code?.startsWith('Z_'))
        throw new AppError('badInput', `The file breaks off or is spoilt: ${(error as Error).message}`)
      throw error
    }
    rest += decoder.end()
    if (rest) yield rest
  }
  return { lines: lines(), bytesRead: () => Math.min(bytesRead, size), bytes: size }
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
  const verticesPath = String(control.job.payload.verticesPath)
  const vertices = await openLines(verticesPath)
  const edges = await openLines(file.row.filePath)
  const allBytes = vertices.bytes + edges.bytes
  const names = await readVertices(file, vertices.lines, () => control.step(vertices.bytesRead() * 0.95, allBytes))
  const batches = new LinkBatches(context, graphId)
  let [line, same] = [0, 0]
  for await (const text of edges.lines) {
    line++
    if (line % linesBetweenSteps === 0) await control.step((vertices.bytes + edges.bytesRead()) * 0.95, allBytes)
    if (!text.trim() || text.startsWith('#')) continue
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
      density: null,
      around: null,
      firstSeen: null,
      lastSeen: null,
      goneOn: null,
    })
    if (full) await full
  }
  await batches.finish()
  if (same) control.note(`Edges from a vertex to itself, left out: ${same}`)
  await sumAllLinks(context, graphId, control.signal)
  await file.finish()
  await rm(verticesPath, { force: true })
  await askForRank(context, control.job.siteId)
  await control.step(allBytes, allBytes)
  context.events.publish(control.job.siteId, { type: 'crawls' })
  const known = names.reduce(count => count + 1, 0)
  return { importId: file.row.id, vertices: known, lines: line, wrong: file.wrong, saved: batches.saved }
}

/** Addresses by the number of their vertex; a number without one is a hole. */
async function readVertices(
  file: OpenImport,
  lines: AsyncIterable<string>,
  step: () => Promise<unknown>,
): Promise<string[]> {
  const names: string[] = []
  /** The first vertices, kept until the direction of their names is told from them. */
  let waiting: Array<{ line: number; id: number; name: string }> | null = []
  let reversed = false
  let [line, count] = [0, 0]
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
  for await (const text of lines) {
    line++
    if (line % linesBetweenSteps === 0) await step()
    if (!text.trim() || text.startsWith('#')) continue
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
