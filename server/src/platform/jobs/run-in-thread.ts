import { once } from 'node:events'
import { openThread } from './open-thread.ts'

/** What a thread answers a question with; an error keeps the code that tells what kind of error it was. */
export type ThreadAnswer<T> = { answer: T } | { error: string; code?: unknown }

/** Opens a thread, asks it one question and ends it. Rejects with what the thread throws, and at once when the signal is aborted. */
export async function runInThread<T>(module: URL, question: unknown, signal: AbortSignal): Promise<T> {
  signal.throwIfAborted()
  const worker = openThread(module)
  try {
    worker.postMessage(question)
    const message = await Promise.race([
      once(worker, 'message', { signal }) as Promise<[ThreadAnswer<T>]>,
      once(worker, 'exit', { signal }).then(([code]) => {
        throw new Error(`A thread ended without an answer (code ${code})`)
      }),
    ])
    const [given] = message
    if ('answer' in given) return given.answer
    throw Object.assign(new Error(given.error), { code: given.code })
  } catch (error) {
    signal.throwIfAborted()
    throw error
  } finally {
    await worker.terminate()
  }
}

/** Answers the questions that come to a thread, one after another. */
export function answerInThread<Q, T>(
  port: { on(event: 'message', heard: (question: Q) => void): unknown; postMessage(answer: ThreadAnswer<T>): void },
  work: (question: Q) => Promise<T> | T,
): void {
  port.on('message', async question => {
    try {
      port.postMessage({ answer: await work(question) })
    } catch (error) {
      const { stack, message, code } = error as NodeJS.ErrnoException
      port.postMessage({ error: stack ?? message ?? String(error), code })
    }
  })
}
