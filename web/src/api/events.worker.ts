import { eventsPath } from '@dew-trail/contract/events-path'
import type { SiteMessage } from '@dew-trail/contract/jobs'
import { EventStream } from './event-stream.ts'

/**
 * One event stream for all tabs of the browser: a browser opens only six connections to a server, and a stream holds one for good. Each
 * tab says which site it shows and hears of that one.
 */
type FromTab = { siteId: number } | 'closing'
export type ToTab = 'open' | SiteMessage

const tabs = new Map<MessagePort, number>()
const stream = new EventStream(eventsPath, message => {
  for (const [tab, siteId] of tabs)
    if (message === 'open' || message.siteId === siteId) tab.postMessage(message satisfies ToTab)
})

const scope = self as unknown as { onconnect: ((event: MessageEvent) => void) | null }
scope.onconnect = event => {
  const tab = event.ports[0]!
  tab.onmessage = ({ data }: MessageEvent<FromTab>) => {
    if (data === 'closing') tabs.delete(tab)
    else tabs.set(tab, data.siteId)
    // A stream that is open for the site already tells a new tab at once.
    if (!stream.listenTo(tabs.values()) && stream.isOpen) tab.postMessage('open' satisfies ToTab)
  }
}
