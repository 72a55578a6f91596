import type { Feature } from '../../feature.ts'
import { mountRivals, undoRival } from './routes.ts'

export const rivalsFeature: Feature = {
  mount: mountRivals,
  undo: { rival: undoRival },
}
