import type { ScreenHelp } from '../../feature.ts'
import { tabs, type Tab } from './LinksBar.tsx'

const parts: Record<Tab, string> = {
  profile: 'How many link, how strong they are, how natural it looks and how it grew, sites side by side.',
  sites: 'Linking sites with standing, trust, what they link to and what to look at.',
  links:
    'Every link with its page, anchor, region and days. V reads the linking page now and tells whether the link is there.',
  anchors: 'The words of the links, and how they are spread.',
  pages: 'Linked pages, by what links give them; broken ones that still get links.',
  several: 'Sites that link to several of the compared ones and not to you.',
  suspicious: 'Links that look made, with the reasons and what to do.',
  prospects: 'Sites that a link is wanted from: state, owner, next day, and whether the link came.',
  ranking: 'All sites of the graph by standing.',
  lists: 'Sites, pages and links that somebody put aside.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'links',
    title: 'Links',
    says: [
      'Who links to whom, what is it worth, and what to do about it. Links come from feeds, from crawls and from files; the same link known by several of them is one.',
      'Standing, 0 to 100, is how much weight links give a site over the whole graph; trust is how much of it comes from sites that somebody vouches for; doubt is the part that trust does not explain.',
    ],
    tabs,
    parts,
  },
]
export default help
