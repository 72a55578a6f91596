import { useTab } from '../../ui/TabBar.tsx'
import { AlertsTab } from './AlertsTab.tsx'
import { ChangesTab } from './ChangesTab.tsx'
import { PagesTab } from './PagesTab.tsx'
import { PositionsTab } from './PositionsTab.tsx'
import { SitesTab } from './SitesTab.tsx'
import { tabs } from './TrackBar.tsx'
import { VoiceTab } from './VoiceTab.tsx'

/** Positions of tracked keywords, who else gets their visits, and all sites at a glance. What is looked at stands in the address. */
export default function TrackScreen() {
  const see = useTab(tabs)
  if (see === 'changes') return <ChangesTab />
  if (see === 'voice') return <VoiceTab />
  if (see === 'pages') return <PagesTab />
  if (see === 'alerts') return <AlertsTab />
  if (see === 'sites') return <SitesTab />
  return <PositionsTab />
}
