import { AppError } from '@dew-trail/contract/errors'
import {
  changeMember,
  changePerson,
  endInvitation,
  invite,
  listActivity,
  listAllActivity,
  listMembers,
  listPeople,
  offerNewPassword,
} from '@dew-trail/contract/people'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { manyActivities, noteActivity } from '../../domain/people/activity.ts'
import {
  countOtherAdministrators,
  deleteInvitation,
  deleteSessions,
  insertInvitation,
  manyAccounts,
  manyInvitations,
  manyMemberships,
  maybeAccount,
  setMembership,
  updateAccount,
} from '../../domain/people/queries.ts'
import { hashToken, newToken } from '../../domain/people/tokens.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { mount } from '../../platform/http/mount.ts'
import { publicAddress } from '../../platform/http/public-address.ts'
import { needWho, roleIn } from '../../platform/http/who.ts'

const invitationDays = 7
const needAccount = async (db: Context['pool'], accountId: number) => {
  const account = await maybeAccount(db, { id: accountId })
  if (!account) throw new AppError('notFound', `There is no account ${accountId}`)
  return account
}
const iso = (at: Date | null): string | null => at?.toISOString() ?? null

/** Who may see what, and what was done. */
export function mountPeople(router: Router, context: Context): void {
  const { pool, people, events } = context
  const changed = () => events.publish(null, { type: 'people' })
  const inviteTo = (token: string): string => publicAddress(context.config, `/invitation/${token}`)

  mount(router, listMembers, async ({ siteId }) => {
    const isOwner = roleIn(needWho(), siteId) === 'owner'
    const [accounts, members, invitations] = await Promise.all([
      manyAccounts(pool),
      manyMemberships(pool, { siteId }),
      isOwner ? manyInvitations(pool, siteId) : [],
    ])
    const roleOf = new Map(members.map(each => [each.accountId, each.role]))
    return {
      people: accounts.flatMap(({ id, name, email, isAdministrator, lastSeenAt, endedAt }) => {
        const role = isAdministrator ? 'owner' : roleOf.get(id)
        if (!role || endedAt) return []
        return [
          {
            accountId: id,
            name,
            email: isOwner ? email : null,
            role,
            isAdministrator,
            lastSeenAt: isOwner ? iso(lastSeenAt) : null,
          },
        ]
      }),
      invitations: invitations.map(({ id, email, sites, madeBy, endsAt }) => ({
        id,
        email,
        role: sites.find(each => each.siteId === siteId)?.role ?? null,
        madeBy,
        endsAt: endsAt.toISOString(),
      })),
    }
  })

  mount(router, invite, async ({ siteId, email, role }) => {
    if (people.signIn !== 'needed')
      throw new AppError(
        'conflict',
        'Nobody has to sign in while only this machine reaches the program. Open it to others first (docs/running.md), then invite them.',
      )
    const known = await maybeAccount(pool, { email })
    const { name } = needWho()
    if (known) {
      if (known.endedAt)
        throw new AppError('conflict', `${known.name} may not sign in any more. An administrator can change that.`)
      await setMembership(pool, siteId, known.id, role)
      await noteActivity(pool, { kind: 'people', siteId, what: `${known.name} is ${role} now` })
      changed()
      return { address: null }
    }
    const token = newToken()
    await insertInvitation(pool, {
      tokenHash: hashToken(token),
      email,
      isAdministrator: false,
      accountId: null,
      sites: [{ siteId, role }],
      madeBy: name,
      days: invitationDays,
    })
    await noteActivity(pool, { kind: 'people', siteId, what: `Invited ${email} as ${role}` })
    changed()
    return { address: inviteTo(token) }
  })

  mount(router, changeMember, async ({ siteId, accountId, role }) => {
    const account = await needAccount(pool, accountId)
    if (account.isAdministrator)
      throw new AppError('conflict', `${account.name} is an administrator, who owns every site.`)
    const member = (await manyMemberships(pool, { siteId, accountId }))[0]
    if (!member) throw new AppError('notFound', `${account.name} does not belong to the site`)
    await setMembership(pool, siteId, accountId, role)
    await noteActivity(pool, {
      kind: 'people',
      siteId,
      what: role === null ? `${account.name} may not see the site any more` : `${account.name} is ${role} now`,
    })
    changed()
    return {}
  })

  mount(router, endInvitation, async ({ siteId, invitationId }) => {
    const invitation = (await manyInvitations(pool, siteId)).find(each => each.id === invitationId)
    if (!invitation) throw new AppError('notFound', 'This invitation is not there any more')
    await deleteInvitation(pool, invitationId)
    await noteActivity(pool, { kind: 'people', siteId, what: `Took the invitation of ${invitation.email} back` })
    changed()
    return {}
  })

  mount(router, listPeople, async () => {
    const members = await manyMemberships(pool)
    return (await manyAccounts(pool)).map(({ passwordHash: _, createdAt, lastSeenAt, endedAt, ...account }) => ({
      ...account,
      createdAt: createdAt.toISOString(),
      lastSeenAt: iso(lastSeenAt),
      endedAt: iso(endedAt),
      sites: members.filter(each => each.accountId === account.id).map(({ domain, role }) => ({ domain, role })),
    }))
  })

  mount(router, changePerson, async ({ accountId, isAdministrator, ended }) => {
    const account = await needAccount(pool, accountId)
    await inTransaction(pool, async db => {
      const leaves = account.isAdministrator && (isAdministrator === false || ended === true)
      if (leaves && !(await countOtherAdministrators(db, accountId)))
        throw new AppError('conflict', `${account.name} is the only administrator. Make somebody else one first.`)
      await updateAccount(db, accountId, {
        ...(isAdministrator === undefined ? {} : { isAdministrator }),
        ...(ended === undefined ? {} : { ended }),
      })
      if (ended) await deleteSessions(db, accountId)
      const what = [
        isAdministrator === undefined
          ? ''
          : isAdministrator
            ? 'is an administrator now'
            : 'is no administrator any more',
        ended === undefined ? '' : ended ? 'may not sign in any more' : 'may sign in again',
      ]
      await noteActivity(db, { kind: 'people', what: `${account.name} ${what.filter(Boolean).join(' and ')}` })
    })
    changed()
    return {}
  })

  mount(router, offerNewPassword, async ({ accountId }) => {
    const account = await needAccount(pool, accountId)
    const token = newToken()
    await insertInvitation(pool, {
      tokenHash: hashToken(token),
      email: account.email,
      isAdministrator: account.isAdministrator,
      accountId,
      sites: [],
      madeBy: needWho().name,
      days: 1,
    })
    await noteActivity(pool, { kind: 'people', what: `Made an address at which ${account.name} sets a new password` })
    return { address: inviteTo(token) }
  })

  mount(router, listActivity, ({ siteId, ...query }) => manyActivities(pool, siteId, query))
  mount(router, listAllActivity, query => manyActivities(pool, null, query))
}
