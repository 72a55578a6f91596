import type { Feature } from '../../feature.ts'
import { mountFinds } from './routes.ts'
import {
  undoPutOnFindList,
  undoRemarkFind,
  undoRemoveFindList,
  undoRenameFindList,
  undoTakeOffFindList,
} from './undo.ts'

export const findsFeature: Feature = {
  mount: mountFinds,
  undo: {
    putOnFindList: undoPutOnFindList,
    takeOffFindList: undoTakeOffFindList,
    removeFindList: undoRemoveFindList,
    renameFindList: undoRenameFindList,
    remarkFind: undoRemarkFind,
  },
}
