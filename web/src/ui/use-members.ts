import { listMembers, type Member } from '@dew-trail/contract/people'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useSite } from './site-context.ts'

const none: Member[] = []
/** Who belongs to the site, to be offered as owners of work; nobody where people do not sign in. */
export function useMembers(): Member[] {
  const { site } = useSite()
  return useEndpoint(listMembers, { siteId: site.id }).data?.people ?? none
}
