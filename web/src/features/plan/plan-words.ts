import type { KeywordSpot, PageState, WorkKind } from '@dew-trail/contract/plan'
import type { MapFlag } from '@dew-trail/contract/site-map'

export const stateLabels: Record<PageState | 'late', string> = {
  idea: 'Idea',
  writing: 'Writing',
  published: 'Published',
  late: 'Late',
}
export const kindLabels: Record<WorkKind, string> = {
  new: 'New page',
  keep: 'Leave as it is',
  rework: 'Rework',
  merge: 'Put into another',
  remove: 'Take away',
}
export const spotLabels: Record<KeywordSpot, string> = { title: 'Title', heading: 'Heading', text: 'Text' }
export const flagLabels: Record<MapFlag, string> = {
  late: 'late',
  competes: 'competing',
  wrongPage: 'where the wrong page stands',
  noTheme: 'no theme yet',
  noLinks: 'no own page links here',
  gone: 'gone when it was read',
}
export const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
export const tabs = {
  map: 'Site map',
  list: 'List',
  board: 'Board',
  calendar: 'Calendar',
  first: 'What first',
} as const
export type Tab = keyof typeof tabs
