import { mostSites } from '@dew-trail/core/rivals/regions'
import { tidyTypedAddress } from '@dew-trail/core/web/typed-address'
import { TextField } from '@mui/material'
import { X } from 'lucide-react'
import { type FormEvent, lazy, useState } from 'react'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { LoadRankings } from './LoadRankings.tsx'
import { colourOf } from './use-compared.ts'

const SweepDialog = lazy(() => import('./SweepDialog.tsx'))

export const tabs = {
  profiles: 'Profiles',
  keywords: 'Keywords',
  pages: 'Pages',
  paid: 'Advertising',
  overlap: 'Overlap',
  time: 'Over time',
  who: 'Who they are',
} as const
export type Tab = keyof typeof tabs

type Props = {
  targets: readonly string[]
  see: Tab
  coverage: string
  setRivals(rivals: readonly string[]): void
}
/** Which sites are looked at, each in its colour, and what of them is shown. */
export function CompareBar({ targets, see, coverage, setRivals }: Props) {
  const [, change] = useAddress()
  const show = useShowDialog()
  const [own, ...rivals] = targets
  const [editing, setEditing] = useState<number | null>(null)
  const replace = (at: number, text: string) => {
    setEditing(null)
    setRivals(rivals.map((each, i) => (i === at ? text : each)))
  }
  return (
    <div className="bar rivals-bar" role="toolbar" aria-label="Compared sites">
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
      <div className="rivals-what">
        <span className="quiet cut" title={coverage}>
          {coverage}
        </span>
        <LoadRankings targets={targets} />
        <button
          type="button"
          className="link"
          title="When results of many keywords are fetched anew"
          onClick={() => show(close => <SweepDialog onClose={close} />)}
        >
          Sweeps
        </button>
        <div className="bar-end" role="group" aria-label="What is shown">
          {(Object.keys(tabs) as Tab[]).map(tab => (
            <button
              key={tab}
              type="button"
              className="link"
              aria-pressed={see === tab}
              onClick={() =>
                change(params => {
                  setParam('see', tab === 'profiles' ? null : tab)(params)
                  // Conditions are of one table's columns.
                  for (const name of ['where', 'sort', 'open', 'region', 'within', 'overlap']) params.delete(name)
                }, true)
              }
            >
              {tabs[tab]}
            </button>
          ))}
        </div>
      </div>
    </div>
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
