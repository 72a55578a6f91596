import { useTab } from '../../ui/TabBar.tsx'
import { tabs } from './CompareBar.tsx'
import { KeywordsTab } from './KeywordsTab.tsx'
import { OverlapTab } from './OverlapTab.tsx'
import { OverTimeTab } from './OverTimeTab.tsx'
import { PaidTab } from './PaidTab.tsx'
import { PagesTab } from './PagesTab.tsx'
import { ProfilesTab } from './ProfilesTab.tsx'
import { WhoTab } from './WhoTab.tsx'
import { useCompared } from '../../compared/use-compared.ts'

/** How others win, and what the own site lacks. What is looked at and how stands in the address. */
export default function RivalsScreen() {
  const compared = useCompared()
  const see = useTab(tabs)
  if (!compared.ready)
    return (
      <main className="screen whole">
        <p className="empty quiet">Loading</p>
      </main>
    )
  switch (see) {
    case 'keywords':
      return <KeywordsTab {...compared} />
    case 'paid':
      return <PaidTab {...compared} />
    case 'pages':
      return <PagesTab {...compared} />
    case 'overlap':
      return <OverlapTab {...compared} />
    case 'time':
      return <OverTimeTab {...compared} />
    case 'who':
      return <WhoTab {...compared} />
    default:
      return <ProfilesTab {...compared} />
  }
}
