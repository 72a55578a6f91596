import type { Feature } from '../feature.ts'
import { mountSites } from './routes.ts'

export const sitesFeature: Feature = {
  mount: mountSites,
}
