import { setImmediate } from 'node:timers/promises'
import { AppError } from '@dew-trail/contract/errors'
import PQueue from 'p-queue'
import { openThread } from '../jobs/open-thread.ts'
import type { FileBounds } from './file-bounds.ts'
import type { FileAnswer, FileTask, FileTasks } from './file-thread.ts'

/** The bytes of a part as they come from a thread, as a buffer on the same memory. */
export const bufferOf = ({ buffer, byteOffset, byteLength }: Uint8Array): Buffer =>
  Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength)

/** How many parts are asked for ahead, so that the thread reads while the server works. */
const ahead = 2

/**
 * Reads a file from outside in a thread of its own, within bounds, and gives its parts. Throws `AppError` that says what is wrong with
 * the file or which bound it passes; the thread ends with the last part, with an error, and when the signal is aborted.
 */
export async function* readFileParts<T extends FileTask>(
  task: T,
  input: FileTasks[T]['input'],
  bounds: FileBounds,
  signal?: AbortSignal,
): AsyncGenerator<FileTasks[T]['part']> {
  signal?.throwIfAborted()
  const worker = openThread(new URL('./file-thread.ts', import.meta.url), bounds.memoryMb)
  const answers: FileAnswer[] = []
  let failed: unknown
  let wake = (): void => undefined
  const fail = (error: unknown): void => {
    failed ??= error
    wake()
  }
  const onAbort = (): void => fail(signal!.reason)
  signal?.addEventListener('abort', onAbort, { once: true })
  worker.on('message', (answer: FileAnswer) => {
    answers.push(answer)
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
      if ('ended' in answer) return
      if ('error' in answer) throw ofAnswer(answer)
      yield answer.part as FileTasks[T]['part']
      worker.postMessage('next')
      // With the next part there already, whoever asks the server something would wait for all of them.
      await setImmediate()
    }
  } finally {
    signal?.removeEventListener('abort', onAbort)
    await worker.terminate()
  }
}

/** Uploads are looked into as they come; each takes a thread with its memory. */
const looking = new PQueue({ concurrency: 2 })

/** Makes an uploaded table plain text and tells how it is written. */
export async function prepareTable(path: string, bounds: FileBounds): Promise<FileTasks['prepare']['part']> {
  return await looking.add(async () => {
    for await (const shape of readFileParts('prepare', { path }, bounds)) return shape
    throw new Error('A table was prepared without an answer')
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
