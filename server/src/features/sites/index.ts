import type { Feature } from '../../feature.ts'
import { undoBrands } from './set-brands.ts'
import { mountSites } from './routes.ts'

export const sitesFeature: Feature = {
  mount: mountSites,
  undo: { brands: undoBrands },
}
