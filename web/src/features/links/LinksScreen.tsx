import { useCompared } from '../../compared/use-compared.ts'
import { useTab } from '../../ui/TabBar.tsx'
import { AnchorsTab } from './AnchorsTab.tsx'
import { FindsTab } from './FindsTab.tsx'
import { LinkedPagesTab } from './LinkedPagesTab.tsx'
import { LinkingSitesTab } from './LinkingSitesTab.tsx'
import { tabs } from './LinksBar.tsx'
import { LinkRowsTab } from './LinkRowsTab.tsx'
import { ProfileTab } from './ProfileTab.tsx'
import { ProspectsTab } from './ProspectsTab.tsx'
import { RankingTab } from './RankingTab.tsx'
import { SeveralTab } from './SeveralTab.tsx'
import { SuspiciousTab } from './SuspiciousTab.tsx'

/** Who links to whom, and what to do about it. What is looked at and how stands in the address. */
export default function LinksScreen() {
  const compared = useCompared()
  const see = useTab(tabs)
  if (!compared.ready)
    return (
      <main className="screen whole">
        <p className="empty quiet">Loading</p>
      </main>
    )
  switch (see) {
    case 'sites':
      return <LinkingSitesTab {...compared} />
    case 'links':
      return <LinkRowsTab {...compared} />
    case 'anchors':
      return <AnchorsTab {...compared} />
    case 'pages':
      return <LinkedPagesTab {...compared} />
    case 'several':
      return <SeveralTab {...compared} />
    case 'suspicious':
      return <SuspiciousTab {...compared} />
    case 'prospects':
      return <ProspectsTab {...compared} />
    case 'lists':
      return <FindsTab {...compared} />
    case 'ranking':
      return <RankingTab {...compared} />
    default:
      return <ProfileTab {...compared} />
  }
}
