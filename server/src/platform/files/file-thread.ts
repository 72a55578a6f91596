import { createWriteStream } from 'node:fs'
import { rename } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { parentPort } from 'node:worker_threads'
import type { FileBounds } from './file-bounds.ts'
import { type ArchivePart, readArchive } from './read-archive.ts'
import { type LinePart, readLines } from './read-lines.ts'
import { readTable, type TableFile, type TablePart } from './read-table.ts'
import { isZip, workbookToCsv } from './read-workbook.ts'
import { sniffTable, type TableShape } from './sniff-table.ts'
import { headOf, isGzip, Unpacked } from './unpacked.ts'

/** What a thread can read of a file, and what its parts are. */
export type FileTasks = {
  /** Makes an uploaded table a plain text file in its place and tells how it is written. */
  prepare: { input: { path: string }; part: TableShape }
  table: { input: TableFile; part: TablePart }
  lines: { input: { path: string }; part: LinePart }
  archive: { input: { path: string }; part: ArchivePart }
}
export type FileTask = keyof FileTasks
export type FileQuestion = { task: FileTask; input: never; bounds: FileBounds }
export type FileAnswer = { part: unknown } | { ended: true } | { error: string; code?: unknown }
/** An answer with the number of the file it is of, counted in this thread from 1. */
export type NumberedAnswer = { file: number; answer: FileAnswer }

const readers: {
  [T in FileTask]: (input: FileTasks[T]['input'], bounds: FileBounds) => AsyncIterator<FileTasks[T]['part']>
} = {
  prepare: ({ path }, bounds) => prepare(path, bounds),
  table: readTable,
  lines: ({ path }, bounds) => readLines(path, bounds),
  archive: ({ path }, bounds) => readArchive(path, bounds),
}

async function* prepare(path: string, bounds: FileBounds): AsyncGenerator<TableShape> {
  const head = await headOf(path, 4)
  if (isGzip(head)) {
    const file = await Unpacked.open(path, bounds)
    await pipeline(Readable.from(file.pieces(() => 'its content')), createWriteStream(`${path}.csv`))
    await rename(`${path}.csv`, path)
  }
  if (isZip(await headOf(path, 4))) await workbookToCsv(path, bounds)
  yield await sniffTable(path, bounds)
}

/** Memory that goes to the server with a part instead of being copied. */
function handedOver(part: unknown): ArrayBuffer[] {
  const { bytes, record } = part as { bytes?: Uint8Array; record?: { body: Uint8Array } }
  const held = bytes instanceof Uint8Array ? bytes : record?.body
  // Small buffers share the memory of others.
  return held && held.byteLength === held.buffer.byteLength ? [held.buffer as ArrayBuffer] : []
}

let file = 0
let parts: AsyncIterator<unknown> | undefined
let waiting = Promise.resolve()
/** A question begins a file; each "next" asks for one more part of it. */
parentPort!.on('message', (message: FileQuestion | 'next') => {
  if (message !== 'next') {
    parts = readers[message.task](message.input, message.bounds)
    file++
    return
  }
  const [of, iterator] = [file, parts!]
  const answer = (answer: FileAnswer, handed: ArrayBuffer[] = []): void =>
    parentPort!.postMessage({ file: of, answer } satisfies NumberedAnswer, handed)
  waiting = waiting.then(async () => {
    try {
      const { value, done } = await iterator.next()
      if (done) answer({ ended: true })
      else answer({ part: value }, handedOver(value))
    } catch (error) {
      const { message: what, code } = error as NodeJS.ErrnoException
      answer({ error: what, code })
    }
  })
})
