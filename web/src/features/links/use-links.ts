import { type LinkAge, linkAges } from '@dew-trail/contract/link-lists'
import { useTarget } from '../../compared/TargetChoice.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAddress } from '../../ui/use-address.ts'

/** How far "lost" can look back, in days; the usual one first. */
export const lostDays = [90, 7, 30, 365] as const

/** What of whose links is looked at, as the address says, in the form in which endpoints are asked. */
export function useLinks(targets: readonly string[]) {
  const { site } = useSite()
  const [params] = useAddress()
  const target = useTarget(targets)
  const wanted = params.get('age') as LinkAge
  const age: LinkAge = linkAges.includes(wanted) ? wanted : 'there'
  const days: number = lostDays.find(each => String(each) === params.get('days')) ?? lostDays[0]
  const sources = params.get('sources')?.split(',').filter(Boolean) ?? []
  return { target, age, days, sources, scope: { siteId: site.id, age, days, sources }, own: target === site.domain }
}

/** Which links count, in words. */
export const ageWords = (age: LinkAge, days: number): string =>
  age === 'there' ? 'there now' : age === 'ever' ? 'ever seen' : `lost within ${days} days`
