import { changePerson, listPeople, offerNewPassword, type Person } from '@dew-trail/contract/people'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatAge } from '../../ui/format.ts'
import { SecretOnce } from './SecretOnce.tsx'

/** Accounts of the installation, for its administrators. */
export default function AccountsPart() {
  const { data, error } = useEndpoint(listPeople, {})
  const [made, setMade] = useState<{ name: string; address: string } | null>(null)
  if (!data) return <Waiting error={error} />
  return (
    <section aria-labelledby="accounts-title">
      <h2 id="accounts-title">Accounts</h2>
      {made && (
        <SecretOnce secret={made.address} onDone={() => setMade(null)}>
          Send {made.name} this address. A new password can be set there, once, within a day.
        </SecretOnce>
      )}
      {data.length === 0 ? (
        <p className="quiet">Nobody has an account: only this machine reaches the program.</p>
      ) : (
        <table className="results whole-cells people-table">
          <thead>
            <tr>
              <th>Name</th>
              <th>Mail address</th>
              <th>Sites</th>
              <th>Last seen</th>
              <th>Administrator</th>
              <th>May sign in</th>
              <th>Password</th>
            </tr>
          </thead>
          <tbody>
            {data.map(each => (
              <AccountLine key={each.id} person={each} onOffered={address => setMade({ name: each.name, address })} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

function AccountLine({ person, onOffered }: { person: Person; onOffered(address: string): void }) {
  const { id, name, email, isAdministrator, endedAt, lastSeenAt, sites } = person
  return (
    <tr>
      <td className={endedAt ? 'quiet' : ''}>{name}</td>
      <td>{email}</td>
      <td className="quiet">
        {isAdministrator ? 'all' : sites.map(each => `${each.domain} (${each.role})`).join(', ') || 'none'}
      </td>
      <td className="quiet">{lastSeenAt === null ? 'not yet' : formatAge(lastSeenAt)}</td>
      <td>
        {isAdministrator ? 'yes' : 'no'}{' '}
        <ActButton
          label={isAdministrator ? `${name} shall be no administrator` : `${name} shall be an administrator`}
          onAct={async () => {
            await call(changePerson, { accountId: id, isAdministrator: !isAdministrator })
            return { say: `${name} is ${isAdministrator ? 'no administrator any more' : 'an administrator now'}` }
          }}
        >
          {isAdministrator ? 'Take away' : 'Make one'}
        </ActButton>
      </td>
      <td>
        {endedAt ? 'no' : 'yes'}{' '}
        <ActButton
          label={endedAt ? `${name} may sign in again` : `${name} may not sign in any more`}
          onAct={async () => {
            await call(changePerson, { accountId: id, ended: !endedAt })
            return {
              say: endedAt ? `${name} may sign in again` : `${name} is signed out everywhere and may not sign in`,
            }
          }}
        >
          {endedAt ? 'Let in again' : 'Shut out'}
        </ActButton>
      </td>
      <td>
        <ActButton
          label={`An address at which ${name} sets a new password`}
          onAct={async () => onOffered((await call(offerNewPassword, { accountId: id })).address)}
        >
          New one
        </ActButton>
      </td>
    </tr>
  )
}
