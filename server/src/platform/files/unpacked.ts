import { createReadStream, type ReadStream } from 'node:fs'
import { open, stat } from 'node:fs/promises'
import { pipeline } from 'node:stream'
import { createGunzip } from 'node:zlib'
import { checkUnpacked, type FileBounds, FileError } from './file-bounds.ts'

const pieceBytes = 1 << 18

/** The first bytes of a file. */
export async function headOf(path: string, bytes: number): Promise<Buffer> {
  const file = await open(path)
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(bytes), 0, bytes, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await file.close()
  }
}

export const isGzip = (head: Buffer): boolean => head[0] === 0x1f && head[1] === 0x8b

/** The bytes of a file, unpacked where it is gzip, piece by piece; `read` tells how far the file itself has been read. */
export class Unpacked {
  readonly bytes: number
  readonly packed: boolean
  readonly #stream: ReadStream
  readonly #bounds: FileBounds
  #given = 0

  private constructor(path: string, bytes: number, packed: boolean, bounds: FileBounds) {
    this.bytes = bytes
    this.packed = packed
    this.#bounds = bounds
    this.#stream = createReadStream(path, { highWaterMark: pieceBytes })
  }

  static async open(path: string, bounds: FileBounds): Promise<Unpacked> {
    const { size } = await stat(path)
    return new Unpacked(path, size, isGzip(await headOf(path, 2)), bounds)
  }

  get read(): number {
    return Math.min(this.#stream.bytesRead, this.bytes)
  }

  /**
   * The pieces; `where` says what was being read when a bound is passed. Throws `FileError` when it is, and when the file is cut or spoilt.
   */
  async *pieces(where: () => string): AsyncGenerator<Buffer> {
    const stream = this.packed
      ? pipeline(this.#stream, createGunzip({ chunkSize: pieceBytes }), () => undefined)
      : this.#stream
    try {
      for await (const piece of stream as AsyncIterable<Buffer>) {
        this.#given += piece.length
        if (this.packed) checkUnpacked(this.#given, this.read, this.#bounds, where())
        yield piece
      }
    } catch (error) {
      // A cut or spoilt gzip file ends early: that must not look like its end.
      if ((error as NodeJS.ErrnoException).code?.startsWith('Z_'))
        throw new FileError('badInput', `The file is cut or spoilt (${(error as Error).message}, at ${where()})`)
      throw error
    } finally {
      this.#stream.destroy()
    }
  }
}
