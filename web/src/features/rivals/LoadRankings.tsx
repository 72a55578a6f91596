import { loadRankings } from '@dew-trail/contract/rivals'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { plural } from '../../ui/format.ts'
import { useJobs } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'

type Props = { targets: readonly string[]; months?: number; children?: string }
/** Asks the rankings feed about the compared sites; says before it starts what that costs. */
export function LoadRankings({ targets, months = 0, children = 'Load rankings' }: Props) {
  const { site, market } = useSite()
  const { jobs } = useJobs()
  const loading = jobs.some(job => job.kind === 'rankings' && job.endedAt === null)
  const least = targets.length * (2 + months)
  return (
    <ActButton
      disabled={loading}
      title={`At least ${plural(least, 'request')} to the rankings feed (${months ? `one a site and month, and two` : 'two'} a site; more where a site stands for over 5,000 keywords); to the ads data ${plural(targets.length * (1 + months), 'request')} about what they pay for, and one for each 1,000 new keywords`}
      onAct={async () => {
        await call(loadRankings, { siteId: site.id, marketId: market.id, targets: [...targets], months })
        return { say: `Asking the rankings feed about ${plural(targets.length, 'site')}` }
      }}
    >
      {loading ? 'Loading rankings' : children}
    </ActButton>
  )
}
