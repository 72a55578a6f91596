import { setImmediate } from 'node:timers/promises'
import type { Worker } from 'node:worker_threads'
import { AppError } from '@dew-trail/contract/errors'
import PQueue from 'p-queue'
import { openThread } from '../jobs/open-thread.ts'
import type { FileBounds } from './file-bounds.ts'
import type { FileAnswer, FileTask, FileTasks, NumberedAnswer } from './file-thread.ts'

/** The bytes of a part as they come from a thread, as a buffer on the same memory. */
export const bufferOf = ({ buffer, byteOffset, byteLength }: Uint8Array): Buffer =>
  Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength)

/** How many parts are asked for ahead, so that the thread reads while the server works. */
const ahead = 2
/** How long a thread without a file is kept, and how many at most. */
const idleMs = 20_000
const mostIdle = 2

/**
 * Reads a file from outside in a thread, within bounds, and gives its parts. Throws `AppError` that says what is wrong with the file or which
 * bound it passes. The thread has no other file meanwhile; it ends with an error, when the signal is aborted and when the parts are left early.
 */
export async function* readFileParts<T extends FileTask>(
  task: T,
  input: FileTasks[T]['input'],
  bounds: FileBounds,
  signal?: AbortSignal,
): AsyncGenerator<FileTasks[T]['part']> {
  signal?.throwIfAborted()
  const thread = FileThread.take(bounds.memoryMb)
  const { worker } = thread
  const answers: FileAnswer[] = []
  let failed: unknown
  let whole = false
  let wake = (): void => undefined
  const fail = (error: unknown): void => {
    failed ??= error
    wake()
  }
  const onAbort = (): void => fail(signal!.reason)
  signal?.addEventListener('abort', onAbort, { once: true })
  const file = ++thread.files
  worker.on('message', (message: NumberedAnswer) => {
    if (message.file !== file) return
    answers.push(message.answer)
    wake()
  })
  worker.on('error', error => fail(ofThread(error, bounds)))
  worker.on('exit', code => fail(new Error(`The thread that read the file ended (code ${code})`)))
  worker.postMessage({ task, input, bounds })
  for (let i = 0; i < ahead; i++) worker.postMessage('next')
  try {
    for (;;) {
      let clock: NodeJS.Timeout | undefined
      if (!answers.length && !failed)
        await new Promise<void>(resolve => {
          wake = resolve
          clock = setTimeout(() => fail(tooSlow(bounds)), bounds.seconds * 1_000)
        })
      clearTimeout(clock)
      if (failed) throw failed
      const answer = answers.shift()!
      if ('ended' in answer) {
        whole = true
        return
      }
      if ('error' in answer) throw ofAnswer(answer)
      yield answer.part as FileTasks[T]['part']
      worker.postMessage('next')
      // With the next part there already, whoever asks the server something would wait for all of them.
      await setImmediate()
    }
  } finally {
    signal?.removeEventListener('abort', onAbort)
    thread.hush()
    if (whole) thread.keep()
    else await thread.end()
  }
}

/**
 * A thread that reads files, one at a time. To open one takes half a second, and a file is mostly looked into and then read: one that came to
 * the end of its file waits a while for the next.
 */
class FileThread {
  static readonly #idle: FileThread[] = []
  readonly worker: Worker
  readonly #memoryMb: number
  /** How many files it was given. */
  files = 0
  #clock: NodeJS.Timeout | undefined

  constructor(memoryMb: number) {
    this.worker = openThread(new URL('./file-thread.ts', import.meta.url), memoryMb)
    this.#memoryMb = memoryMb
  }

  /** One that waits, or a new one. */
  static take(memoryMb: number): FileThread {
    const kept = FileThread.#idle.findIndex(each => each.#memoryMb === memoryMb)
    if (kept < 0) return new FileThread(memoryMb)
    const [thread] = FileThread.#idle.splice(kept, 1)
    clearTimeout(thread!.#clock)
    thread!.hush()
    thread!.worker.ref()
    return thread!
  }

  keep(): void {
    // One that ends by itself is no longer there to be taken.
    this.worker.on('error', () => undefined)
    this.worker.on('exit', () => this.#leave())
    this.worker.unref()
    this.#clock = setTimeout(() => void this.end(), idleMs).unref()
    FileThread.#idle.push(this)
    if (FileThread.#idle.length > mostIdle) void FileThread.#idle[0]!.end()
  }

  /** Hears no more of it. Without naming them the listeners by which a thread counts those would go too, and it would be mute. */
  hush(): void {
    for (const event of ['message', 'error', 'exit']) this.worker.removeAllListeners(event)
  }

  async end(): Promise<void> {
    clearTimeout(this.#clock)
    this.#leave()
    await this.worker.terminate()
  }

  #leave(): void {
    const at = FileThread.#idle.indexOf(this)
    if (at >= 0) FileThread.#idle.splice(at, 1)
  }
}

/** Uploads are looked into as they come; each takes a thread with its memory. */
const looking = new PQueue({ concurrency: 2 })

/** Makes an uploaded table plain text and tells how it is written. */
export async function prepareTable(path: string, bounds: FileBounds): Promise<FileTasks['prepare']['part']> {
  return await looking.add(async () => {
    let shape: FileTasks['prepare']['part'] | undefined
    for await (const part of readFileParts('prepare', { path }, bounds)) shape = part
    if (!shape) throw new Error('A table was prepared without an answer')
    return shape
  })
}

function ofAnswer({ error, code }: { error: string; code?: unknown }): Error {
  if (code === 'badInput' || code === 'tooLarge') return new AppError(code, error)
  if (code === 'ENOENT') return new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  return Object.assign(new Error(error), { code })
}

const ofThread = (error: Error, bounds: FileBounds): Error =>
  (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? new AppError(
        'tooLarge',
        `Reading this file takes more than ${bounds.memoryMb} MB of memory. Split it, save it as CSV, or raise FILE_MEMORY_MB.`,
      )
    : error

const tooSlow = (bounds: FileBounds): AppError =>
  new AppError(
    'tooLarge',
    `Reading one part of this file takes more than ${bounds.seconds} seconds. Split it, save it as CSV, or raise FILE_SECONDS.`,
  )
