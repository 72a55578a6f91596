import type { ScreenHelp } from '../../feature.ts'
import { tabs, type Tab } from './use-grouping.ts'

const parts: Record<Tab, string> = {
  themes:
    'Themes with their lead, searches and the page that answers them. Look at another threshold to see what it would make before anything is saved.',
  keywords: 'Every keyword of the grouping with its theme; those that are alone, and why.',
  competing: 'Themes for which two or more of your own pages stand within 30: which one to strengthen, which to merge.',
  check: 'How far each theme holds together, and keywords that would stand better in another.',
  beside: 'Two groupings next to each other: what moved, what split, what came together.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'group',
    title: 'Group',
    says: [
      'Which keywords can one page answer? Those whose first pages show the same results. Make a grouping from kept keywords, a list or a file; the current one of a market names the themes that other screens show.',
      'Move keywords to another theme or a new one, name and merge themes; each step can be undone. P puts a theme on a page of the plan.',
    ],
    tabs,
    parts,
  },
]
export default help
