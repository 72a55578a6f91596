import { type Alert, listAlerts, markAlerts } from '@dew-trail/contract/alerts'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatMarket, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { AlertRules } from './AlertRules.tsx'
import { TrackBar } from './TrackBar.tsx'

/** What the rules told of, newest first, read and unread, and beside it what is told of and to whom. */
export function AlertsTab() {
  const { site } = useSite()
  const { data, error } = useEndpoint(listAlerts, { siteId: site.id })
  const [unreadOnly, setUnreadOnly] = useState(false)
  const act = useAct()
  const mark = (alerts: readonly Alert[] | null, read: boolean) =>
    act(async () => {
      const ids = alerts ? { alertIds: alerts.map(each => each.id) } : {}
      await call(markAlerts, { siteId: site.id, read, ...ids })
    })
  const shown = data?.alerts.filter(each => !unreadOnly || !each.read) ?? []
  return (
    <main className="screen whole">
      <ScreenTitle title="Track" />
      <div className="main">
        <TrackBar see="alerts" />
        <div className="alerts">
          <section className="first" aria-label="Alerts">
            {!data ? (
              <Waiting error={error} />
            ) : data.alerts.length === 0 ? (
              <div className="empty">
                <h2>No alert yet</h2>
                <p>
                  After each check of positions the rules at the right are held against what was found. What meets them
                  is told here, and, where you set it, by mail and in a feed.
                </p>
              </div>
            ) : (
              <>
                <div className="alerts-bar">
                  <label>
                    <input
                      type="checkbox"
                      checked={unreadOnly}
                      onChange={event => setUnreadOnly(event.target.checked)}
                    />{' '}
                    unread only
                  </label>
                  {data.unread > 0 && (
                    <button type="button" className="link" onClick={() => void mark(null, true)}>
                      Mark all as read
                    </button>
                  )}
                </div>
                <ul className="alert-list">
                  {shown.map(each => (
                    <AlertLine key={each.id} alert={each} onMark={read => void mark([each], read)} />
                  ))}
                </ul>
                {shown.length === 0 && <p className="quiet">All are read.</p>}
              </>
            )}
          </section>
          <AlertRules />
        </div>
        <div className="foot">
          {data && (
            <span>
              <b>{formatWhole(data.unread)}</b> unread of {plural(data.alerts.length, 'alert')}
            </span>
          )}
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

const atFirst = 5
function AlertLine({ alert, onMark }: { alert: Alert; onMark(read: boolean): void }) {
  const { site } = useSite()
  const [all, setAll] = useState(false)
  const market = site.markets.find(each => each.id === alert.marketId)
  const keywords = all ? alert.keywords : alert.keywords.slice(0, atFirst)
  const seeOf =
    alert.kind === 'visibility' || alert.kind === 'shift' ? `&see=changes&since=${weekBefore(alert.day)}` : ''
  return (
    <li className={alert.read ? '' : 'unread'}>
      <span className="quiet">{formatDay(alert.day)}</span>
      <div style={{ minWidth: 0 }}>
        <Link className="link alert-title" to={`/${site.id}/track?market=${alert.marketId}${seeOf}`}>
          {alert.title}
        </Link>{' '}
        {market && <small className="quiet">{formatMarket(market)}</small>}
        {alert.body && <div className="quiet">{alert.body}</div>}
        {keywords.map(({ keywordId, phrase, words }) => (
          <div key={keywordId}>
            <Link className="link plain" to={`/${site.id}/track?market=${alert.marketId}&open=${keywordId}`}>
              {phrase}
            </Link>{' '}
            <span className="quiet">{words}</span>
          </div>
        ))}
        {alert.keywords.length > atFirst && (
          <button type="button" className="link" onClick={() => setAll(!all)} aria-expanded={all}>
            {all ? 'Fewer' : `${alert.keywords.length - atFirst} more`}
          </button>
        )}
      </div>
      <button
        type="button"
        className="link"
        onClick={() => onMark(!alert.read)}
        aria-label={`${alert.read ? 'Mark unread' : 'Mark read'}: ${alert.title}, ${formatDay(alert.day)}`}
      >
        {alert.read ? 'Mark unread' : 'Mark read'}
      </button>
    </li>
  )
}

const weekBefore = (day: string): string => new Date(Date.parse(day) - 7 * 86_400_000).toISOString().slice(0, 10)
