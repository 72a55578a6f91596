import { changeMe, endSessions, listSessions, readMe } from '@dew-trail/contract/people'
import { Button, TextField } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { askAgain, useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatAge, formatDay } from '../../ui/format.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

/** One's own account: name, password, browsers. */
export default function YouPart() {
  const { data: me, error } = useEndpoint(readMe, {})
  const { data: sessions } = useEndpoint(listSessions, {})
  if (!me?.person || !sessions) return <Waiting error={error} />
  return (
    <>
      <section aria-labelledby="you-title">
        <h2 id="you-title">{me.person.email}</h2>
        <NameForm key={me.person.name} name={me.person.name} />
        <PasswordForm />
      </section>
      <section aria-labelledby="browsers-title">
        <h2 id="browsers-title">Where you are signed in</h2>
        <table className="results whole-cells people-table">
          <tbody>
            {sessions.map(each => (
              <tr key={each.id}>
                <td>{each.isThis ? <b>this browser</b> : browserOf(each.agent)}</td>
                <td className="quiet">since {formatDay(each.begunAt.slice(0, 10))}</td>
                <td className="quiet">used {formatAge(each.lastSeenAt)}</td>
                <td className="quiet">{each.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <ActButton
          onAct={async () => {
            await call(endSessions, {})
            window.location.assign('/')
          }}
        >
          Sign out everywhere
        </ActButton>
      </section>
    </>
  )
}

/** A browser and system in a few words, as far as its own words tell. */
const browserOf = (agent: string): string =>
  [
    /(Firefox|Edg|Chrome|Safari)/.exec(agent)?.[1]?.replace('Edg', 'Edge'),
    /(Windows|Mac OS X|Android|iPhone|Linux)/.exec(agent)?.[1],
  ]
    .filter(Boolean)
    .join(' on ') || 'another browser'

function NameForm({ name: before }: { name: string }) {
  const act = useAct()
  const client = useQueryClient()
  const [name, setName] = useState(before)
  const saving = useChange()
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        await call(changeMe, { name })
        await askAgain(client, readMe)
        return { say: `You are called ${name} now, also on what you own in plans and prospects` }
      }),
    )
  }
  return (
    <form onSubmit={save} className="people-form">
      <TextField
        label="Name"
        value={name}
        onChange={event => setName(event.target.value)}
        slotProps={{ htmlInput: { maxLength: 80, autoComplete: 'name' } }}
        sx={{ width: 280 }}
      />
      <Button type="submit" disabled={saving.pending || !name.trim() || name.trim() === before}>
        Save
      </Button>
    </form>
  )
}

function PasswordForm() {
  const act = useAct()
  const [oldPassword, setOld] = useState('')
  const [newPassword, setNew] = useState('')
  const saving = useChange()
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        await call(changeMe, { oldPassword, newPassword })
        setOld('')
        setNew('')
        return { say: 'The password is changed; your other browsers must sign in again' }
      }),
    )
  }
  return (
    <form onSubmit={save} className="people-form">
      <TextField
        label="Password now"
        type="password"
        required
        value={oldPassword}
        onChange={event => setOld(event.target.value)}
        slotProps={{ htmlInput: { autoComplete: 'current-password' } }}
        sx={{ width: 280 }}
      />
      <TextField
        label="New password"
        type="password"
        required
        value={newPassword}
        onChange={event => setNew(event.target.value)}
        slotProps={{ htmlInput: { autoComplete: 'new-password' } }}
        sx={{ width: 280 }}
      />
      <Button type="submit" disabled={saving.pending || !oldPassword || !newPassword}>
        Change
      </Button>
    </form>
  )
}
