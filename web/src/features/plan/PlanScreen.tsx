import { useTab } from '../../ui/TabBar.tsx'
import { BoardTab } from './BoardTab.tsx'
import { CalendarTab } from './CalendarTab.tsx'
import { FirstTab } from './FirstTab.tsx'
import { ListTab } from './ListTab.tsx'
import { MapTab } from './MapTab.tsx'
import { tabs } from './plan-words.ts'

/** The site's pages as they are and as they should be, who makes them, and what comes first. What is looked at stands in the address. */
export default function PlanScreen() {
  const see = useTab(tabs)
  switch (see) {
    case 'list':
      return <ListTab />
    case 'board':
      return <BoardTab />
    case 'calendar':
      return <CalendarTab />
    case 'first':
      return <FirstTab />
    default:
      return <MapTab />
  }
}
