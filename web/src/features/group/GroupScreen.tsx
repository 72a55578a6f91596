import { lazy } from 'react'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { formatWhole } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { getTrail } from '@dew-trail/contract/sites'
import { usePageTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useTab } from '../../ui/TabBar.tsx'
import { BesideTab } from './BesideTab.tsx'
import { CheckTab } from './CheckTab.tsx'
import { CompetingTab } from './CompetingTab.tsx'
import { KeywordsTab } from './KeywordsTab.tsx'
import { ThemesTab } from './ThemesTab.tsx'
import { tabs, useGroupings } from './use-grouping.ts'

const GroupDialog = lazy(() => import('./GroupDialog.tsx'))

/** Keywords in themes that one page can answer. Which grouping is looked at and how stands in the address. */
export default function GroupScreen() {
  const see = useTab(tabs)
  const { groupings, grouping, error } = useGroupings()
  usePageTitle('Group')
  if (!groupings)
    return (
      <main className="screen whole">
        <p className="empty quiet" role={error ? 'alert' : undefined}>
          {error ? error.message : 'Loading'}
        </p>
      </main>
    )
  if (!grouping) return <NoGrouping />
  const shown = { groupings, grouping }
  switch (see) {
    case 'keywords':
      return <KeywordsTab {...shown} />
    case 'competing':
      return <CompetingTab {...shown} />
    case 'check':
      return <CheckTab {...shown} />
    case 'beside':
      return <BesideTab {...shown} />
    default:
      return <ThemesTab {...shown} />
  }
}

function NoGrouping() {
  const { site, market } = useSite()
  const show = useShowDialog()
  const { data } = useEndpoint(getTrail, { siteId: site.id, marketId: market.id })
  return (
    <main className="screen whole">
      <div className="main">
        <div className="empty" style={{ flex: 1 }}>
          <h1>Which keywords are one page?</h1>
          <p>
            Keywords whose first results are mostly the same pages can be answered by one page. Grouping finds them,
            says which need pages of their own, and whether two of your pages already fight for the same words.
          </p>
          {data && (
            <p className="quiet">
              {data.kept > 0
                ? `${formatWhole(data.kept)} keywords are kept in this site.`
                : 'No keyword is kept yet; you can also paste some, or take a file.'}
            </p>
          )}
          <button type="button" className="link" onClick={() => show(close => <GroupDialog onClose={close} />)}>
            Group keywords
          </button>
        </div>
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
