import type { Feature } from '../../feature.ts'
import { mountSources } from './routes.ts'

export const sourcesFeature: Feature = {
  mount: mountSources,
}
