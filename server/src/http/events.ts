import type { SiteEvent } from '@dew-trail/contract/jobs'
import type { Response } from 'express'

/** Tells open browsers that something of a site changed. Equal events within a short time go out once. */
export class Events {
  readonly #open = new Map<number, Set<Response>>()
  readonly #waiting = new Map<string, { siteId: number; event: SiteEvent }>()
  #timer: NodeJS.Timeout | null = null

  listen(siteId: number, response: Response): void {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      connection: 'keep-alive',
    })
    response.write(': open\n\n')
    const set = this.#open.get(siteId) ?? new Set()
    this.#open.set(siteId, set.add(response))
    const beat = setInterval(() => response.write(': beat\n\n'), 25_000)
    response.on('close', () => {
      clearInterval(beat)
      set.delete(response)
    })
  }

  publish(siteId: number, event: SiteEvent): void {
    this.#waiting.set(`${siteId}:${event.type}:${event.type === 'job' ? event.job.id : ''}`, { siteId, event })
    this.#timer ??= setTimeout(() => this.#flush(), 120)
  }

  #flush(): void {
    this.#timer = null
    for (const { siteId, event } of this.#waiting.values())
      for (const response of this.#open.get(siteId) ?? []) response.write(`data: ${JSON.stringify(event)}\n\n`)
    this.#waiting.clear()
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer)
    for (const set of this.#open.values()) for (const response of set) response.end()
  }
}
