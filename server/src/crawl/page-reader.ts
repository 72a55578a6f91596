import type { Worker } from 'node:worker_threads'
import { openThread } from '../jobs/open-thread.ts'
import type { PageFacts } from './read-body.ts'
import type { ReadQuestion } from './read-thread.ts'

/** Reads pages in a thread of its own, so that a crawl never makes the people at the screens wait. */
export class PageReader {
  #worker: Worker | undefined
  #asked = 0
  readonly #waiting = new Map<number, { resolve(facts: PageFacts): void; reject(error: Error): void }>()

  read(body: Buffer, contentType: string, url: string): Promise<PageFacts> {
    const worker = this.#open()
    const number = ++this.#asked
    return new Promise((resolve, reject) => {
      this.#waiting.set(number, { resolve, reject })
      worker.postMessage({ number, body, contentType, url } satisfies ReadQuestion)
    })
  }

  async close(): Promise<void> {
    await this.#worker?.terminate()
  }

  #open(): Worker {
    if (this.#worker) return this.#worker
    const worker = openThread(new URL('./read-thread.ts', import.meta.url))
    worker.unref()
    worker.on('message', ({ number, facts, error }: { number: number; facts?: PageFacts; error?: string }) => {
      const waiting = this.#waiting.get(number)
      this.#waiting.delete(number)
      if (facts) waiting?.resolve(facts)
      else waiting?.reject(new Error(error))
    })
    worker.on('error', error => {
      // A new thread is opened for the next page; those under way are told.
      this.#worker = undefined
      for (const waiting of this.#waiting.values()) waiting.reject(error)
      this.#waiting.clear()
    })
    this.#worker = worker
    return worker
  }
}
