import { eventsPath } from '@dew-trail/contract/events-path'
import type { SiteMessage } from '@dew-trail/contract/jobs'
import { EventStream } from './event-stream.ts'
import type { ToTab } from './events.worker.ts'

/** Hears what the server tells of a site, and of each opening of the stream, until the function it gives is called. */
export function hearEvents(siteId: number, tell: (message: 'open' | SiteMessage) => void): () => void {
  if (typeof SharedWorker === 'undefined') {
    const stream = new EventStream(eventsPath, tell)
    stream.listenTo([siteId])
    return () => stream.listenTo([])
  }
  const { port } = new SharedWorker(new URL('./events.worker.ts', import.meta.url), {
    type: 'module',
    name: 'dew-trail-events',
  })
  port.onmessage = ({ data }: MessageEvent<ToTab>) => tell(data)
  const begin = (): void => port.postMessage({ siteId })
  const end = (): void => port.postMessage('closing')
  // A page that the browser keeps for the way back hears nothing meanwhile and begins anew when it is shown.
  window.addEventListener('pagehide', end)
  window.addEventListener('pageshow', begin)
  begin()
  return () => {
    window.removeEventListener('pagehide', end)
    window.removeEventListener('pageshow', begin)
    end()
    port.close()
  }
}
