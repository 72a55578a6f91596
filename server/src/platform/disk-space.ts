import { statfs } from 'node:fs/promises'
import { AppError } from '@dew-trail/contract/errors'

const lookEveryMs = 20_000

/** Room on the disk that holds the data folder. Looked at now and then, so that it is told before it ends. */
export class DiskSpace {
  readonly #folder: string
  readonly #lowBytes: number
  readonly #reserveBytes: number
  readonly #timer: NodeJS.Timeout
  /** Null where the system does not tell. */
  freeBytes: number | null = null

  constructor(folder: string, { lowBytes, reserveBytes }: { lowBytes: number; reserveBytes: number }) {
    this.#folder = folder
    this.#lowBytes = lowBytes
    this.#reserveBytes = reserveBytes
    this.#timer = setInterval(() => void this.look(), lookEveryMs)
    this.#timer.unref()
  }

  get isLow(): boolean {
    return this.freeBytes !== null && this.freeBytes < this.#lowBytes
  }

  /** Reads how many bytes are free. */
  async look(): Promise<number | null> {
    this.freeBytes = await statfs(this.#folder).then(
      ({ bavail, bsize }) => bavail * bsize,
      () => null,
    )
    return this.freeBytes
  }

  /** How many bytes may still be written without touching what is kept for the database; no limit where the system does not tell. */
  async room(): Promise<number> {
    const free = await this.look()
    return free === null ? Number.POSITIVE_INFINITY : Math.max(0, free - this.#reserveBytes)
  }

  /** Throws `diskFull` when so many bytes more would leave too little for the database. */
  async needRoom(bytes: number): Promise<void> {
    if (bytes < (await this.room())) return
    throw new AppError(
      'diskFull',
      `Only ${megabytes(this.freeBytes ?? 0)} MB are free on the disk, and ${megabytes(this.#reserveBytes)} MB of it are kept for the database. Nothing was changed; make room and try again.`,
    )
  }

  close(): void {
    clearInterval(this.#timer)
  }
}

const megabytes = (bytes: number): string => Math.floor(bytes / 1e6).toLocaleString('en')
