import type { SiteMessage } from '@dew-trail/contract/jobs'

const firstWaitMs = 1_000
const longestWaitMs = 30_000

/** A stream of events of several sites that is opened again, with growing waits, whenever it ends. `tell` hears of each opening and message. */
export class EventStream {
  readonly #path: (siteIds: readonly number[]) => string
  readonly #tell: (message: 'open' | SiteMessage) => void
  #siteIds: readonly number[] = []
  #source: EventSource | null = null
  #retry: ReturnType<typeof setTimeout> | undefined
  #waitMs = firstWaitMs

  constructor(path: (siteIds: readonly number[]) => string, tell: (message: 'open' | SiteMessage) => void) {
    this.#path = path
    this.#tell = tell
  }

  get isOpen(): boolean {
    return this.#source?.readyState === EventSource.OPEN
  }

  /** Listens to these sites and no others; true when that needed another stream. None ends it. */
  listenTo(sites: Iterable<number>): boolean {
    const siteIds = [...new Set(sites)].sort((a, b) => a - b)
    if (siteIds.join() === this.#siteIds.join()) return false
    this.#siteIds = siteIds
    this.#waitMs = firstWaitMs
    this.#open()
    return true
  }

  #open(): void {
    clearTimeout(this.#retry)
    this.#source?.close()
    this.#source = null
    if (!this.#siteIds.length) return
    const source = new EventSource(this.#path(this.#siteIds))
    this.#source = source
    source.onopen = () => {
      this.#waitMs = firstWaitMs
      this.#tell('open')
    }
    source.onmessage = message => this.#tell(JSON.parse(String(message.data)) as SiteMessage)
    source.onerror = () => {
      // A broken connection the browser opens again by itself; one that was refused it gives up.
      if (source !== this.#source || source.readyState !== EventSource.CLOSED) return
      this.#retry = setTimeout(() => this.#open(), this.#waitMs)
      this.#waitMs = Math.min(longestWaitMs, this.#waitMs * 2)
    }
  }
}
