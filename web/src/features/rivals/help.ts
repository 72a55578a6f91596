import type { ScreenHelp } from '../../feature.ts'
import { tabs, type Tab } from './CompareBar.tsx'

const parts: Record<Tab, string> = {
  profiles: 'Keywords, visits, worth, subjects, links and advertising of up to five sites in the same rows.',
  keywords:
    'What one of the sites stands for, with your own position beside it. Take keywords over, and they are yours to weigh.',
  pages: 'Its landing pages by visits; of your own site the weak ones first, each with what to do next.',
  paid: 'What it advertises for, and about what it spends.',
  overlap:
    'Who stands where as a set matrix: Enter on a row lists its keywords below, gaps by what a new page of yours could win.',
  time: 'Keywords, visits and advertising by month, several sites together; a jump can be opened.',
  who: 'Sites that stand most often beside and above yours, by kind: accept them as rivals or set them aside.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'rivals',
    title: 'Rivals',
    says: [
      'Where do rivals get their visits, which of that could you have, and what comes first? Type any site, host, folder or page into the bar; up to ten are compared.',
      'Figures come from the results that you fetched and from the rankings feed; the line above says of how many keywords, of which day and from which source. What nobody knows of a site is said, with how to get it.',
    ],
    tabs,
    parts,
  },
]
export default help
