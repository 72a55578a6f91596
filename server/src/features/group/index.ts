import type { Feature } from '../../feature.ts'
import { takeBackThemes } from './take-back-themes.ts'
import { importThemesJob } from './import-themes-job.ts'
import { groupJob } from './job.ts'
import { mountGroup } from './routes.ts'
import {
  undoChangeGrouping,
  undoChangeTheme,
  undoChooseThemes,
  undoMoveToTheme,
  undoPlanThemes,
  undoRemoveGrouping,
  undoSetCurrent,
} from './undo.ts'

export const groupFeature: Feature = {
  mount: mountGroup,
  jobs: { group: groupJob },
  importers: { themes: importThemesJob },
  takeBacks: { themes: takeBackThemes },
  undo: {
    moveToTheme: undoMoveToTheme,
    changeTheme: undoChangeTheme,
    chooseThemes: undoChooseThemes,
    changeGrouping: undoChangeGrouping,
    setCurrentGrouping: undoSetCurrent,
    removeGrouping: undoRemoveGrouping,
    planThemes: undoPlanThemes,
  },
}
