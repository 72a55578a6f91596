import { z } from 'zod'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

export const siteRoles = ['reader', 'editor', 'owner'] as const
/** What somebody may do in a site; each may what those before it may. */
export const siteRole = z.enum(siteRoles)
export type SiteRole = z.infer<typeof siteRole>

export const shortestPassword = 12
const email = z.string().trim().toLowerCase().max(254).pipe(z.email('is not a mail address like name@host.example'))
const personName = text(80).min(1, 'A name is needed')
const password = z.string().max(1_000)
const token = z.string().regex(/^[\w-]{20,60}$/, 'is not whole')
const nothing = z.object({})

/** Who asks. `signIn`: `none` where nobody has to sign in, `first` where the first account is still to be made. */
export const readMe = endpoint({
  summary: 'Who you are and what you may do',
  role: 'anyone',
  errors: [],
  method: 'GET',
  path: '/api/me',
  input: nothing,
  output: z.object({
    signIn: z.enum(['none', 'first', 'needed', 'done']),
    person: z.object({ id: z.number(), name: z.string(), email: z.string() }).nullable(),
    isAdministrator: z.boolean(),
    /** By site; administrators are owners of all. */
    roles: z.array(z.object({ siteId: z.number(), role: siteRole })),
  }),
})
/** Makes the first account, an administrator, and signs it in. `code`: what the terminal shows. */
export const makeFirstAccount = endpoint({
  summary: 'Make the first account',
  role: 'anyone',
  errors: ['badInput', 'notAllowed', 'conflict', 'tooOften'],
  method: 'POST',
  path: '/api/first-account',
  input: z.object({ code: z.string().trim().max(100), email, name: personName, password }),
  output: nothing,
})
/** A failure does not tell whether there is such an account. */
export const signIn = endpoint({
  summary: 'Sign in',
  role: 'anyone',
  errors: ['badInput', 'notSignedIn', 'tooOften'],
  method: 'POST',
  path: '/api/sign-in',
  input: z.object({ email, password }),
  output: nothing,
})
export const signOut = endpoint({
  summary: 'Sign out of this browser',
  role: 'anyone',
  errors: [],
  method: 'POST',
  path: '/api/sign-out',
  input: nothing,
  output: nothing,
})
/** What an invitation is for. `isNewPassword`: it gives somebody who has an account a new password. */
export const readInvitation = endpoint({
  summary: 'What an invitation is for',
  role: 'anyone',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/invitations/:token',
  input: z.object({ token }),
  output: z.object({ email: z.string(), madeBy: z.string(), isNewPassword: z.boolean(), sites: z.array(z.string()) }),
})
/** Makes the account (or the new password) and signs in; an invitation is good once. */
export const acceptInvitation = endpoint({
  summary: 'Accept an invitation',
  role: 'anyone',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/invitations/:token',
  input: z.object({ token, name: personName.optional(), password }),
  output: nothing,
})

const session = z.object({
  id: z.number(),
  isThis: z.boolean(),
  begunAt: z.string(),
  lastSeenAt: z.string(),
  address: z.string(),
  agent: z.string(),
})
export type Session = z.infer<typeof session>
export const listSessions = endpoint({
  summary: 'Browsers in which you are signed in',
  role: 'reader',
  errors: ['notAllowed'],
  method: 'GET',
  path: '/api/me/sessions',
  input: nothing,
  output: z.array(session),
})
/** Signs out everywhere, this browser included. */
export const endSessions = endpoint({
  summary: 'Sign out everywhere',
  role: 'reader',
  errors: ['notAllowed'],
  method: 'POST',
  path: '/api/me/sessions/end',
  input: nothing,
  output: z.object({ ended: z.number() }),
})
/** Changes one's own name or password; a new password needs the old one, and ends all other sessions. */
export const changeMe = endpoint({
  summary: 'Change your name or password',
  role: 'reader',
  errors: ['badInput', 'notAllowed', 'conflict', 'tooOften'],
  method: 'PATCH',
  path: '/api/me',
  input: z.object({ name: personName.optional(), oldPassword: password.optional(), newPassword: password.optional() }),
  output: nothing,
})

const member = z.object({
  accountId: z.number(),
  name: z.string(),
  /** Null to those who are not owners. */
  email: z.string().nullable(),
  role: siteRole,
  isAdministrator: z.boolean(),
  lastSeenAt: z.string().nullable(),
})
export type Member = z.infer<typeof member>
const invitation = z.object({
  id: z.number(),
  email: z.string(),
  role: siteRole.nullable(),
  madeBy: z.string(),
  endsAt: z.string(),
})
/** Who may see a site; invitations only to owners. */
export const listMembers = endpoint({
  summary: 'Who may see a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/people',
  input: z.object({ siteId: id }),
  output: z.object({ people: z.array(member), invitations: z.array(invitation) }),
  oldBy: ['people'],
})
/** An invitation to a site; its address is shown once and good for seven days. Who has an account is let in at once: no address then. */
export const invite = endpoint({
  summary: 'Let somebody into a site',
  role: 'owner',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/people',
  input: z.object({ siteId: id, email, role: siteRole }),
  output: z.object({ address: z.string().nullable() }),
})
/** What somebody may do in a site from now on; null: nothing. */
export const changeMember = endpoint({
  summary: 'Change what somebody may do in a site',
  role: 'owner',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/people/:accountId',
  input: z.object({ siteId: id, accountId: id, role: siteRole.nullable() }),
  output: nothing,
})
export const endInvitation = endpoint({
  summary: 'Take an invitation back',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/invitations/:invitationId',
  input: z.object({ siteId: id, invitationId: id }),
  output: nothing,
})

const person = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  isAdministrator: z.boolean(),
  createdAt: z.string(),
  lastSeenAt: z.string().nullable(),
  endedAt: z.string().nullable(),
  sites: z.array(z.object({ domain: z.string(), role: siteRole })),
})
export type Person = z.infer<typeof person>
export const listPeople = endpoint({
  summary: 'Accounts of the installation',
  role: 'administrator',
  errors: [],
  method: 'GET',
  path: '/api/people',
  input: nothing,
  output: z.array(person),
  oldBy: ['people'],
})
/** `ended`: may not sign in any more, and all sessions end. The last administrator stays. */
export const changePerson = endpoint({
  summary: 'Change an account',
  role: 'administrator',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/people/:accountId',
  input: z.object({ accountId: id, isAdministrator: z.boolean().optional(), ended: z.boolean().optional() }),
  output: nothing,
})
/** An address, good for a day, at which somebody who forgot their password makes a new one. */
export const offerNewPassword = endpoint({
  summary: 'An address for a new password',
  role: 'administrator',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/people/:accountId/new-password',
  input: z.object({ accountId: id }),
  output: z.object({ address: z.string() }),
})

export const activityKinds = [
  'signIn',
  'signInFailed',
  'signOut',
  'act',
  'export',
  'people',
  'keys',
  'sources',
  'keeping',
  'site',
] as const
const activity = z.object({
  id: z.number(),
  at: z.string(),
  who: z.string(),
  address: z.string(),
  kind: z.enum(activityKinds),
  what: z.string(),
})
export type Activity = z.infer<typeof activity>
const activityQuery = { kind: z.enum(activityKinds).optional(), who: text(80).optional(), before: id.optional() }
/** What was done in a site, the newest first, a hundred at a time; `before`: the id of the last one seen. */
export const listActivity = endpoint({
  summary: 'What was done in a site, and by whom',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/activity',
  input: z.object({ siteId: id, ...activityQuery }),
  output: z.array(activity),
  oldBy: ['acts', 'people'],
})
/** The same of the whole installation, sign-ins with it. */
export const listAllActivity = endpoint({
  summary: 'What was done in the installation',
  role: 'administrator',
  errors: ['badInput'],
  method: 'GET',
  path: '/api/activity',
  input: z.object(activityQuery),
  output: z.array(activity),
  oldBy: ['acts', 'people'],
})
