import { type AccessKey, endAccessKey, listAccessKeys, makeAccessKey } from '@dew-trail/contract/access-keys'
import type { SiteRole } from '@dew-trail/contract/people'
import { Button, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatAge, formatDay } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { useMe } from '../../ui/use-me.ts'
import { SecretOnce } from './SecretOnce.tsx'
import { RoleField } from './RoleField.tsx'

/** Keys with which programs reach the site: the command line, a spreadsheet, another server. */
export default function KeysPart() {
  const { site } = useSite()
  const me = useMe()
  const { data, error } = useEndpoint(listAccessKeys, { siteId: site.id })
  if (!data) return <Waiting error={error} />
  return (
    <>
      <section aria-labelledby="keys-title">
        <h2 id="keys-title">Access keys</h2>
        <p className="quiet">
          A program sends its key as <code>Authorization: Bearer KEY</code>; the command line takes it from{' '}
          <code>DEW_TRAIL_KEY</code>. What there is to call: <a href="/api/docs/">the program's own API</a>.
        </p>
        {data.length === 0 ? (
          <p className="quiet">No key yet.</p>
        ) : (
          <table className="results whole-cells people-table">
            <thead>
              <tr>
                <th>Name</th>
                <th>Ends in</th>
                <th>May</th>
                <th>Opens</th>
                <th>Made</th>
                <th>Last used</th>
                <th>
                  <span className="hidden">End</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.map(each => (
                <KeyLine key={each.id} accessKey={each} />
              ))}
            </tbody>
          </table>
        )}
      </section>
      <NewKey isAdministrator={me?.isAdministrator ?? false} />
    </>
  )
}

function KeyLine({ accessKey }: { accessKey: AccessKey }) {
  const { site } = useSite()
  const { id, name, hint, role, everySite, madeBy, madeAt, lastUsedAt, endedAt } = accessKey
  return (
    <tr className={endedAt ? 'quiet' : ''}>
      <td>{name}</td>
      <td>
        <code>…{hint}</code>
      </td>
      <td>{role}</td>
      <td>{everySite ? 'every site' : 'this site'}</td>
      <td className="quiet">
        {formatDay(madeAt.slice(0, 10))} by {madeBy}
      </td>
      <td className="quiet">{lastUsedAt === null ? 'never' : formatAge(lastUsedAt)}</td>
      <td>
        {endedAt ? (
          `ended ${formatDay(endedAt.slice(0, 10))}`
        ) : (
          <ActButton
            label={`End the key "${name}"`}
            onAct={async () => {
              await call(endAccessKey, { siteId: site.id, keyId: id })
              return { say: `The key "${name}" opens nothing any more` }
            }}
          >
            End
          </ActButton>
        )}
      </td>
    </tr>
  )
}

function NewKey({ isAdministrator }: { isAdministrator: boolean }) {
  const { site } = useSite()
  const act = useAct()
  const [name, setName] = useState('')
  const [role, setRole] = useState<SiteRole>('reader')
  const [everySite, setEverySite] = useState(false)
  const [made, setMade] = useState<string | null>(null)
  const making = useChange()
  const make = (event: FormEvent) => {
    event.preventDefault()
    void making.run(() =>
      act(async () => {
        const { key } = await call(makeAccessKey, { siteId: site.id, name, role, everySite })
        setMade(key)
        setName('')
      }),
    )
  }
  return (
    <section aria-labelledby="new-key-title">
      <h2 id="new-key-title">A new key</h2>
      <form onSubmit={make} className="people-form">
        <TextField
          label="Name"
          placeholder="What it is for"
          required
          value={name}
          onChange={event => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          sx={{ width: 260 }}
        />
        <RoleField role={role} onChange={setRole} />
        {isAdministrator && (
          <label>
            <input type="checkbox" checked={everySite} onChange={event => setEverySite(event.target.checked)} /> every
            site
          </label>
        )}
        <Button type="submit" variant="contained" disabled={making.pending}>
          Make it
        </Button>
      </form>
      {made && (
        <SecretOnce secret={made} onDone={() => setMade(null)}>
          This is the key. Only its hash is kept, so it is not shown again.
        </SecretOnce>
      )}
    </section>
  )
}
