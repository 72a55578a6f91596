import type { Feature } from '../feature.ts'
import { mountNotes } from './routes.ts'

export const notesFeature: Feature = {
  mount: mountNotes,
}
