import { AsyncLocalStorage } from 'node:async_hooks'
import type { Role } from '@dew-trail/contract/endpoint'
import { AppError } from '@dew-trail/contract/errors'
import type { SiteRole } from '@dew-trail/contract/people'

/** Who makes a request: a person, a program with an access key, or, where nobody has to sign in, this machine. */
export type Who = {
  /** As it stands beside what they did. */
  name: string
  accountId: number | null
  sessionId: number | null
  isAdministrator: boolean
  /** What they may do in every site; null: only in those below. */
  everySite: SiteRole | null
  sites: ReadonlyMap<number, SiteRole>
  /** Where the request came from. */
  address: string
}

export const thisMachine = (address: string): Who => ({
  name: 'this machine',
  accountId: null,
  sessionId: null,
  isAdministrator: true,
  everySite: 'owner',
  sites: new Map(),
  address,
})

const rank: Record<SiteRole, number> = { reader: 1, editor: 2, owner: 3 }
const article: Record<SiteRole, string> = { reader: 'a reader', editor: 'an editor', owner: 'an owner' }

/** Who the request under way is made by; null: nobody signed in. Outside of requests (jobs) there is none: `undefined`. */
const current = new AsyncLocalStorage<Who | null>()

export const asWho = <T>(who: Who | null, work: () => T): T => current.run(who, work)
export const whoAsks = (): Who | null | undefined => current.getStore()

/** Who asks. Throws `notSignedIn` where nobody signed in. */
export function needWho(): Who {
  const who = current.getStore()
  if (!who) throw new AppError('notSignedIn', 'Sign in first, or send an access key.')
  return who
}
/** What somebody may do in a site; null: nothing. */
export const roleIn = (who: Who, siteId: number): SiteRole | null => {
  const own = who.sites.get(siteId)
  if (!who.everySite) return own ?? null
  return own && rank[own] > rank[who.everySite] ? own : who.everySite
}
export const maySee = (siteId: number): boolean => roleIn(needWho(), siteId) !== null

/**
 * Throws where who asks may not do what a role may: `notSignedIn`, `notAllowed`, and for a site they do not belong to `notFound`, as for
 * one that is not there. Without a site an editor or owner of any will do.
 */
export function needRole(role: Role, siteId?: number | null): void {
  if (role === 'anyone' || role === 'link') return
  const who = needWho()
  if (siteId !== undefined && siteId !== null) {
    const theirs = roleIn(who, siteId)
    if (theirs === null) throw new AppError('notFound', `There is no site ${siteId}`)
    if (role !== 'administrator' && rank[theirs] < rank[role])
      throw new AppError(
        'notAllowed',
        `Only ${article[role]} of the site may do this; you are ${article[theirs]} of it.`,
      )
  }
  if (role === 'administrator') {
    if (!who.isAdministrator) throw new AppError('notAllowed', 'Only an administrator of the installation may do this.')
    return
  }
  if (siteId === undefined || siteId === null) {
    const best = Math.max(
      who.everySite ? rank[who.everySite] : rank.reader,
      ...[...who.sites.values()].map(each => rank[each]),
    )
    if (best < rank[role]) throw new AppError('notAllowed', `Only ${article[role]} of a site may do this.`)
  }
}
