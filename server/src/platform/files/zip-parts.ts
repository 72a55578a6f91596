import { StringDecoder } from 'node:string_decoder'
import { Parser } from 'htmlparser2'
import { type Entry, open, type ZipFile } from 'yauzl'
import { checkUnpacked, type FileBounds, FileError } from './file-bounds.ts'

const mostParts = 10_000

/** The parts of a zip archive, by their names. */
export class ZipParts {
  readonly #zip: ZipFile
  readonly #entries: ReadonlyMap<string, Entry>
  readonly #bounds: FileBounds
  #unpacked = 0
  #packed = 0

  private constructor(zip: ZipFile, entries: ReadonlyMap<string, Entry>, bounds: FileBounds) {
    this.#zip = zip
    this.#entries = entries
    this.#bounds = bounds
  }

  static async open(path: string, bounds: FileBounds): Promise<ZipParts> {
    const zip = await new Promise<ZipFile>((resolve, reject) =>
      open(path, { lazyEntries: true, autoClose: false }, (error, zip) => (error ? reject(error) : resolve(zip!))),
    )
    try {
      const entries = new Map<string, Entry>()
      await new Promise<void>((resolve, reject) => {
        zip.on('entry', (entry: Entry) => {
          if (entries.size >= mostParts) {
            reject(new FileError('tooLarge', `The archive has more than ${mostParts.toLocaleString('en')} parts`))
            return
          }
          entries.set(entry.fileName, entry)
          zip.readEntry()
        })
        zip.on('end', resolve)
        zip.on('error', reject)
        zip.readEntry()
      })
      return new ZipParts(zip, entries, bounds)
    } catch (error) {
      zip.close()
      throw error
    }
  }

  has(name: string): boolean {
    return this.#entries.has(name)
  }

  close(): void {
    this.#zip.close()
  }

  /** The text of a part, piece by piece. Throws `FileError` when a bound is passed. */
  async *text(name: string): AsyncGenerator<string> {
    const entry = this.#entries.get(name)
    if (!entry) throw new FileError('badInput', `The part "${name}" is missing`)
    if (entry.generalPurposeBitFlag & 1)
      throw new FileError('badInput', 'The workbook is protected by a password. Save it without one.')
    const stream = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
      this.#zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream!))),
    )
    const decoder = new StringDecoder('utf8')
    this.#packed += entry.compressedSize
    for await (const piece of stream as AsyncIterable<Buffer>) {
      this.#unpacked += piece.length
      checkUnpacked(this.#unpacked, this.#packed, this.#bounds, `the part "${name}"`)
      yield decoder.write(piece)
    }
    yield decoder.end()
  }

  /**
   * Reads a part as XML: `open`, `text` and `close` hear of elements (without the prefixes of their names) and of the text in them, and
   * after every piece of it something may be given.
   */
  async *xml<T>(name: string, heard: XmlListener, afterPiece: () => Iterable<T> = () => []): AsyncGenerator<T> {
    const parser = new Parser(
      {
        onopentag: (tag, attributes) => heard.open(localName(tag), attributes),
        ontext: text => heard.text?.(text),
        onclosetag: tag => heard.close?.(localName(tag)),
        onerror: error => {
          throw error
        },
      },
      { xmlMode: true, decodeEntities: true },
    )
    for await (const piece of this.text(name)) {
      parser.write(piece)
      yield* afterPiece()
    }
    parser.end()
    yield* afterPiece()
  }

  /** Reads a part as XML for what is heard of it. */
  async readXml(name: string, heard: XmlListener): Promise<void> {
    for await (const _ of this.xml<never>(name, heard));
  }
}

export type XmlListener = {
  open(name: string, attributes: Record<string, string>): void
  text?(text: string): void
  close?(name: string): void
}

export const localName = (name: string): string => name.slice(name.indexOf(':') + 1)
