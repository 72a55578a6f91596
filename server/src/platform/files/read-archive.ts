import { brotliDecompressSync, gunzipSync, inflateRawSync, inflateSync } from 'node:zlib'
import { type FileBounds, FileError, millions } from './file-bounds.ts'
import { Unpacked } from './unpacked.ts'

/** A record of a WARC archive (ISO 28500) as far as it is of use: what a web server answered. */
export type ArchiveRecord = {
  number: number
  url: string
  date: string
  status: number
  /** Names in small letters; of a name that comes twice the last. */
  headers: Record<string, string>
  body: Uint8Array
}
export type ArchivePart =
  | { kind: 'answer'; record: ArchiveRecord; byte: number }
  /** A record that is no answer of a web server. */
  | { kind: 'other'; byte: number }
  /** A record that cannot be read, or where the archive ends before its end; `ends`: nothing is read after it. */
  | { kind: 'problem'; number: number; what: string; ends: boolean; byte: number }

const mostHeaderBytes = 64_000
const headerEnd = Buffer.from('\r\n\r\n')
const recordStart = Buffer.from('WARC/1.')

/** Records of an archive, plain or gzip, one after another; what is wrong with one is told with its number, and the next ones are read. */
export async function* readArchive(path: string, bounds: FileBounds): AsyncGenerator<ArchivePart> {
  const file = await Unpacked.open(path, bounds)
  let number = 0
  const pieces = file.pieces(() => `record ${number}`)
  const reader = new ByteReader(pieces)
  const problem = (what: string, ends = false): ArchivePart => ({
    kind: 'problem',
    number,
    what,
    ends,
    byte: file.read,
  })
  try {
    for (;;) {
      if (!(await reader.skipLineEnds())) return
      number++
      const head = await reader.until(headerEnd, mostHeaderBytes)
      if (head === 'end') {
        yield problem('the archive is cut in its header', true)
        return
      }
      const fields = head === 'tooLong' ? null : warcFields(head)
      const length = fields ? Number(/^\d{1,15}$/.exec(fields['content-length'] ?? '')?.[0] ?? Number.NaN) : Number.NaN
      if (!fields || Number.isNaN(length)) {
        yield problem(fields ? 'its length is not told' : 'this is no record of a WARC archive')
        // A header that is too long was not passed over: its own begin must not be found again.
        if (head === 'tooLong') await reader.skip(1)
        if (!(await reader.skipTo(recordStart))) return
        continue
      }
      if (length > bounds.record) {
        const missing = await reader.skip(length)
        yield missing
          ? problem(`the archive is cut: ${missing.toLocaleString('en')} bytes are missing`, true)
          : problem(`it is larger than ${millions(bounds.record)} MB`)
        if (missing) return
        continue
      }
      const block = await reader.exactly(length)
      if (block.length < length) {
        yield problem(`the archive is cut: ${(length - block.length).toLocaleString('en')} bytes are missing`, true)
        return
      }
      const found = fields['warc-type'] === 'response' ? readAnswer(fields, block, number, bounds) : null
      if (typeof found === 'string') yield problem(found)
      else yield found ? { kind: 'answer', record: found, byte: file.read } : { kind: 'other', byte: file.read }
    }
  } catch (error) {
    // A gzip archive that is cut or spoilt; bounds that are passed end the reading for good.
    if (!(error instanceof FileError) || error.code !== 'badInput') throw error
    yield problem(error.message, true)
  }
}

/** Fields of a record's header by their names in small letters; null when it does not begin like one. */
function warcFields(head: Buffer): Record<string, string> | null {
  const [first = '', ...lines] = head.toString('utf8').split('\r\n')
  return /^WARC\/1\.\d/.test(first) ? fieldsOf(lines) : null
}

function fieldsOf(lines: readonly string[]): Record<string, string> {
  const fields: Record<string, string> = Object.create(null)
  let name = ''
  for (const line of lines) {
    if (/^[ \t]/.test(line) && name) {
      fields[name] += ` ${line.trim()}`
      continue
    }
    const colon = line.indexOf(':')
    if (colon <= 0) continue
    name = line.slice(0, colon).trim().toLowerCase()
    fields[name] = line.slice(colon + 1).trim()
  }
  return fields
}

/** The answer of a web server in a record's block; a text says what is wrong with it, null that it is none. */
function readAnswer(
  fields: Record<string, string>,
  block: Buffer,
  number: number,
  bounds: FileBounds,
): ArchiveRecord | string | null {
  const url = fields['warc-target-uri']?.replace(/^<|>$/g, '')
  const end = block.indexOf(headerEnd)
  const text = (end < 0 ? block.subarray(0, mostHeaderBytes) : block.subarray(0, end)).toString('latin1')
  const [first = '', ...lines] = text.split('\r\n')
  const status = Number(/^HTTP\/\d(?:\.\d)? (\d{3})\b/.exec(first)?.[1])
  if (!url || !status) return null
  const headers = fieldsOf(lines)
  try {
    let body = end < 0 ? Buffer.alloc(0) : block.subarray(end + headerEnd.length)
    if (/\bchunked\b/i.test(headers['transfer-encoding'] ?? '')) body = joinChunks(body)
    for (const coding of (headers['content-encoding'] ?? '')
      .toLowerCase()
      .split(/\s*,\s*/)
      .reverse())
      body = unpack(body, coding, bounds)
    // A copy, so that it can be handed over without the rest of the block.
    return { number, url, date: fields['warc-date'] ?? '', status, headers, body: Uint8Array.from(body) }
  } catch (error) {
    return `its body cannot be unpacked (${(error as Error).message})`
  }
}

function unpack(body: Buffer, coding: string, { record, ratio }: FileBounds): Buffer {
  const most = { maxOutputLength: Math.min(record, Math.max(1_000_000, body.length * ratio)) }
  switch (coding) {
    case '':
    case 'identity':
      return body
    case 'gzip':
    case 'x-gzip':
      return gunzipSync(body, most)
    case 'br':
      return brotliDecompressSync(body, most)
    case 'deflate':
      // Some servers leave out the frame that the standard asks for.
      return (body[0]! & 0x0f) === 8 ? inflateSync(body, most) : inflateRawSync(body, most)
    default:
      throw new Error(`content encoding "${coding.slice(0, 40)}" is not known`)
  }
}

/** The body that chunks make (RFC 9112). What is no chunk is taken for the body itself: archives often hold it joined, under the old header. */
function joinChunks(body: Buffer): Buffer {
  const parts: Buffer[] = []
  for (let at = 0; ; ) {
    const lineEnd = body.indexOf('\r\n', at)
    const size = lineEnd < 0 ? null : /^([0-9a-f]{1,8})[ \t]*(;.*)?$/i.exec(body.toString('latin1', at, lineEnd))
    if (!size) {
      if (at === 0) return body
      throw new Error('a chunk is broken')
    }
    const length = Number.parseInt(size[1]!, 16)
    if (length === 0) return Buffer.concat(parts)
    const begin = lineEnd + 2
    if (begin + length > body.length) throw new Error('a chunk is cut')
    parts.push(body.subarray(begin, begin + length))
    at = begin + length + 2
  }
}

/** Bytes of a stream of pieces, asked for by length or by what ends them. */
class ByteReader {
  readonly #pieces: AsyncIterator<Buffer>
  #held: Buffer = Buffer.alloc(0)
  #ended = false

  constructor(pieces: AsyncIterable<Buffer>) {
    this.#pieces = pieces[Symbol.asyncIterator]()
  }

  async #more(): Promise<boolean> {
    if (this.#ended) return false
    const { value, done } = await this.#pieces.next()
    if (done) {
      this.#ended = true
      return false
    }
    this.#held = this.#held.length ? Buffer.concat([this.#held, value]) : value
    return true
  }

  /** Passes over carriage returns and line feeds; false at the end. */
  async skipLineEnds(): Promise<boolean> {
    for (;;) {
      let at = 0
      while (at < this.#held.length && (this.#held[at] === 13 || this.#held[at] === 10)) at++
      this.#held = this.#held.subarray(at)
      if (this.#held.length) return true
      if (!(await this.#more())) return false
    }
  }

  /** Bytes before an end mark, which is passed over. */
  async until(mark: Buffer, most: number): Promise<Buffer | 'tooLong' | 'end'> {
    for (let from = 0; ; ) {
      const at = this.#held.indexOf(mark, from)
      if (at > most || (at < 0 && this.#held.length > most)) return 'tooLong'
      if (at >= 0) {
        const found = this.#held.subarray(0, at)
        this.#held = this.#held.subarray(at + mark.length)
        return found
      }
      from = Math.max(0, this.#held.length - mark.length + 1)
      if (!(await this.#more())) return 'end'
    }
  }

  /** So many bytes, fewer only at the end. */
  async exactly(length: number): Promise<Buffer> {
    // Pieces are collected, since joining them one by one would copy the first ones over and over.
    const parts = [this.#held]
    let have = this.#held.length
    this.#held = Buffer.alloc(0)
    while (have < length && (await this.#more())) {
      parts.push(this.#held)
      have += this.#held.length
      this.#held = Buffer.alloc(0)
    }
    const all = parts.length === 1 ? parts[0]! : Buffer.concat(parts)
    this.#held = all.subarray(Math.min(length, all.length))
    return all.subarray(0, length)
  }

  /** Passes over so many bytes; gives how many of them were not there. */
  async skip(length: number): Promise<number> {
    let left = length
    for (;;) {
      const step = Math.min(left, this.#held.length)
      this.#held = this.#held.subarray(step)
      left -= step
      if (!left || !(await this.#more())) return left
    }
  }

  /** Passes over bytes up to a mark, which is kept; false when there is none any more. */
  async skipTo(mark: Buffer): Promise<boolean> {
    for (;;) {
      const at = this.#held.indexOf(mark)
      if (at >= 0) {
        this.#held = this.#held.subarray(at)
        return true
      }
      this.#held = this.#held.subarray(Math.max(0, this.#held.length - mark.length + 1))
      if (!(await this.#more())) return false
    }
  }
}
