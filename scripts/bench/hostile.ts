import { createReadStream, createWriteStream } from 'node:fs'
import { once } from 'node:events'
import { stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { setTimeout as sleep } from 'node:timers/promises'
import { createGzip } from 'node:zlib'
import { archivePath } from '@dew-trail/contract/crawl'
import { edgesPath, runImport, type Uploaded, uploadPath, verticesPath } from '@dew-trail/contract/imports'
import { getJob } from '@dew-trail/contract/jobs'
import { createSite, type Site } from '@dew-trail/contract/sites'
import { Zip, ZipDeflate } from 'fflate'
import { callServer } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { residentMb } from '../lib/resident.ts'
import { type Stack, startStack } from '../lib/stack.ts'

/** One piece over and over, gzipped into a file. */
const gzipOf = (file: string, pieces: Iterable<Buffer>): Promise<void> =>
  pipeline(Readable.from(pieces), createGzip({ level: 9 }), createWriteStream(file))
function* repeated(piece: Buffer, times: number, first = ''): Generator<Buffer> {
  if (first) yield Buffer.from(first)
  for (let i = 0; i < times; i++) yield piece
}

const record = (length: number): string =>
  `WARC/1.0\r\nWARC-Type: response\r\nWARC-Target-URI: http://clay.example/\r\nWARC-Date: 2026-11-01T10:00:00Z\r\nContent-Length: ${length}\r\n\r\nHTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n`

/** A workbook of some megabytes whose first sheet unpacks to hundreds: many small cells, or texts that all cells share. */
async function writeWorkbook(file: string, rows: number, more: string): Promise<void> {
  const out = createWriteStream(file)
  const zip = new Zip((error, chunk, final) => {
    if (error) throw error
    out.write(chunk)
    if (final) out.end()
  })
  const part = (name: string, pieces: Iterable<string>): void => {
    const entry = new ZipDeflate(name, { level: 6 })
    zip.add(entry)
    for (const piece of pieces) entry.push(Buffer.from(piece))
    entry.push(new Uint8Array(), true)
  }
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
  part('_rels/.rels', [
    `<Relationships><Relationship Id="a" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
  ])
  part('xl/workbook.xml', [`<workbook xmlns:r="${office}"><sheets><sheet name="a" r:id="b"/></sheets></workbook>`])
  part('xl/_rels/workbook.xml.rels', [
    `<Relationships><Relationship Id="b" Type="${office}/worksheet" Target="sheet.xml"/><Relationship Id="c" Type="${office}/sharedStrings" Target="strings.xml"/></Relationships>`,
  ])
  function* strings(): Generator<string> {
    yield '<sst>'
    if (more === 'texts') for (let i = 0; i < 40_000; i++) yield `<si><t>${'word '.repeat(1_000)}${i}</t></si>`
    yield '</sst>'
  }
  part('xl/strings.xml', strings())
  function* cells(): Generator<string> {
    yield '<sheetData><row><c t="str"><v>keyword</v></c><c t="str"><v>volume</v></c></row>'
    const row = `<row>${'<c><v>1</v></c>'.repeat(more === 'texts' ? 2 : 2_500)}</row>`
    for (let i = 0; i < rows; i++) yield row
    yield '</sheetData>'
  }
  part('xl/sheet.xml', cells())
  zip.end()
  await once(out, 'close')
}

/** A large table whose second row opens a quote that nobody closes. */
async function writeOpenQuote(file: string): Promise<void> {
  function* rows(): Generator<string> {
    yield 'keyword,volume\n"open,1\n'
    for (let at = 0; at < 4_500_000; at += 10_000)
      yield Array.from({ length: 10_000 }, (_, i) => `clay word ${at + i},${i % 900}\n`).join('')
  }
  await pipeline(Readable.from(rows()), createWriteStream(file))
}

/** Sends a file; gives what the server says, also when it refuses it. */
async function send<T>(stack: Stack, path: string, file: string): Promise<T | null> {
  const response = await fetch(stack.server + path, {
    method: 'POST',
    body: createReadStream(file) as unknown as ReadableStream,
    duplex: 'half',
    headers: { 'content-type': 'text/csv', 'content-length': String((await stat(file)).size) },
  } as RequestInit)
  const answer = await response.json()
  return response.ok ? (answer as T) : null
}
async function end(stack: Stack, jobId: number | undefined): Promise<void> {
  if (jobId === undefined) return
  while ((await callServer(stack.server, getJob, { jobId })).endedAt === null) await sleep(100)
}
async function readTable(stack: Stack, site: Site, file: string): Promise<void> {
  const uploaded = await send<Uploaded>(stack, uploadPath(site.id, 'keywords', 'file'), file)
  if (!uploaded) return
  const { importId } = uploaded
  const marketId = site.markets[0]!.id
  const mapping = { phrase: 0, searches: 1 }
  await end(stack, (await callServer(stack.server, runImport, { siteId: site.id, importId, marketId, mapping })).jobId)
}
async function readArchive(stack: Stack, site: Site, file: string): Promise<void> {
  await end(stack, (await send<{ jobId: number }>(stack, archivePath(site.id, 'file'), file))?.jobId)
}
async function readGraph(stack: Stack, site: Site, vertices: string): Promise<void> {
  const received = await send<{ importId: number }>(stack, verticesPath(site.id, 'file'), vertices)
  const edges = join(stack.folder, 'edges.txt')
  await writeFile(edges, '0\t1\n')
  if (received)
    await end(
      stack,
      (await send<{ jobId: number }>(stack, edgesPath(site.id, received.importId, 'file'), edges))?.jobId,
    )
}

/** Files made to bring a program down, or simply broken, read one after another while somebody asks the server how it is. */
export const hostileBench: Entry = {
  name: 'imports.hostile',
  gives: ['imports.hostile.wait', 'imports.hostile.memory'],
  async run() {
    const stack = await startStack({ size: 0.1 })
    try {
      const site = await callServer(stack.server, createSite, { domain: 'hostile.example', name: 'Hostile' })
      const at = (name: string): string => join(stack.folder, name)
      const zeros = Buffer.alloc(1_000_000)
      await writeFile(at('cut.warc'), `${record(50_000)}half a page`)
      await gzipOf(at('bomb.warc.gz'), repeated(zeros, 1_900, record(1_900_000_000)))
      await gzipOf(at('line.txt.gz'), repeated(Buffer.alloc(1_000_000, 'x'), 300))
      await writeWorkbook(at('cells.xlsx'), 12_000, 'cells')
      await writeWorkbook(at('texts.xlsx'), 1_000, 'texts')
      await writeOpenQuote(at('quote.csv'))
      await sleep(2_000)
      const before = residentMb(stack.serverPid)
      let [peak, wait, running] = [before, 0, true]
      const asking = (async () => {
        while (running) {
          const startedMs = performance.now()
          await (await fetch(`${stack.server}/api/health`)).text()
          wait = Math.max(wait, performance.now() - startedMs)
          peak = Math.max(peak, residentMb(stack.serverPid))
          await sleep(20)
        }
      })()
      const each = async (name: string, work: Promise<void>): Promise<void> => {
        const startedMs = performance.now()
        const [waitBefore, peakBefore] = [wait, peak]
        await work
        const seconds = ((performance.now() - startedMs) / 1000).toFixed(1)
        console.log(
          `  ${name}: ${seconds} s${wait > waitBefore ? `, longest answer ${Math.round(wait)} ms` : ''}${peak > peakBefore ? `, ${Math.round(peak - before)} MB more` : ''}`,
        )
      }
      await each('archive that is cut', readArchive(stack, site, at('cut.warc')))
      await each('archive with one record of zeros', readArchive(stack, site, at('bomb.warc.gz')))
      await each('graph with one endless line', readGraph(stack, site, at('line.txt.gz')))
      await each('workbook of many cells', readTable(stack, site, at('cells.xlsx')))
      await each('workbook of long texts', readTable(stack, site, at('texts.xlsx')))
      await each('table with one open quote', readTable(stack, site, at('quote.csv')))
      running = false
      await asking
      return [
        { name: 'imports.hostile.wait', value: wait, unit: 'ms, longest answer of /api/health', better: 'lower' },
        { name: 'imports.hostile.memory', value: peak - before, unit: 'MB more of the server', better: 'lower' },
      ]
    } finally {
      await stack.close()
    }
  },
}
