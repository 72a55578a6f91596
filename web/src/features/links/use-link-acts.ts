import { setCleared, setDisavowed } from '@dew-trail/contract/link-lists'
import { addProspects } from '@dew-trail/contract/prospects'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** What can be done with linking sites wherever they are listed. */
export function useLinkActs() {
  const { site } = useSite()
  const act = useAct()
  return useMemo(
    () => ({
      /** `sites`: each with the page that should have the link, where one is known. */
      addProspects: (sites: ReadonlyArray<{ domain: string; page?: string | null }>) =>
        act(async () => {
          const { added, known, actId } = await call(addProspects, { siteId: site.id, sites: [...sites] })
          const before = known.length
            ? `; ${known.length === 1 ? `${known[0]} was one` : `${plural(known.length, 'site was', 'sites were')} one`} already`
            : ''
          return { say: `${plural(added, 'prospect')} added${before}`, actId }
        }),
      disavow: (domains: readonly string[], on: boolean) =>
        act(async () => {
          const { changed, actId } = await call(setDisavowed, { siteId: site.id, domains: [...domains], on })
          return {
            say: `${plural(changed, 'site is', 'sites are')} ${on ? 'disavowed' : 'no longer disavowed'}`,
            actId,
          }
        }),
      clear: (domains: readonly string[], on: boolean) =>
        act(async () => {
          const { changed, actId } = await call(setCleared, { siteId: site.id, domains: [...domains], on })
          const what = on ? 'of no network, as you say' : 'judged by the program again'
          return { say: `${plural(changed, 'site is', 'sites are')} ${what}`, actId }
        }),
    }),
    [site.id, act],
  )
}
