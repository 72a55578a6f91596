import { type LinkAge, linkAges } from '@dew-trail/contract/link-lists'
import { useTarget } from '../../compared/TargetChoice.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAddress } from '../../ui/use-address.ts'

/** "Lost" looks so many days back. */
export const lostDays = 90

/** What of whose links is looked at, as the address says, in the form in which endpoints are asked. */
export function useLinks(targets: readonly string[]) {
  const { site } = useSite()
  const [params] = useAddress()
  const target = useTarget(targets)
  const scope = params.get('age') as LinkAge
  const age: LinkAge = linkAges.includes(scope) ? scope : 'there'
  return { target, age, scope: { siteId: site.id, age, days: lostDays }, own: target === site.domain }
}
