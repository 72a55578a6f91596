import type { Config } from '../config.ts'

/** What a file from outside may take while it is read. Passing a bound is said with its line or record. */
export type FileBounds = {
  /** Of a line, in bytes. */
  line: number
  /** Of a cell, in characters. */
  cell: number
  /** Cells of a row. */
  columns: number
  /** Of a record of an archive, in bytes, packed and unpacked. */
  record: number
  /** Of everything that a packed file holds, in bytes, and how many times its own size that may be. */
  unpacked: number
  ratio: number
  /** Of the thread that reads, in megabytes. */
  memoryMb: number
  /** For one part of a file, in seconds. */
  seconds: number
}

export const fileBounds = (config: Config): FileBounds => ({
  line: config.FILE_MAX_LINE_BYTES,
  cell: config.FILE_MAX_CELL_CHARS,
  columns: config.FILE_MAX_COLUMNS,
  record: config.FILE_MAX_RECORD_BYTES,
  unpacked: config.FILE_MAX_UNPACKED_BYTES,
  ratio: config.FILE_MAX_RATIO,
  memoryMb: config.FILE_MEMORY_MB,
  seconds: config.FILE_SECONDS,
})

/** A packed file is only measured against its own size once it holds this much: short ones pack well. */
const ratioFromBytes = 20_000_000

/** Something is wrong with a file that ends its reading. Threads give it to the server with its code. */
export class FileError extends Error {
  readonly code: 'badInput' | 'tooLarge'
  constructor(code: 'badInput' | 'tooLarge', message: string) {
    super(message)
    this.code = code
  }
}

/** Throws when what was unpacked so far passes a bound. `where`: "line 12", "record 3", the name of a part. */
export function checkUnpacked(unpacked: number, packed: number, bounds: FileBounds, where: string): void {
  if (unpacked > bounds.unpacked)
    throw new FileError(
      'tooLarge',
      `Unpacked, the file is larger than ${millions(bounds.unpacked)} MB (reached at ${where}). Split it, or raise FILE_MAX_UNPACKED_BYTES.`,
    )
  if (unpacked > ratioFromBytes && unpacked > packed * bounds.ratio)
    throw new FileError(
      'tooLarge',
      `The file unpacks to more than ${bounds.ratio} times its size (reached at ${where}), as no honest file does. Unpack it yourself, or raise FILE_MAX_RATIO.`,
    )
}

export const millions = (bytes: number): string => Math.round(bytes / 1e6).toLocaleString('en')
