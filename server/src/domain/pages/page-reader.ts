import type { Worker } from 'node:worker_threads'
import { openThread } from '../../platform/jobs/open-thread.ts'
import type { PageFacts } from './read-body.ts'
import type { Sitemap } from './read-sitemap.ts'
import type { ReadQuestion } from './read-thread.ts'

/** How long one page may take once its turn has come, and how much memory the thread may hold. */
const longestMs = 20_000
const memoryMb = 512

type Waiting = { question: ReadQuestion; resolve(answer: never): void; reject(error: Error): void }

/**
 * Reads pages in a thread of its own, one after another, so that a crawl never makes the people at the screens wait. A page that takes
 * the thread down or holds it up is given up alone: the others are read by a new one.
 */
export class PageReader {
  #worker: Worker | undefined
  readonly #waiting: Waiting[] = []
  #clock: NodeJS.Timeout | undefined

  read(body: Buffer, contentType: string, url: string): Promise<PageFacts> {
    return this.#add({ page: { body, contentType, url } })
  }
  readSitemap(body: Buffer): Promise<Sitemap> {
    return this.#add({ sitemap: body })
  }

  #add<T>(question: ReadQuestion): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      this.#waiting.push({ question, resolve, reject })
      if (this.#waiting.length === 1) this.#ask()
    })
  }

  async close(): Promise<void> {
    clearTimeout(this.#clock)
    await this.#worker?.terminate()
  }

  /** Gives the first page that waits to the thread. */
  #ask(): void {
    const first = this.#waiting[0]
    if (!first) return
    this.#clock = setTimeout(
      () => this.#giveUp(new Error(`it takes more than ${longestMs / 1_000} seconds`)),
      longestMs,
    )
    this.#clock.unref()
    this.#open().postMessage(first.question)
  }

  #answer(give: (waiting: Waiting) => void): void {
    clearTimeout(this.#clock)
    const first = this.#waiting.shift()
    if (first) give(first)
    this.#ask()
  }

  /** Ends the thread with the page it reads. */
  #giveUp(error: Error): void {
    const worker = this.#worker
    this.#worker = undefined
    worker?.removeAllListeners()
    worker?.on('error', () => undefined)
    void worker?.terminate()
    this.#answer(waiting => waiting.reject(error))
  }

  #open(): Worker {
    if (this.#worker) return this.#worker
    const worker = openThread(new URL('./read-thread.ts', import.meta.url), memoryMb)
    worker.unref()
    worker.on('message', ({ answer, error }: { answer?: never; error?: string }) =>
      this.#answer(waiting => (answer ? waiting.resolve(answer) : waiting.reject(new Error(error)))),
    )
    worker.on('error', error => this.#giveUp(error))
    worker.on('exit', code => this.#giveUp(new Error(`the thread that reads pages ended (code ${code})`)))
    this.#worker = worker
    return worker
  }
}
