import { readMe, type SiteRole } from '@dew-trail/contract/people'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useSite } from './site-context.ts'

/** Who uses the program, and what they may do in the site that is shown; null until that is known. */
export function useMe() {
  const { site } = useSite()
  const { data } = useEndpoint(readMe, {})
  if (!data) return null
  const role: SiteRole = data.isAdministrator
    ? 'owner'
    : (data.roles.find(each => each.siteId === site.id)?.role ?? 'reader')
  return { ...data, role, isOwner: role === 'owner' }
}
