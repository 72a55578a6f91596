import type { Feature } from '../../feature.ts'
import { mountViews } from './routes.ts'

export const viewsFeature: Feature = {
  mount: mountViews,
}
