import 'temporal-polyfill/global'
import '@fullcalendar/react/skeleton.css'
import '@fullcalendar/react/themes/classic/theme.css'
import type { PlannedPage } from '@dew-trail/contract/plan'
import { Calendar, type CalendarRef } from '@fullcalendar/react'
import dayGrid from '@fullcalendar/react/daygrid'
import interaction from '@fullcalendar/react/interaction'
import classicTheme from '@fullcalendar/react/themes/classic'
import { type DragEvent, useMemo, useRef, useState } from 'react'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { formatWhole } from '../../ui/format.ts'
import { stateLabels } from './plan-words.ts'

const dragType = 'application/x-dew-trail-page'
const plugins = [dayGrid, interaction, classicTheme]
const steps: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }
const shift = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)
const dayOf = (date: Date): string =>
  `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`

type Props = {
  pages: readonly PlannedPage[]
  week: boolean
  day: string | null
  onLook(week: boolean, day: string | null): void
  onMove(page: PlannedPage, deadline: string): void
  onOpen(page: PlannedPage): void
}
/** A month or a week of deadlines. */
export default function DeadlineCalendar({ pages, week, day, onLook, onMove, onOpen }: Props) {
  const byId = useMemo(() => new Map(pages.map(page => [String(page.id), page])), [pages])
  const events = useMemo(
    () =>
      pages.flatMap(page =>
        page.deadline === null ? [] : [{ id: String(page.id), title: page.title, start: page.deadline, allDay: true }],
      ),
    [pages],
  )
  const calendar = useRef<CalendarRef>(null)
  const [title, setTitle] = useState('')
  const look = (run: (api: ReturnType<CalendarRef['getApi']>) => void) => () => {
    if (calendar.current) run(calendar.current.getApi())
  }
  const waiting = pages.filter(page => page.deadline === null && page.state !== 'published')
  const drop = (event: DragEvent) => {
    const page = byId.get(event.dataTransfer.getData(dragType))
    const cell = (event.target as Element).closest<HTMLElement>('[data-date]')
    if (page && cell?.dataset.date) onMove(page, cell.dataset.date.slice(0, 10))
  }
  return (
    <div className="calendar-and-waiting">
      <div
        className="calendar"
        onDragOver={event => event.dataTransfer.types.includes(dragType) && event.preventDefault()}
        onDrop={drop}
      >
        <div className="calendar-bar" role="toolbar" aria-label="What days are shown">
          <button type="button" className="link" aria-label="Before" onClick={look(api => api.prev())}>
            <ChevronLeft size={16} />
          </button>
          <h2 aria-live="polite">{title}</h2>
          <button type="button" className="link" aria-label="After" onClick={look(api => api.next())}>
            <ChevronRight size={16} />
          </button>
          <button type="button" className="link" onClick={look(api => api.today())}>
            Today
          </button>
          <span style={{ flex: 1 }} />
          {(['dayGridMonth', 'dayGridWeek'] as const).map(view => (
            <button
              key={view}
              type="button"
              className="link"
              aria-pressed={week === (view === 'dayGridWeek')}
              onClick={look(api => api.changeView(view))}
            >
              {view === 'dayGridWeek' ? 'Week' : 'Month'}
            </button>
          ))}
        </div>
        <Calendar
          ref={calendar}
          plugins={plugins}
          initialView={week ? 'dayGridWeek' : 'dayGridMonth'}
          {...(day ? { initialDate: day } : {})}
          headerToolbar={false}
          firstDay={1}
          height="100%"
          dayMaxEvents
          events={events}
          editable
          eventDurationEditable={false}
          datesSet={info => {
            const looked = dayOf(info.view.currentStart)
            const isWeek = info.view.type === 'dayGridWeek'
            setTitle(info.view.title)
            if (looked !== day || isWeek !== week) onLook(isWeek, looked)
          }}
          eventDrop={info => {
            const page = byId.get(info.event.id)
            const to = info.event.startStr.slice(0, 10)
            // What stands is what was saved: the new day comes with the answer.
            info.revert()
            if (page && to) onMove(page, to)
          }}
          eventContent={info => {
            const page = byId.get(info.event.id)
            if (!page) return null
            return (
              <button
                type="button"
                className={page.late ? 'deadline fall' : page.state === 'published' ? 'deadline done' : 'deadline'}
                title={`${page.title}, ${page.late ? 'late' : stateLabels[page.state].toLowerCase()}`}
                aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown"
                onClick={() => onOpen(page)}
                onKeyDown={event => {
                  const step = steps[event.key]
                  if (!event.altKey || !step) return
                  event.preventDefault()
                  onMove(page, shift(page.deadline!, step))
                }}
              >
                {page.title}
                <small> {page.late ? 'late' : stateLabels[page.state].toLowerCase()}</small>
              </button>
            )
          }}
        />
      </div>
      {waiting.length > 0 && (
        <section className="undated" aria-label="Without a deadline">
          <h2>
            Without a deadline <span className="quiet">{formatWhole(waiting.length)}</span>
          </h2>
          <ul>
            {waiting.slice(0, 200).map(page => (
              <li key={page.id} draggable onDragStart={event => event.dataTransfer.setData(dragType, String(page.id))}>
                <button type="button" className="link cell-cut" title={page.title} onClick={() => onOpen(page)}>
                  {page.title}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
