import type { ScreenHelp } from '../../feature.ts'
import { tabs } from './use-place.ts'

const parts: Record<keyof typeof tabs, string> = {
  map: 'The town with a hexagon at each point: the position there, and by arrows and Enter the list that a searcher there sees.',
  points: 'The same points as a table.',
  strongholds: 'Who stands first where, and points where the first three are weak or far away.',
  runs: 'Figures of every run, over time.',
  doubtful: 'Businesses on the map that may not be what they say, with the reasons; write down what you reported.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'places',
    title: 'Places',
    says: [
      'In a town the results depend on where one stands. Lay a grid over the town, say for which keyword and which businesses, and run it: each point is asked once.',
      'The mean position counts every point that was asked; points that you leave out, such as those in the sea, count nowhere.',
    ],
    tabs,
    parts,
  },
]
export default help
