import type { ScreenHelp } from '../../feature.ts'
import { tabs, type Tab } from './plan-words.ts'

const parts: Record<Tab, string> = {
  map: 'The site as a tree: pages it has, pages it should have. Drag a page, or Alt and an arrow; open one for its keywords and its brief.',
  list: 'All planned pages as a table with conditions, views and files.',
  board: 'Work by state: drag a card on, or Alt and an arrow.',
  calendar: 'Deadlines by month and week. Subscribe to see them in your own calendar.',
  first:
    'Say how many days of work there are a month; it finds the set of pages that brings most, in which order, and what a year of it looks like.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'plan',
    title: 'Plan',
    says: [
      'Decide which page answers which keywords, and what is made first. A page is new, reworked, merged, removed or left as it is; it has keywords, a brief, an owner, a deadline and a state.',
      'Visits with the plan are what the site can expect for these keywords once the page has settled, never less than now; the range holds in eight cases of ten.',
    ],
    tabs,
    parts,
  },
]
export default help
