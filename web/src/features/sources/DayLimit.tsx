import { askAgain } from '../../api/use-endpoint.ts'
import { limitSource, listSources, type Source } from '@dew-trail/contract/sources'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { formatWhole } from '../../ui/format.ts'
import { useAct } from '../../ui/use-act.ts'

/** Most requests a day of a source, changed where it stands; empty takes the limit away. */
export function DayLimit({ source, name }: { source: Source; name: string }) {
  const [text, setText] = useState<string | null>(null)
  const act = useAct()
  const client = useQueryClient()
  const { key, mostADay } = source
  if (key === 'web') return <span className="quiet">by crawl</span>
  if (text === null)
    return (
      <button
        type="button"
        className="link"
        onClick={() => setText(mostADay === null ? '' : String(mostADay))}
        title="Requests a day (UTC) over all sites. A job that reaches it stops with a word and can be retried."
      >
        {mostADay === null ? 'no limit' : formatWhole(mostADay)}
      </button>
    )
  const set = async (wanted: number | null): Promise<void> => {
    await call(limitSource, { key, mostADay: wanted })
    await askAgain(client, listSources)
  }
  const save = (event: FormEvent) => {
    event.preventDefault()
    const wanted = text.trim() === '' ? null : Number(text)
    if (wanted === mostADay) {
      setText(null)
      return
    }
    void act(async () => {
      await set(wanted)
      setText(null)
      return {
        say: wanted === null ? `${name}: no limit a day` : `${name}: at most ${formatWhole(wanted)} requests a day`,
        undo: () => set(mostADay),
      }
    })
  }
  return (
    <form onSubmit={save}>
      <input
        // biome-ignore lint/a11y/noAutofocus: the field takes the place of the button that was pressed.
        autoFocus
        type="number"
        min={0}
        step={1}
        value={text}
        placeholder="no limit"
        aria-label={`Most requests a day of ${name}; Enter saves`}
        className="day-limit"
        onChange={event => setText(event.target.value)}
        onKeyDown={event => {
          if (event.key === 'Escape') setText(null)
        }}
        onBlur={event => event.currentTarget.form?.requestSubmit()}
      />
    </form>
  )
}
