import type { WebFeature } from './feature.ts'
import { actsFeature } from './features/acts/index.ts'
import { gatherFeature } from './features/gather/index.ts'
import { groupFeature } from './features/group/index.ts'
import { linksFeature } from './features/links/index.ts'
import { listsFeature } from './features/lists/index.ts'
import { peopleFeature } from './features/people/index.ts'
import { placesFeature } from './features/places/index.ts'
import { planFeature } from './features/plan/index.ts'
import { reportsFeature } from './features/reports/index.ts'
import { rivalsFeature } from './features/rivals/index.ts'
import { sitesFeature } from './features/sites/index.tsx'
import { sourcesFeature } from './features/sources/index.ts'
import { trackFeature } from './features/track/index.ts'
import { weighFeature } from './features/weigh/index.ts'

/** All parts of the program: a new one is a folder and a line here. Actions on keywords are offered in this order. */
export const features: readonly WebFeature[] = [
  gatherFeature,
  weighFeature,
  groupFeature,
  planFeature,
  trackFeature,
  listsFeature,
  rivalsFeature,
  linksFeature,
  placesFeature,
  reportsFeature,
  sourcesFeature,
  sitesFeature,
  actsFeature,
  peopleFeature,
]

export const keywordActions = features.flatMap(each => each.keywordActions ?? [])
export const destinations = features.flatMap(each => each.destinations ?? []).sort((a, b) => a.order - b.order)
export const paletteActions = features.flatMap(each => each.palette ?? [])
/** What screens are for, loaded when somebody asks. */
export const screenHelp = async () =>
  (await Promise.all(features.map(each => each.help?.()))).flatMap(each => each?.default ?? [])
