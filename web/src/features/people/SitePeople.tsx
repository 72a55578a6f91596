import {
  changeMember,
  endInvitation,
  invite,
  listMembers,
  type Member,
  type SiteRole,
  siteRoles,
} from '@dew-trail/contract/people'
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
import { RoleField, roleSays } from './RoleField.tsx'
import { SecretOnce } from './SecretOnce.tsx'

/** Who may see the site that is shown, and who was invited to it. */
export function SitePeople() {
  const { site } = useSite()
  const me = useMe()
  const { data, error } = useEndpoint(listMembers, { siteId: site.id })
  if (!data || !me) return <Waiting error={error} />
  return (
    <>
      <section aria-labelledby="members-title">
        <h2 id="members-title">Who may see {site.domain}</h2>
        {data.people.length === 0 ? (
          <p className="quiet">
            {me.signIn === 'none'
              ? 'Whoever uses this machine. Nobody has an account, since nobody has to sign in.'
              : 'Nobody but administrators.'}
          </p>
        ) : (
          <table className="results whole-cells people-table">
            <thead>
              <tr>
                <th>Name</th>
                {me.isOwner && <th>Mail address</th>}
                <th>May</th>
                {me.isOwner && <th>Last seen</th>}
                <th>
                  <span className="hidden">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.people.map(each => (
                <MemberLine key={each.accountId} member={each} isOwner={me.isOwner} />
              ))}
            </tbody>
          </table>
        )}
      </section>
      {me.isOwner && data.invitations.length > 0 && (
        <section aria-labelledby="invited-title">
          <h2 id="invited-title">Invited</h2>
          <table className="results whole-cells people-table">
            <tbody>
              {data.invitations.map(each => (
                <tr key={each.id}>
                  <td>{each.email}</td>
                  <td>{each.role}</td>
                  <td className="quiet">
                    by {each.madeBy}, good until {formatDay(each.endsAt.slice(0, 10))}
                  </td>
                  <td>
                    <ActButton
                      label={`Take the invitation of ${each.email} back`}
                      onAct={async () => {
                        await call(endInvitation, { siteId: site.id, invitationId: each.id })
                        return { say: `The invitation of ${each.email} is taken back` }
                      }}
                    >
                      Take back
                    </ActButton>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {me.isOwner && me.signIn !== 'none' && <Invite />}
    </>
  )
}

function MemberLine({ member, isOwner }: { member: Member; isOwner: boolean }) {
  const { site } = useSite()
  const act = useAct()
  const { accountId, name, role, isAdministrator, lastSeenAt } = member
  const change = (wanted: SiteRole | null) => call(changeMember, { siteId: site.id, accountId, role: wanted })
  return (
    <tr>
      <td>{name}</td>
      {isOwner && <td>{member.email}</td>}
      <td>
        {isAdministrator ? (
          <span className="quiet">administrator, owns every site</span>
        ) : isOwner ? (
          <select
            aria-label={`What ${name} may do`}
            value={role}
            title={roleSays[role]}
            onChange={event => {
              const wanted = event.target.value as SiteRole
              void act(async () => {
                await change(wanted)
                return { say: `${name} is ${wanted} now`, undo: () => change(role) }
              })
            }}
          >
            {siteRoles.map(each => (
              <option key={each} value={each}>
                {each}
              </option>
            ))}
          </select>
        ) : (
          role
        )}
      </td>
      {isOwner && <td className="quiet">{lastSeenAt === null ? 'not yet' : formatAge(lastSeenAt)}</td>}
      <td>
        {isOwner && !isAdministrator && (
          <ActButton
            label={`${name} may not see this site any more`}
            onAct={async () => {
              await change(null)
              return { say: `${name} may not see ${site.domain} any more` }
            }}
          >
            Remove
          </ActButton>
        )}
      </td>
    </tr>
  )
}

/** Lets somebody in: at once where they have an account, else by an address to send them. */
function Invite() {
  const { site } = useSite()
  const act = useAct()
  const [email, setEmail] = useState('')
  const [role, setRole] = useState<SiteRole>('editor')
  const [made, setMade] = useState<{ email: string; address: string } | null>(null)
  const sending = useChange()
  const send = (event: FormEvent) => {
    event.preventDefault()
    void sending.run(() =>
      act(async () => {
        const { address } = await call(invite, { siteId: site.id, email, role })
        setMade(address === null ? null : { email, address })
        setEmail('')
        return { say: address === null ? `${email} has an account and may see the site now` : `${email} is invited` }
      }),
    )
  }
  return (
    <section aria-labelledby="invite-title">
      <h2 id="invite-title">Let somebody in</h2>
      <form onSubmit={send} className="people-form">
        <TextField
          label="Mail address"
          type="email"
          required
          value={email}
          onChange={event => setEmail(event.target.value)}
          sx={{ width: 300 }}
        />
        <RoleField role={role} onChange={setRole} />
        <Button type="submit" variant="contained" disabled={sending.pending}>
          Invite
        </Button>
      </form>
      {made && (
        <SecretOnce secret={made.address} onDone={() => setMade(null)}>
          Send {made.email} this address. It is good for seven days and once; it is not shown again.
        </SecretOnce>
      )}
    </section>
  )
}
