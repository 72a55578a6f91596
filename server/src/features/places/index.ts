import type { Feature } from '../../feature.ts'
import { placesJob } from './job.ts'
import { placesKind } from './read-grids.ts'
import { mountPlaces } from './routes.ts'
import { scheduledRun } from './scheduled-run.ts'
import { undoChangePlaceGrid, undoCreatePlaceGrid, undoRemovePlace } from './undo.ts'

export const placesFeature: Feature = {
  mount: mountPlaces,
  jobs: { places: placesJob },
  schedules: { [placesKind]: scheduledRun },
  undo: {
    createPlaceGrid: undoCreatePlaceGrid,
    changePlaceGrid: undoChangePlaceGrid,
    removePlace: undoRemovePlace,
  },
}
