import { AppError } from '@dew-trail/contract/errors'
import type { SiteEvent, SiteMessage } from '@dew-trail/contract/jobs'
import type { Response } from 'express'

const beatMs = 25_000
/** A listener that takes in so little that more than this waits for it is cut off; it comes back and asks for what it shows. */
const mostWaitingBytes = 1_000_000

/** Tells open browsers that something of a site changed. Equal events within a short time go out once. */
export class Events {
  readonly #open = new Map<Response, ReadonlySet<number>>()
  readonly #waiting = new Map<string, { siteId: number | null; event: SiteEvent; own: boolean }>()
  readonly #most: number
  #timer: NodeJS.Timeout | null = null

  /** Waited for before anybody is told: whoever asks anew then must get what was written. */
  settle: (() => Promise<unknown>) | null = null
  /** Told of what was published here, each once, where other processes have browsers too. */
  relay: (events: ReadonlyArray<{ siteId: number | null; event: SiteEvent }>) => void = () => undefined

  /** `most`: how many streams may be open at a time. */
  constructor(most: number) {
    this.#most = most
  }

  /** Sends what happens in these sites to a response that stays open. Throws `tooMany` when too many are. */
  listen(siteIds: readonly number[], response: Response): void {
    if (this.#open.size >= this.#most)
      throw new AppError(
        'tooMany',
        `${this.#most} event streams are open, which is the most. Close some tabs, or raise EVENT_STREAMS.`,
      )
    response.writeHead(200, { 'content-type': 'text/event-stream', connection: 'keep-alive' })
    this.#open.set(response, new Set(siteIds))
    this.#send(response, ': open\n\n')
    const beat = setInterval(() => this.#send(response, ': beat\n\n'), beatMs)
    response.on('close', () => {
      clearInterval(beat)
      this.#open.delete(response)
    })
  }

  /** Tells who listens to a site, or without one everybody, under each site they listen to. */
  publish(siteId: number | null, event: SiteEvent): void {
    this.#add(siteId, event, true)
  }
  /** Tells the browsers of this process what was published in another one. */
  passOn(siteId: number | null, event: SiteEvent): void {
    this.#add(siteId, event, false)
  }
  /** Ends all streams: whoever listens comes back and asks for all that it shows. */
  breakOff(): void {
    for (const response of this.#open.keys()) response.destroy()
  }

  #add(siteId: number | null, event: SiteEvent, own: boolean): void {
    const key = `${siteId}:${event.type}:${event.type === 'job' ? event.job.id : ''}`
    this.#waiting.set(key, { siteId, event, own: own || this.#waiting.get(key)?.own === true })
    this.#timer ??= setTimeout(() => void this.#settled(), 120)
  }

  async #settled(): Promise<void> {
    await this.settle?.().catch(() => undefined)
    this.#flush()
  }

  #flush(): void {
    this.#timer = null
    for (const { siteId, event } of this.#waiting.values())
      for (const [response, sites] of this.#open)
        for (const each of siteId === null ? sites : [siteId])
          if (sites.has(each)) {
            const message: SiteMessage = { siteId: each, event }
            this.#send(response, `data: ${JSON.stringify(message)}\n\n`)
          }
    const own = [...this.#waiting.values()].filter(each => each.own)
    this.#waiting.clear()
    if (own.length) this.relay(own)
  }

  #send(response: Response, text: string): void {
    if (response.writableLength > mostWaitingBytes) response.destroy()
    else response.write(text)
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer)
    for (const response of this.#open.keys()) response.end()
  }
}
