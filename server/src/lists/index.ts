import type { Feature } from '../feature.ts'
import { mountLists } from './routes.ts'

export const listsFeature: Feature = {
  mount: mountLists,
}
