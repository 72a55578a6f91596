import { listSources, setSourceKey, type Source } from '@dew-trail/contract/sources'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { askAgain } from '../../api/use-endpoint.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { useMe } from '../../ui/use-me.ts'

const says: Record<Source['keyFrom'], string> = {
  typed: 'set here',
  configuration: 'from the configuration',
  missing: 'missing',
  unreadable: 'must be typed again',
  none: 'needs none',
}

/** Whether a source has a key, and the field to type one, which is sealed and never shown again. */
export function SourceKey({ source: { key, keyFrom }, name }: { source: Source; name: string }) {
  const me = useMe()
  const act = useAct()
  const client = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const saving = useChange()
  const wrong = keyFrom === 'missing' || keyFrom === 'unreadable'
  if (key === 'web' || keyFrom === 'none') return <span className="quiet">{says.none}</span>
  if (!me?.isAdministrator) return <span className={wrong ? 'fall' : 'quiet'}>{says[keyFrom]}</span>
  if (typed === null)
    return (
      <button
        type="button"
        className={wrong ? 'link fall' : 'link'}
        aria-label={`Key of ${name}: ${says[keyFrom]}. Type another`}
        title={
          keyFrom === 'unreadable'
            ? 'It was sealed on another installation: backups hold no key that opens it'
            : 'Type another key. It is sealed and never shown again'
        }
        onClick={() => setTyped('')}
      >
        {says[keyFrom]}
      </button>
    )
  const set = (secret: string | null, say: string) =>
    saving.run(() =>
      act(async () => {
        await call(setSourceKey, { key, secret })
        setTyped(null)
        await askAgain(client, listSources)
        return { say }
      }),
    )
  const save = (event: FormEvent) => {
    event.preventDefault()
    if (typed.trim()) void set(typed, `${name} is asked with the new key from now on`)
  }
  return (
    <form onSubmit={save} className="source-key">
      <input
        // biome-ignore lint/a11y/noAutofocus: the field takes the place of the button that was pressed.
        autoFocus
        type="password"
        autoComplete="off"
        value={typed}
        aria-label={`New key of ${name}; Enter saves`}
        onChange={event => setTyped(event.target.value)}
        onKeyDown={event => {
          if (event.key === 'Escape') setTyped(null)
        }}
      />
      <button type="submit" className="link" disabled={saving.pending || !typed.trim()}>
        Save
      </button>
      {keyFrom !== 'configuration' && keyFrom !== 'missing' && (
        <button
          type="button"
          className="link"
          disabled={saving.pending}
          onClick={() => void set(null, `${name} is asked with the key of the configuration again`)}
        >
          Forget
        </button>
      )}
      <button type="button" className="link" onClick={() => setTyped(null)}>
        Cancel
      </button>
    </form>
  )
}
