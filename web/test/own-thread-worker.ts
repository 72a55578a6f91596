import { HeldRows } from '../src/rows/held-rows.ts'
import type { FromWorker, ToWorker } from '../src/rows/worker-messages.ts'

/** A worker of the browser that does a sheet's work in the test's own thread. What it is told is copied, and all comes later, as between threads. */
export class OwnThreadWorker {
  onmessage: ((event: { data: FromWorker }) => void) | null = null
  #closed = false
  readonly #held = new HeldRows(data =>
    queueMicrotask(() => {
      if (!this.#closed) this.onmessage?.({ data })
    }),
  )
  postMessage(message: ToWorker): void {
    const copy = structuredClone(message)
    queueMicrotask(() => this.#held.receive(copy))
  }
  terminate(): void {
    this.#closed = true
  }
}
