import type { Feature } from '../feature.ts'
import { mountPlan } from './routes.ts'

export const planFeature: Feature = {
  mount: mountPlan,
}
