import type { Feature } from '../../feature.ts'
import { mountLists } from './routes.ts'
import { undoChangeList, undoRemoveList, undoRenameList, undoValueLabel } from './undo.ts'

export const listsFeature: Feature = {
  mount: mountLists,
  undo: {
    changeList: undoChangeList,
    renameList: undoRenameList,
    removeList: undoRemoveList,
    valueLabel: undoValueLabel,
  },
}
