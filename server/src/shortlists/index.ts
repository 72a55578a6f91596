import type { Feature } from '../feature.ts'
import { mountShortlists } from './routes.ts'

export const shortlistsFeature: Feature = {
  mount: mountShortlists,
}
