import { mostSites } from '@dew-trail/core/rivals/regions'
import { tidyTypedAddress } from '@dew-trail/core/web/typed-address'
import { TextField } from '@mui/material'
import { X } from 'lucide-react'
import { type FormEvent, useState } from 'react'
import { colourOf } from './use-compared.ts'

type Props = { targets: readonly string[]; setRivals(rivals: readonly string[]): void }
/** The own site and those beside it, each in its colour; one is replaced in place, taken out or added. */
export function ComparedSites({ targets, setRivals }: Props) {
  const [own, ...rivals] = targets
  const [editing, setEditing] = useState<number | null>(null)
  const replace = (at: number, text: string) => {
    setEditing(null)
    setRivals(rivals.map((each, i) => (i === at ? text : each)))
  }
  return (
    <>
      <span className="chip">
        <b className="own" style={{ padding: '0 8px' }}>
          {own}
        </b>
      </span>
      {rivals.map((rival, at) =>
        editing === at ? (
          <TargetField
            key={rival}
            first={rival}
            label={`In place of ${rival}`}
            onDone={text => (text ? replace(at, text) : setEditing(null))}
          />
        ) : (
          <span className="chip" key={rival} style={{ borderBottom: `3px solid ${colourOf(at + 1)}` }}>
            <button
              type="button"
              title={`${rival}: press to look at another in its place`}
              onClick={() => setEditing(at)}
            >
              <span className="cut">{rival}</span>
            </button>
            <button
              type="button"
              aria-label={`Compare with ${rival} no longer`}
              onClick={() => setRivals(rivals.filter(each => each !== rival))}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        ),
      )}
      {targets.length < mostSites && (
        <TargetField
          key={targets.length}
          label="Another site, host, folder or page"
          onDone={text => text && !rivals.includes(text) && setRivals([...rivals, text])}
        />
      )}
    </>
  )
}

/** A field that takes a site, host, folder or page; gives null when it is left empty. */
function TargetField({
  first = '',
  label,
  onDone,
}: {
  first?: string
  label: string
  onDone(text: string | null): void
}) {
  const [text, setText] = useState(first)
  const [wrong, setWrong] = useState(false)
  const save = (event: FormEvent) => {
    event.preventDefault()
    const tidy = tidyTypedAddress(text)
    if (!text.trim()) onDone(null)
    else if (tidy === null || text.includes(',')) setWrong(true)
    else onDone(tidy)
  }
  return (
    <form onSubmit={save}>
      <TextField
        value={text}
        autoFocus={first !== ''}
        error={wrong}
        placeholder="+ site"
        title="A site, host, folder or page: clay.example, shop.clay.example, clay.example/guides/*"
        onChange={event => {
          setText(event.target.value)
          setWrong(false)
        }}
        onKeyDown={event => event.key === 'Escape' && onDone(null)}
        helperText={wrong ? 'Such as clay.example' : undefined}
        sx={{ width: first ? 220 : 130 }}
        slotProps={{ htmlInput: { 'aria-label': label } }}
      />
    </form>
  )
}
