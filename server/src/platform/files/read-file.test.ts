import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { brotliCompressSync, deflateRawSync, gzipSync } from 'node:zlib'
import { afterAll, describe, expect, test } from 'vitest'
import type { FileBounds } from './file-bounds.ts'
import { type ArchivePart, readArchive } from './read-archive.ts'
import { readLines } from './read-lines.ts'
import { prepareTable, readFileParts } from './read-file.ts'
import { readTable, type TableFile } from './read-table.ts'
import { sniffTable } from './sniff-table.ts'
import { testBounds } from './test-bounds.ts'

const folder = mkdtempSync(join(tmpdir(), 'dew-trail-files-'))
afterAll(() => rmSync(folder, { recursive: true }))
let files = 0
const fileWith = (content: string | Buffer): string => {
  const path = join(folder, String(files++))
  writeFileSync(path, content)
  return path
}
const sniff = (content: string | Buffer) => sniffTable(fileWith(content), testBounds)

describe('how a table is written', () => {
  test('its separator, its encoding and the line that names the columns are detected', async () => {
    expect(await sniff('a;b,c;d\n1;2,3;4\n')).toMatchObject({
      separator: ';',
      header: ['a', 'b,c', 'd'],
      headerLine: 1,
    })
    expect(await sniff('a\tb\n1\t2\n')).toMatchObject({ separator: '\t', encoding: 'utf-8' })
    expect(await sniff('only\none\n')).toMatchObject({ separator: ',', header: ['only'], preview: [['one']] })
    expect(await sniff('"a,b",c\n"d,e",f\n')).toMatchObject({ header: ['a,b', 'c'], preview: [['d,e', 'f']] })
    expect(await sniff('a\n')).toMatchObject({ separator: ',', header: ['a'], preview: [] })
    expect(await sniff('\ufeffkeyword,n\nkiln,1\n')).toMatchObject({ header: ['keyword', 'n'] })
  })
  test('lines above the table, blank ones and a hint of the separator are no header', async () => {
    expect(await sniff('Export of 3 March\nAll keywords\n\nkeyword,volume,cpc\nkiln,1,2\nmug,3,4\n')).toMatchObject({
      headerLine: 4,
      header: ['keyword', 'volume', 'cpc'],
      preview: [
        ['kiln', '1', '2'],
        ['mug', '3', '4'],
      ],
    })
    expect(await sniff('keyword,searches\nkiln,30,0.5,x\nmug,3,1,y\n')).toMatchObject({
      headerLine: 1,
      header: ['keyword', 'searches'],
    })
    expect(await sniff('sep=;\nkeyword;volume\nkiln, red;1\n')).toMatchObject({
      separator: ';',
      headerLine: 2,
      header: ['keyword', 'volume'],
    })
    expect(await sniff('sep=;\r\nkeyword\r\nkiln\r\n')).toMatchObject({ headerLine: 2, header: ['keyword'] })
  })
  test('one byte in another encoding far down makes the whole file Windows-1252', async () => {
    const lines = `keyword,volume\n${'clay,1\n'.repeat(40_000)}`
    expect(await sniff(lines)).toMatchObject({ encoding: 'utf-8' })
    expect(await sniff(Buffer.concat([Buffer.from(lines), Buffer.from('t\xf6pfer,5\n', 'latin1')]))).toMatchObject({
      encoding: 'windows-1252',
    })
    expect(await sniff(lines.replaceAll('clay', 'größe'))).toMatchObject({ encoding: 'utf-8' })
    expect(await sniff('größe'.repeat(300_000))).toMatchObject({ encoding: 'utf-8' })
  })
  test('UTF-16 is told with and without its mark', async () => {
    const little = Buffer.from('keyword,volume\nglasur größe,70\n', 'utf16le')
    const big = Buffer.from(little).swap16()
    expect(await sniff(little)).toMatchObject({ encoding: 'utf-16le', header: ['keyword', 'volume'] })
    expect(await sniff(big)).toMatchObject({ encoding: 'utf-16be', preview: [['glasur größe', '70']] })
    expect(await sniff(Buffer.concat([Buffer.from([0xff, 0xfe]), little]))).toMatchObject({ encoding: 'utf-16le' })
  })
  test('what is no text is refused', async () => {
    await expect(sniff(Buffer.from('%PDF-1.7 ...'))).rejects.toMatchObject({ code: 'badInput' })
    await expect(sniff(Buffer.from(Array.from({ length: 4_000 }, (_, i) => (i * 7) % 5)))).rejects.toMatchObject({
      code: 'badInput',
    })
    await expect(sniff('\n\n , \n')).rejects.toThrow(/no line with column names/)
  })
})

async function rowsOf(content: string | Buffer, more: Partial<TableFile> = {}) {
  const path = fileWith(content)
  const found = { plain: '', rows: [] as string[][], lines: [] as number[], problems: [] as string[], byte: 0 }
  const file = { path, encoding: 'utf-8', separator: ',', headerLine: 1, columns: 2, plain: false, ...more }
  for await (const part of readTable(file, testBounds)) {
    found.byte = part.byte
    if (part.kind === 'plain') found.plain += `${part.firstLine}:${Buffer.from(part.bytes)}`
    else {
      found.rows.push(...part.rows)
      found.lines.push(...part.lines)
      found.problems.push(...part.problems.map(({ line, what }) => `${line} ${what}`))
    }
  }
  return found
}

describe('rows of a table', () => {
  test('come as bytes as long as no line needs the parser, below the header and what stands above it', async () => {
    expect(await rowsOf('x\ny\na,b\nc,1\nd,2', { plain: true, headerLine: 3 })).toMatchObject({
      plain: '4:c,1\n5:d,2\n',
      rows: [],
    })
    expect(await rowsOf('a,b\n', { plain: true })).toMatchObject({ plain: '', rows: [] })
    expect(await rowsOf('a,b\r\nc,1\nd,2\r\n', { plain: true })).toMatchObject({ plain: '2:c,1\nd,2\r\n' })
  })
  test('are parsed from the part on in which a quote stands, with their line numbers', async () => {
    const plain = Array.from({ length: 90_000 }, (_, i) => `word number ${i},${i}\n`).join('')
    const found = await rowsOf(`a,b\n${plain}"c, d",7\n`, { plain: true })
    expect(found.plain.length).toBeGreaterThan(1_000_000)
    expect(found.rows.at(-1)).toEqual(['c, d', '7'])
    expect(found.lines.at(-1)).toBe(90_002)
    expect(found.plain.split('\n').length - 1 + found.rows.length).toBe(90_001)
  })
  test('of an old file that ends lines with carriage returns are all there', async () => {
    expect((await rowsOf('a,b\rc,1\rd,2\r', { plain: true })).rows).toEqual([
      ['c', '1'],
      ['d', '2'],
    ])
  })
  test('of a file with one open quote are all there but that one', async () => {
    const many = Array.from({ length: 50_000 }, (_, i) => `word ${i},${i}\n`).join('')
    const found = await rowsOf(`a,b\nx,"open\n${many}`, { plain: true })
    expect(found.rows).toHaveLength(50_000)
    expect(found.problems).toEqual(['2 A quote is opened here and never closed'])
  })
})

describe('lines', () => {
  const all = async (content: Buffer, bounds: FileBounds = testBounds) => {
    const out = { lines: [] as string[], problems: [] as string[] }
    for await (const part of readLines(fileWith(content), bounds)) {
      expect(part.firstLine).toBe(out.lines.length + 1)
      out.lines.push(...part.lines)
      out.problems.push(...part.problems.map(({ line, what }) => `${line} ${what}`))
    }
    return out
  }
  test.each(['plain', 'gzip'])('of a %s file keep their numbers beside one without end', async kind => {
    const text = Buffer.from(`a\r\n${'x'.repeat(900_000)}\nb\nc`)
    expect(await all(kind === 'gzip' ? gzipSync(text) : text)).toEqual({
      lines: ['a', '', 'b', 'c'],
      problems: ['2 The line is longer than 2,000 characters'],
    })
  })
  test('a bomb is refused at its bound, a cut file where it is cut', async () => {
    await expect(all(gzipSync(Buffer.alloc(40_000_000, 'x')))).rejects.toMatchObject({
      code: 'tooLarge',
      message: expect.stringContaining('100 times its size'),
    })
    const lines = gzipSync(Buffer.from(Array.from({ length: 40_000 }, (_, i) => `${i * 7919}\n`).join('')))
    await expect(all(lines.subarray(0, lines.length >> 1))).rejects.toMatchObject({
      code: 'badInput',
      message: expect.stringMatching(/cut or spoilt.*at line/),
    })
  })
})

/** A record of a WARC archive. */
const warc = (body: Buffer | string, http = '', more = ''): Buffer => {
  const block = Buffer.concat([
    Buffer.from(`HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n${http}\r\n`),
    Buffer.from(body),
  ])
  return Buffer.concat([
    Buffer.from(
      `WARC/1.0\r\nWARC-Type: response\r\nWARC-Target-URI: http://clay.example/\r\nWARC-Date: 2026-11-01T10:00:00Z\r\n${more}Content-Length: ${block.length}\r\n\r\n`,
    ),
    block,
    Buffer.from('\r\n\r\n'),
  ])
}
const records = async (content: Buffer): Promise<string[]> => {
  const out: string[] = []
  for await (const part of readArchive(fileWith(content), testBounds)) out.push(nameOf(part))
  return out
}
const nameOf = (part: ArchivePart): string =>
  part.kind === 'answer'
    ? `${part.record.number} ${Buffer.from(part.record.body)}`
    : part.kind === 'problem'
      ? `${part.number} ! ${part.what}`
      : 'other'

describe('records of an archive', () => {
  test('are read packed and unpacked, in every content encoding', async () => {
    const text = '<p>größe</p>'
    const all = Buffer.concat([
      warc(text),
      warc(gzipSync(text), 'Content-Encoding: gzip\r\n'),
      warc(brotliCompressSync(text), 'Content-Encoding: br\r\n'),
      warc(deflateRawSync(text), 'Content-Encoding: deflate\r\n'),
      warc('4\r\n<p>g\r\n5;x=1\r\nr</p>\r\n0\r\n\r\n', 'Transfer-Encoding: chunked\r\n'),
      warc(text, 'Transfer-Encoding: chunked\r\n'),
    ])
    const wanted = [`1 ${text}`, `2 ${text}`, `3 ${text}`, `4 ${text}`, '5 <p>gr</p>', `6 ${text}`]
    expect(await records(all)).toEqual(wanted)
    expect(await records(gzipSync(all))).toEqual(wanted)
    expect(await records(Buffer.concat([gzipSync(warc('a')), gzipSync(warc('b'))]))).toEqual(['1 a', '2 b'])
  })
  test('an archive that is cut says where, at every byte, and ends', async () => {
    const whole = Buffer.concat([warc('first'), warc('second')])
    for (let end = 1; end < whole.length - 4; end += 7) {
      const found = await records(whole.subarray(0, end))
      expect(found.at(-1), String(end)).toMatch(/^\d !|^1 first$/)
      expect(found.length).toBeLessThanOrEqual(2)
    }
    const packed = gzipSync(whole)
    for (let end = 20; end < packed.length - 1; end += 5)
      expect((await records(packed.subarray(0, end))).at(-1), String(end)).toMatch(/ ! (the archive|The file) is cut/)
  })
  test('a record that is corrupt, too large or a bomb is reported by its number, and the next ones are read', async () => {
    const spoilt = warc('x')
    spoilt.write('JUNK', 0)
    const found = await records(
      Buffer.concat([
        spoilt,
        warc('y'),
        warc('z'.repeat(200_000)),
        warc(gzipSync(Buffer.alloc(3_000_000)), 'Content-Encoding: gzip\r\n'),
        warc('w', 'Content-Encoding: odd\r\n'),
        warc('last'),
      ]),
    )
    expect(found).toEqual([
      '1 ! this is no record of a WARC archive',
      '2 y',
      '3 ! it is larger than 0 MB',
      expect.stringMatching(/^4 ! its body cannot be unpacked/),
      '5 ! its body cannot be unpacked (content encoding "odd" is not known)',
      '6 last',
    ])
  })
  test('a header without end or without length does not stop the reading', async () => {
    const endless = Buffer.from(`WARC/1.0\r\nX: ${'y'.repeat(70_000)}`)
    const bare = Buffer.from('WARC/1.0\r\nWARC-Type: response\r\n\r\n')
    expect(await records(Buffer.concat([endless, Buffer.from('\r\n\r\n'), bare, warc('z')]))).toEqual([
      '1 ! this is no record of a WARC archive',
      '2 ! its length is not told',
      '3 z',
    ])
  })
})

describe('a file read in a thread', () => {
  test('gives its parts, and a packed table becomes plain', async () => {
    const path = fileWith(gzipSync('keyword,volume\nkiln,1\n'))
    expect(await prepareTable(path, testBounds)).toMatchObject({
      header: ['keyword', 'volume'],
      preview: [['kiln', '1']],
    })
    expect(readFileSync(path, 'utf8')).toBe('keyword,volume\nkiln,1\n')
  })
  test('that takes too much memory or time is refused, and the thread ends', async () => {
    const rows = fileWith(Array.from({ length: 200_000 }, (_, i) => `"word, ${i}",${i}\n`).join(''))
    const input = { path: rows, encoding: 'utf-8', separator: ',', headerLine: 1, columns: 2, plain: false }
    const read = async (bounds: Partial<FileBounds>) => {
      for await (const _ of readFileParts('table', input, { ...testBounds, ...bounds }));
    }
    await expect(read({ memoryMb: 2 })).rejects.toMatchObject({
      code: 'tooLarge',
      message: expect.stringContaining('2 MB of memory'),
    })
    await expect(read({ seconds: 0.000_1 })).rejects.toMatchObject({
      code: 'tooLarge',
      message: expect.stringContaining('seconds'),
    })
    await read({})
  })
  test('one after another is read whole, each with its own lines, after one that was refused or left early too', async () => {
    const linesOf = async (path: string): Promise<string[]> => {
      const lines: string[] = []
      for await (const part of readFileParts('lines', { path }, testBounds)) lines.push(...part.lines)
      return lines
    }
    const [as, bs] = [Array<string>(2_000).fill('a'), Array<string>(3_000).fill('b')]
    const [one, two] = [as, bs].map(each => fileWith(`${each.join('\n')}\n`)) as [string, string]
    expect(await linesOf(one)).toEqual(as)
    expect(await linesOf(two)).toEqual(bs)
    await expect(prepareTable(fileWith('PK\x03\x04 half'), testBounds)).rejects.toMatchObject({ code: 'badInput' })
    for await (const _ of readFileParts('lines', { path: one }, testBounds)) break
    expect(await Promise.all([linesOf(one), linesOf(two)])).toEqual([as, bs])
  })
  test('ends when it is told to', async () => {
    const stop = new AbortController()
    const path = fileWith('a\n'.repeat(3_000_000))
    const reading = (async () => {
      for await (const _ of readFileParts('lines', { path }, testBounds, stop.signal)) stop.abort(new Error('enough'))
    })()
    await expect(reading).rejects.toThrow('enough')
  })
})
