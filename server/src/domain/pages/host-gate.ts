import { setTimeout as sleep } from 'node:timers/promises'
import type { SharedTurns } from '../../platform/cluster/shared-limits.ts'

type Host = { running: number; nextMs: number; delayMs: number; most: number; waiting: Array<() => void> }

/**
 * Keeps requests to one host apart in time and few at once, over all crawls. A host that asks for a crawl delay gets it, one request at a
 * time; a host that says it is too much is left alone until it said.
 */
export class HostGate {
  readonly #hosts = new Map<string, Host>()
  readonly #delayMs: number
  readonly #most: number

  /** While several processes crawl: what keeps them apart. */
  readonly #turns: () => SharedTurns | null

  constructor(delayMs: number, most: number, turns: () => SharedTurns | null = () => null) {
    this.#turns = turns
    this.#delayMs = delayMs
    this.#most = most
  }

  /** `seconds`: the crawl delay of the host's robots.txt, or null. */
  setDelay(host: string, seconds: number | null): void {
    const entry = this.#need(host)
    entry.delayMs = Math.max(this.#delayMs, Math.min(60, seconds ?? 0) * 1_000)
    entry.most = seconds === null ? this.#most : 1
  }

  leaveAlone(host: string, forMs: number): void {
    const entry = this.#need(host)
    entry.nextMs = Math.max(entry.nextMs, performance.now() + forMs)
    void this.#turns()
      ?.leaveAlone(host, forMs)
      .catch(() => undefined)
  }

  /** Runs `work` when the host may be asked again. */
  async pass<T>(host: string, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
    const entry = this.#need(host)
    while (entry.running >= entry.most) {
      signal.throwIfAborted()
      await new Promise<void>(resolve => entry.waiting.push(resolve))
    }
    entry.running++
    try {
      for (;;) {
        const waitMs = entry.nextMs - performance.now()
        if (waitMs <= 0) break
        await sleep(waitMs, undefined, { signal })
      }
      entry.nextMs = performance.now() + entry.delayMs
      const turnMs = (await this.#turns()?.take(host, entry.delayMs)) ?? 0
      if (turnMs > 0) await sleep(turnMs, undefined, { signal })
      return await work()
    } finally {
      entry.running--
      entry.waiting.shift()?.()
    }
  }

  #need(host: string): Host {
    let entry = this.#hosts.get(host)
    if (!entry) {
      entry = { running: 0, nextMs: 0, delayMs: this.#delayMs, most: this.#most, waiting: [] }
      this.#hosts.set(host, entry)
    }
    return entry
  }
}
