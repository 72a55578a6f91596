import type { ScreenHelp } from '../../feature.ts'
import { tabs } from './TrackBar.tsx'

const parts: Record<keyof typeof tabs, string> = {
  positions:
    'Every tracked keyword with its position now and before, the page found and its history. Positions move a little by themselves: only what is beyond that is called a change.',
  changes:
    'What moved since a day, what it cost or brought in visits, and the likely reason of each; below, whether what you did helped.',
  voice: 'Who gets the visits of your tracked keywords, site by site, day by day, by theme and by label.',
  pages: 'Your own pages that are found, with what they bring.',
  alerts: 'What a rule told of after a check, and the rules: by screen, by mail, as a feed.',
  sites: 'All sites of this program at a glance.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'track',
    title: 'Track',
    says: [
      'Follow positions over months. Say which keywords, in which markets, at which hour; checks then run by themselves. "Not found" means not within the depth that was looked down to, which is not the same as not checked.',
      'Visibility weighs each position by its clicks and its searches: 100 would be the first place for everything. Write a note on a day on which something happened, and it stands on every line.',
    ],
    tabs,
    parts,
  },
]
export default help
