import { AppError } from '@dew-trail/contract/errors'
import {
  acceptInvitation,
  changeMe,
  endSessions,
  listSessions,
  makeFirstAccount,
  readInvitation,
  readMe,
  signIn,
  signOut,
} from '@dew-trail/contract/people'
import type { Request, Response, Router } from 'express'
import type { Context } from '../../context.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { checkPassword, hashPassword, isPassword } from '../../domain/people/passwords.ts'
import {
  deleteInvitation,
  deleteSession,
  deleteSessions,
  insertAccount,
  insertSession,
  manyMemberships,
  manySessions,
  maybeAccount,
  maybeInvitation,
  sessionDays,
  setMembership,
  updateAccount,
} from '../../domain/people/queries.ts'
import { hashToken, newToken } from '../../domain/people/tokens.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { mount } from '../../platform/http/mount.ts'
import { needWho, whoAsks } from '../../platform/http/who.ts'

const gone = () => new AppError('notFound', 'This invitation is not there: it was used, taken back, or has ended.')
const taken = () => new AppError('conflict', 'Somebody has an account with this mail address or name already.')

/** Coming in, going out, and what people change of their own account. */
export function mountSignIn(router: Router, context: Context): void {
  const { pool, people } = context

  /** Signs a browser in: its cookie is a secret of which only the hash is kept. */
  const begin = async (
    { request, response }: { request: Request; response: Response },
    account: { id: number; name: string },
  ): Promise<void> => {
    const token = newToken()
    const address = request.ip ?? ''
    await insertSession(pool, {
      tokenHash: hashToken(token),
      accountId: account.id,
      address,
      agent: String(request.headers['user-agent'] ?? ''),
    })
    await noteActivity(pool, {
      kind: 'signIn',
      what: 'Signed in',
      who: { name: account.name, accountId: account.id, address },
    })
    const { name, secure } = people.cookie
    response.cookie(name, token, {
      httpOnly: true,
      secure,
      sameSite: 'strict',
      path: '/',
      maxAge: sessionDays * 86_400_000,
    })
  }

  mount(router, readMe, async () => {
    const who = whoAsks()
    const { signIn } = people
    if (!who) return { signIn, person: null, isAdministrator: false, roles: [] }
    const account = who.accountId === null ? undefined : await maybeAccount(pool, { id: who.accountId })
    return {
      signIn: signIn === 'none' ? ('none' as const) : ('done' as const),
      person: account ? { id: account.id, name: account.name, email: account.email } : null,
      isAdministrator: who.isAdministrator,
      roles: [...who.sites].map(([siteId, role]) => ({ siteId, role })),
    }
  })

  mount(router, makeFirstAccount, async ({ code, email, name, password }, http) => {
    if (people.signIn !== 'first')
      throw new AppError('conflict', 'There is an account already. Sign in, or be invited.')
    const tried = await people.countTry('the first account', http.request.ip ?? '')
    if (!people.isFirstCode(code))
      throw new AppError('notAllowed', 'This is not the code that the terminal shows. Nothing was made.')
    checkPassword(password, { name, email })
    const passwordHash = await hashPassword(password)
    // Two at once must not both become the first.
    const id = await inTransaction(pool, async db => {
      await db.query('lock table account in exclusive mode')
      const { rows } = await db.query('select from account limit 1')
      return rows.length ? undefined : insertAccount(db, { email, name, passwordHash, isAdministrator: true })
    })
    if (id === undefined) throw new AppError('conflict', 'There is an account already. Sign in, or be invited.')
    await tried.right()
    await people.lookAgain()
    people.onChange()
    await begin(http, { id, name })
    return {}
  })

  mount(router, signIn, async ({ email, password }, http) => {
    const address = http.request.ip ?? ''
    const tried = await people.countTry(email, address)
    const account = await maybeAccount(pool, { email })
    const fits = await isPassword(password, account?.passwordHash)
    if (!account || !fits || account.endedAt) {
      await noteActivity(pool, {
        kind: 'signInFailed',
        what: `Wrong mail address or password for ${email}`,
        who: { name: account?.name ?? 'unknown', accountId: account?.id ?? null, address },
      })
      throw new AppError('notSignedIn', 'The mail address or the password is wrong.')
    }
    await tried.right()
    await begin(http, account)
    return {}
  })

  mount(router, signOut, async (_, { response }) => {
    const who = whoAsks()
    if (who?.sessionId) {
      await deleteSession(pool, who.sessionId)
      await noteActivity(pool, { kind: 'signOut', what: 'Signed out' })
    }
    response.clearCookie(people.cookie.name, { path: '/', secure: people.cookie.secure, sameSite: 'strict' })
    return {}
  })

  mount(router, readInvitation, async ({ token }) => {
    const invitation = await maybeInvitation(pool, hashToken(token))
    if (!invitation) throw gone()
    const { rows } = await pool.query<{ domain: string }>(
      'select domain from site where id = any($1) order by domain',
      [invitation.sites.map(each => each.siteId)],
    )
    return {
      email: invitation.email,
      madeBy: invitation.madeBy,
      isNewPassword: invitation.accountId !== null,
      sites: rows.map(row => row.domain),
    }
  })

  mount(router, acceptInvitation, async ({ token, name: given, password }, http) => {
    const account = await inTransaction(pool, async db => {
      const invitation = await maybeInvitation(db, hashToken(token))
      if (!invitation) throw gone()
      const known = invitation.accountId === null ? undefined : await maybeAccount(db, { id: invitation.accountId })
      const name = known?.name ?? given ?? ''
      if (!name) throw new AppError('badInput', 'name: A name is needed')
      checkPassword(password, { name, email: invitation.email })
      const passwordHash = await hashPassword(password)
      let id = known?.id
      if (id !== undefined) {
        await updateAccount(db, id, { passwordHash })
        await deleteSessions(db, id)
      } else {
        id = await insertAccount(db, { ...invitation, name, passwordHash })
        if (id === undefined) throw taken()
        // A site may have been removed since.
        for (const { siteId, role } of invitation.sites)
          if ((await db.query('select from site where id = $1', [siteId])).rowCount)
            await setMembership(db, siteId, id, role)
      }
      await deleteInvitation(db, invitation.id)
      await noteActivity(db, {
        kind: 'people',
        what: known ? 'Made a new password' : `Accepted the invitation of ${invitation.madeBy}`,
        who: { name, accountId: id, address: http.request.ip ?? '' },
      })
      return { id, name }
    })
    await people.lookAgain()
    people.onChange()
    context.events.publish(null, { type: 'people' })
    await begin(http, account)
    return {}
  })

  const needPerson = () => {
    const who = needWho()
    if (who.accountId === null)
      throw new AppError('notAllowed', 'Only somebody who signed in with an account may do this.')
    return { ...who, accountId: who.accountId }
  }
  mount(router, listSessions, async () => {
    const { accountId, sessionId } = needPerson()
    return (await manySessions(pool, accountId)).map(({ id, begunAt, lastSeenAt, address, agent }) => ({
      id,
      isThis: id === sessionId,
      begunAt: begunAt.toISOString(),
      lastSeenAt: lastSeenAt.toISOString(),
      address,
      agent,
    }))
  })
  mount(router, endSessions, async (_, { response }) => {
    const { accountId } = needPerson()
    const ended = await deleteSessions(pool, accountId)
    await noteActivity(pool, { kind: 'signOut', what: 'Signed out everywhere' })
    response.clearCookie(people.cookie.name, { path: '/', secure: people.cookie.secure, sameSite: 'strict' })
    return { ended }
  })
  mount(router, changeMe, async ({ name, oldPassword, newPassword }, { request }) => {
    const { accountId, sessionId } = needPerson()
    const account = (await maybeAccount(pool, { id: accountId }))!
    if (newPassword !== undefined) {
      const tried = await people.countTry(account.email, request.ip ?? '')
      if (!(await isPassword(oldPassword ?? '', account.passwordHash)))
        throw new AppError('badInput', 'oldPassword: This is not your password. Nothing was changed.')
      await tried.right()
      checkPassword(newPassword, { name: name ?? account.name, email: account.email })
    }
    const passwordHash = newPassword === undefined ? undefined : await hashPassword(newPassword)
    await inTransaction(pool, async db => {
      if (name !== undefined && name !== account.name) {
        if (await maybeAccount(db, { name })) throw taken()
        for (const table of ['page_plan', 'prospect'])
          await db.query(`update ${table} set owner = $2 where owner = $1`, [account.name, name])
      }
      await updateAccount(db, accountId, { ...(name ? { name } : {}), ...(passwordHash ? { passwordHash } : {}) })
      if (passwordHash) await deleteSessions(db, accountId, sessionId)
      await noteActivity(db, {
        kind: 'people',
        what: passwordHash ? 'Changed their password' : `Is called ${name ?? account.name} now`,
      })
    })
    // Their name stands beside what they own.
    if (name !== undefined)
      for (const { siteId } of await manyMemberships(pool, { accountId }))
        context.events.publish(siteId, { type: 'plan' })
    context.events.publish(null, { type: 'people' })
    return {}
  })
}
